import { z } from 'zod'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { countSchema } from '../../stats/rate.ts'
import type { AnswerOf } from '../question.ts'
import { question } from '../question.ts'

/** Elements listed for steps to be made of: enough to choose from, few enough to read. */
const MOST_ELEMENTS = 200

interface PageCount {
  sessions: number
  clicks: number
}

interface ElementCount {
  /** index of the page group and of the element family */
  group: number
  family: number
  /** text code: see firstText */
  text: number
  sessions: number
}

interface CatalogueFound {
  sessions: number
  /** by page group */
  pages: Map<number, PageCount>
  /** by "group/family" */
  elements: Map<string, ElementCount>
}

/** Pages that were seen and elements that were clicked, by sessions: what steps and goals can be made of. */
export const catalogue = question({
  name: 'catalogue',
  summary: 'pages and clicked elements that a step can be made of, most seen first',
  asked: z.strictObject({}),
  answer: z.object({
    sessions: countSchema,
    pages: z.array(
      z.object({ page: z.string(), pattern: z.string(), sessions: countSchema, clicks: countSchema }),
    ),
    elements: z.array(
      z.object({ page: z.string(), selector: z.string(), text: z.string(), sessions: countSchema }),
    ),
  }),
  example: {},

  scan(block, sessions, { names }): CatalogueFound {
    const { kind, page, target, text } = block.events
    const found: CatalogueFound = { sessions: 0, pages: new Map(), elements: new Map() }
    for (const s of sessions) {
      found.sessions++
      const seen = new Set<number | string>()
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        if (kind[i] !== KIND_CODE.page && kind[i] !== KIND_CODE.click) continue
        const group = names.groups.groupOf[page[i]!]!
        let pageCount = found.pages.get(group)
        if (!pageCount) found.pages.set(group, (pageCount = { sessions: 0, clicks: 0 }))
        if (kind[i] === KIND_CODE.page) {
          if (!seen.has(group)) pageCount.sessions++
          seen.add(group)
          continue
        }
        pageCount.clicks++
        const family = names.families.familyOf[target[i]!]!
        const key = `${group}/${family}`
        let element = found.elements.get(key)
        if (!element) found.elements.set(key, (element = { group, family, text: 0, sessions: 0 }))
        element.text = firstText(element.text, text[i]!)
        if (!seen.has(key)) element.sessions++
        seen.add(key)
      }
    }
    return found
  },

  merge(a, b) {
    a.sessions += b.sessions
    for (const [group, { sessions, clicks }] of b.pages) {
      const page = a.pages.get(group)
      if (page) {
        page.sessions += sessions
        page.clicks += clicks
      } else a.pages.set(group, { sessions, clicks })
    }
    for (const [key, element] of b.elements) {
      const same = a.elements.get(key)
      if (same) {
        same.sessions += element.sessions
        same.text = firstText(same.text, element.text)
      } else a.elements.set(key, element)
    }
    return a
  },

  finish({ sessions, pages, elements }, { names }) {
    return {
      sessions,
      pages: [...pages]
        .map(([group, counts]) => ({
          page: names.groups.names[group]!,
          pattern: names.groups.patterns[group]!,
          ...counts,
        }))
        .sort((a, b) => b.sessions - a.sessions || a.page.localeCompare(b.page)),
      elements: [...elements.values()]
        .map(({ group, family, text, sessions: n }) => ({
          page: names.groups.names[group]!,
          selector: names.families.names[family]!,
          text: names.dictionaries.text.values[text]!,
          sessions: n,
        }))
        .sort(
          (a, b) =>
            b.sessions - a.sessions || a.selector.localeCompare(b.selector) || a.page.localeCompare(b.page),
        )
        .slice(0, MOST_ELEMENTS),
    }
  },

  table: ({ pages, elements }) => [
    ...pages.map((row) => ({ part: 'page', ...row })),
    ...elements.map((row) => ({ part: 'element', ...row })),
  ],
})

/** Of two texts of an element, as codes, the one that was captured first; 0 = none. The same in any order of blocks. */
function firstText(a: number, b: number): number {
  return a && b ? Math.min(a, b) : a || b
}

export type CatalogueAnswer = AnswerOf<typeof catalogue>
