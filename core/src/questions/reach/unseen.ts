import { z } from 'zod'
import { KIND_CODE, TRAIT_BIT } from '../../columns/event-codes.ts'
import { firstText } from '../../labels/first-text.ts'
import { addCounts, addOne } from '../../stats/counts.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'
import { eachView } from '../../columns/each-view.ts'

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
    /** of one view: what came into view, by family of elements, and the families that were clicked */
    const inView = new Map<number, Seen>()
    const clicked = new Set<number>()
    for (const s of sessions)
      eachView(block, s, (event, end) => {
        const group = groupOf[events.page[event]!]!
        inView.clear()
        clicked.clear()
        let tells = false
        for (let i = event; i < end; i++) {
          const family = familyOf[events.target[i]!]!
          if (events.kind[i] === KIND_CODE.click) clicked.add(family)
          if (events.kind[i] !== KIND_CODE.seen) continue
          tells = true
          if (!(events.traits[i]! & TRAIT_BIT.interactive) || events.traits[i]! & TRAIT_BIT.field) continue
          // The members of a family are many buttons that do one thing: one of them is enough.
          if (!inView.has(family))
            inView.set(family, seenAt(found, group, family, names.dictionaries.text.values[events.text[i]!]!))
        }
        if (!tells) return
        addOne(found.telling, group)
        for (const [family, element] of inView) {
          element.seen++
          if (clicked.has(family)) element.clicked++
        }
      })
    return found
  },

  merge(a, b) {
    const elements = new Map(a.elements)
    for (const [key, other] of b.elements) {
      const one = elements.get(key)
      elements.set(key, {
        ...other,
        text: firstText(one?.text ?? '', other.text),
        seen: (one?.seen ?? 0) + other.seen,
        clicked: (one?.clicked ?? 0) + other.clicked,
      })
    }
    return { telling: addCounts(new Map(a.telling), b.telling), elements }
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
  else element.text = firstText(element.text, text)
  return element
}
