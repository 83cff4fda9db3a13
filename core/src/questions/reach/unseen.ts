import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { KIND_CODE, TRAIT_BIT } from '../../columns/event-codes.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'
import { eachView } from './views.ts'

/** Below this share of views an element counts as one that few see. */
const FEW = 0.5
/** With fewer views a share says little. */
const LEAST_VIEWS = 50
const MOST_LISTED = 100

interface Seen {
  group: number
  family: number
  text: string
  seen: number
  clicked: number
}

interface UnseenFound {
  /** by page group the views that told what came into view */
  telling: Map<number, number>
  /** by page group and family of elements */
  elements: Map<string, Seen>
}

/**
 * Calls to action that few ever see: elements meant to be worked with that came into view in less than half of the views of
 * their page. Those come first whose lack of sight costs most clicks, if the others clicked as often as those who saw them
 * do; they can differ in more than that.
 */
export const unseen = question({
  name: 'unseen',
  summary: 'calls to action that came into view in less than half of the views of their page',
  asked: z.strictObject({}),
  answer: z.object({
    measured: z.boolean().describe('whether any view told what came into view: if not, nothing is known'),
    elements: z.array(
      z.object({
        page: z.string(),
        selector: z.string(),
        text: z.string(),
        seen: rateSchema.describe('views in which it came into view'),
        clicked: rateSchema.describe('of these, those in which it was clicked'),
        missed: z.number().describe('clicks more, if the other views clicked as often'),
      }),
    ),
    more: countSchema.describe('beyond those that are listed'),
  }),
  example: {},

  scan(block, sessions, { names }): UnseenFound {
    const { events } = block
    const { groupOf } = names.groups
    const { familyOf } = names.families
    const found: UnseenFound = { telling: new Map(), elements: new Map() }
    const inView: Seen[] = []
    for (const s of sessions)
      eachView(block, s, (event, end) => {
        const group = groupOf[events.page[event]!]!
        inView.length = 0
        let tells = false
        for (let i = event; i < end; i++) {
          if (events.kind[i] !== KIND_CODE.seen) continue
          tells = true
          if (!(events.traits[i]! & TRAIT_BIT.interactive) || events.traits[i]! & TRAIT_BIT.field) continue
          const family = familyOf[events.target[i]!]!
          // The members of a family are many buttons that do one thing: one of them is enough.
          if (inView.some((one) => one.family === family)) continue
          const text = names.dictionaries.text.values[events.text[i]!]!
          inView.push(seenAt(found, group, family, text))
        }
        if (!tells) return
        found.telling.set(group, (found.telling.get(group) ?? 0) + 1)
        for (const element of inView) {
          element.seen++
          if (isClicked(block, event, end, familyOf, element.family)) element.clicked++
        }
      })
    return found
  },

  merge(a, b) {
    const telling = new Map(a.telling)
    for (const [group, n] of b.telling) telling.set(group, (telling.get(group) ?? 0) + n)
    const elements = new Map(a.elements)
    for (const [key, other] of b.elements) {
      const one = elements.get(key)
      const text = one && one.text && (!other.text || one.text <= other.text) ? one.text : other.text
      elements.set(key, {
        ...other,
        text,
        seen: (one?.seen ?? 0) + other.seen,
        clicked: (one?.clicked ?? 0) + other.clicked,
      })
    }
    return { telling, elements }
  },

  finish({ telling, elements }, { names }) {
    const few = [...elements.values()]
      .map(({ group, family, text, seen, clicked }) => {
        const views = telling.get(group)!
        return {
          page: names.groups.names[group]!,
          selector: names.families.names[family]!,
          ...{ text, seen: rate(seen, views), clicked: rate(clicked, seen) },
          missed: ((views - seen) * clicked) / seen,
        }
      })
      .filter(({ seen, missed }) => seen.base >= LEAST_VIEWS && seen.hits < FEW * seen.base && missed > 0)
      .sort(
        (a, b) => b.missed - a.missed || a.page.localeCompare(b.page) || a.selector.localeCompare(b.selector),
      )
    return {
      measured: telling.size > 0,
      elements: few.slice(0, MOST_LISTED),
      more: Math.max(0, few.length - MOST_LISTED),
    }
  },

  table: ({ elements }) => elements,
})

function seenAt({ elements }: UnseenFound, group: number, family: number, text: string): Seen {
  const key = `${group}/${family}`
  let element = elements.get(key)
  if (!element) elements.set(key, (element = { group, family, text, seen: 0, clicked: 0 }))
  else if (text && (!element.text || text < element.text)) element.text = text
  return element
}

function isClicked(
  { events }: Block,
  event: number,
  end: number,
  familyOf: ArrayLike<number>,
  family: number,
): boolean {
  for (let i = event; i < end; i++)
    if (events.kind[i] === KIND_CODE.click && familyOf[events.target[i]!] === family) return true
  return false
}
