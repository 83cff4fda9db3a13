import { z } from 'zod'
import { numberTestSchema } from '../../labels/event-condition.ts'
import { fromParts, toParts } from '../../labels/money.ts'
import { sessionNumbers } from '../../select/attributes.ts'
import { goalMs, mainGoal } from '../../select/goal-times.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { numberTester } from '../../select/predicates.ts'
import { selectSessions } from '../../select/sessions.ts'
import { STRAIN_PARTS } from '../../signals/strain.ts'
import { countSchema } from '../../stats/rate.ts'
import { question, selectionNeeds } from '../question.ts'
import type { VisitorColumns } from './visitor-sums.ts'
import { mergeVisitors, VisitorSums } from './visitor-sums.ts'

/** By what visitors can be sorted and told apart. */
export const VISITOR_NUMBERS = [
  'sessions',
  'pages',
  'signals',
  'conversions',
  'value',
  'strain',
  'first',
  'last',
] as const
export type VisitorNumber = (typeof VISITOR_NUMBERS)[number]

interface VisitorsFound {
  /** while blocks are read */
  sums?: VisitorSums
  columns?: VisitorColumns
}

const answerSchema = z.object({
  total: countSchema.describe('visitors that are meant'),
  visitors: z.array(
    z.object({
      visitor: z.string(),
      sessions: countSchema,
      selected: countSchema.describe('sessions of the selection'),
      pages: countSchema,
      signals: countSchema,
      conversions: countSchema.describe('sessions that reached the main goal'),
      value: z.number().describe('what their actions were worth, in the currency of the site'),
      strain: z.number().describe('mean of their sessions, 0 to 100'),
      firstMs: z
        .number()
        .describe('when their first session and their last one began, milliseconds since 1970'),
      lastMs: z.number(),
      channel: z.string().describe('through which the first of these sessions came'),
    }),
  ),
})
export type VisitorsAnswer = z.infer<typeof answerSchema>
export type VisitorRow = VisitorsAnswer['visitors'][number]

/**
 * The visitors of a selection with what they did in all their sessions in the lens, in any order.
 * Complexity: sessions once; visitors are kept until the end, sorted there.
 */
export const visitors = question({
  name: 'visitors',
  summary: 'visitors with their sessions, pages, conversions, money, strain, when and whence they came',
  asked: z.strictObject({
    selection: selectionSchema.describe(
      'a visitor is meant who has one of these sessions; all of theirs are counted',
    ),
    having: z
      .array(z.strictObject({ of: z.enum(VISITOR_NUMBERS), is: numberTestSchema }))
      .max(10)
      .default([])
      .describe('only visitors of whom all of this holds, over all their sessions in the lens'),
    order: z.enum(VISITOR_NUMBERS).default('last'),
    descending: z.boolean().default(true),
    offset: countSchema.default(0),
    limit: countSchema.min(1).max(1000).default(100),
  }),
  answer: answerSchema,
  example: { selection: { type: 'everyone' }, order: 'value' },
  needs: selectionNeeds,
  adds: true,

  scan(block, among, spec, onto): VisitorsFound {
    const { names, selection } = spec
    const sums = onto?.sums ?? new VisitorSums(names.dictionaries.visitor.size)
    const selected = selectSessions(block, among, selection, names).sessions
    const values = sessionNumbers(block, 'value', names)
    const strain = sessionNumbers(block, 'strain', names)
    const reached = mainGoal(spec) ? goalMs(block, spec, 'first') : () => NaN
    const { visitor, startMs, channel, firstView, firstSignal } = block.sessions
    for (const s of among) {
      const row = sums.rowOf(visitor[s]!, startMs[s]!, channel[s]!)
      sums.add(row, 'sessions', 1)
      sums.add(row, 'pages', firstView[s + 1]! - firstView[s]!)
      sums.add(row, 'signals', firstSignal[s + 1]! - firstSignal[s]!)
      sums.add(row, 'parts', toParts(values[s]!) || 0)
      sums.add(row, 'strain', Math.round(strain[s]! * STRAIN_PARTS))
      if (!Number.isNaN(reached(s))) sums.add(row, 'conversions', 1)
      if (selected.has(s)) sums.add(row, 'selected', 1)
    }
    return { sums }
  },

  pack: packed,
  merge: (a, b) => ({ columns: mergeVisitors(packed(a).columns!, packed(b).columns!) }),

  finish(found, { names, having, order, descending, offset, limit }) {
    const columns = packed(found).columns!
    const { sums, firstMs, lastMs, visitor, channel } = columns
    const numberOf = (of: VisitorNumber) => reader(columns, of)
    const tests = having.map(({ of, is }) => ({ number: numberOf(of), test: numberTester(is) }))
    const meant = Array.from(visitor, (_, row) => row).filter(
      (row) => sums.selected[row]! > 0 && tests.every(({ number, test }) => test(number(row))),
    )
    const number = numberOf(order)
    const sign = descending ? -1 : 1
    // Codes are given in the order of arrival: names decide where numbers do not.
    const { visitor: words } = names.dictionaries
    meant.sort(
      (a, b) =>
        sign * (number(a) - number(b)) || (words.word(visitor[a]!) < words.word(visitor[b]!) ? -1 : 1),
    )
    return {
      total: meant.length,
      visitors: meant.slice(offset, offset + limit).map((row) => ({
        visitor: words.word(visitor[row]!),
        sessions: sums.sessions[row]!,
        selected: sums.selected[row]!,
        pages: sums.pages[row]!,
        signals: sums.signals[row]!,
        conversions: sums.conversions[row]!,
        value: fromParts(sums.parts[row]!),
        strain: meanStrain(columns, row),
        ...{ firstMs: firstMs[row]!, lastMs: lastMs[row]! },
        channel: names.dictionaries.channel.word(channel[row]!),
      })),
    }
  },

  table: ({ visitors: rows }) => rows,
})

function packed({ sums, columns }: VisitorsFound): VisitorsFound {
  return { columns: columns ?? sums!.columns() }
}

function meanStrain({ sums }: VisitorColumns, row: number): number {
  return Math.round(sums.strain[row]! / sums.sessions[row]!) / STRAIN_PARTS
}

function reader(columns: VisitorColumns, of: VisitorNumber): (row: number) => number {
  const { sums, firstMs, lastMs } = columns
  switch (of) {
    case 'value':
      return (row) => fromParts(sums.parts[row]!)
    case 'strain':
      return (row) => meanStrain(columns, row)
    case 'first':
      return (row) => firstMs[row]!
    case 'last':
      return (row) => lastMs[row]!
    default:
      return (row) => sums[of][row]!
  }
}
