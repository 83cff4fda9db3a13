import { z } from 'zod'
import { amountAt, rowOf } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { fromParts, toParts } from '../../labels/money.ts'
import { amountReader } from '../../select/amounts.ts'
import { countSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

interface Taken {
  actions: number
  /** in ten-thousandths: see labels/money.ts */
  parts: number
  counted: number
  countedParts: number
}

/**
 * What actions were worth, by the currency that was sent: what of it is counted in the site's currency, at the rate of its
 * day, and what is counted apart since no rate is given for it. Amounts are exact.
 */
export const money = question({
  name: 'money',
  summary: 'what actions were worth, by currency, and how much of it is counted in the currency of the site',
  asked: z.strictObject({}),
  answer: z.object({
    currencies: z.array(
      z.object({
        currency: z.string().nullable().describe('null = none was sent: the site’s own'),
        actions: countSchema,
        sum: z.number().describe('in that currency'),
        /** actions for whose day there is a rate */
        counted: countSchema,
        countedSum: z.number().describe('their worth in the currency of the site'),
      }),
    ),
  }),
  example: {},

  /** by code of the currency */
  scan(block, sessions, { names }): Map<number, Taken> {
    const { events, measures } = block
    const found = new Map<number, Taken>()
    const amount = amountReader(block, names)
    sessions.forEach((s) => {
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        if (events.kind[i] !== KIND_CODE.action) continue
        const row = rowOf(events.hasMeasure, events.measuresBefore, i)
        const parts = toParts(amountAt(block, i))
        if (row < 0 || Number.isNaN(parts)) continue
        const inOwn = toParts(amount(i))
        const isCounted = !Number.isNaN(inOwn)
        add(found, measures.currency[row]!, {
          ...{ actions: 1, parts },
          ...{ counted: isCounted ? 1 : 0, countedParts: isCounted ? inOwn : 0 },
        })
      }
    })
    return found
  },

  merge(a, b) {
    for (const [currency, taken] of b) add(a, currency, taken)
    return a
  },

  finish(found, { names }) {
    const { values } = names.dictionaries.currency
    return {
      currencies: [...found]
        .map(([code, { actions, parts, counted, countedParts }]) => ({
          currency: code ? values[code]! : null,
          ...{ actions, sum: fromParts(parts), counted, countedSum: fromParts(countedParts) },
        }))
        .sort((a, b) => b.actions - a.actions || ((a.currency ?? '') < (b.currency ?? '') ? -1 : 1)),
    }
  },

  table: ({ currencies }) => currencies,
})

function add(found: Map<number, Taken>, currency: number, taken: Taken): void {
  const before = found.get(currency)
  if (!before) {
    found.set(currency, { ...taken })
    return
  }
  before.actions += taken.actions
  before.parts += taken.parts
  before.counted += taken.counted
  before.countedParts += taken.countedParts
}
