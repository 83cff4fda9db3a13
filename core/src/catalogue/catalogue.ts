import { KIND } from '../events/loose.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'

export interface CatalogueSpec {
  /** elements listed: enough to choose from, few enough to read */
  mostElements: number
  names: Names
}

interface PageCount {
  sessions: number
  clicks: number
}

interface ElementCount {
  group: number
  family: number
  /** text code: see firstText */
  text: number
  sessions: number
}

export interface CataloguePartial {
  sessions: number
  /** by page group */
  pages: Map<number, PageCount>
  /** "group/family" -> */
  elements: Map<string, ElementCount>
}

export interface CatalogueResult {
  sessions: number
  pages: ({ page: string; pattern: string } & PageCount)[]
  elements: { page: string; selector: string; text: string; sessions: number }[]
}

/** Pages that were seen and elements that were clicked, by sessions: what steps and goals can be made of. */
export const catalogue: Analysis<CatalogueSpec, CataloguePartial, CatalogueResult> = {
  scan(block, sessions, { names }) {
    const { kind, page, target, text } = block.events
    const partial: CataloguePartial = { sessions: 0, pages: new Map(), elements: new Map() }
    for (const s of sessions) {
      partial.sessions++
      const seen = new Set<number | string>()
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        if (kind[i] !== KIND.page && kind[i] !== KIND.click) continue
        const group = names.groups.groupOf[page[i]!]!
        let pageCount = partial.pages.get(group)
        if (!pageCount) partial.pages.set(group, (pageCount = { sessions: 0, clicks: 0 }))
        if (kind[i] === KIND.page) {
          if (!seen.has(group)) pageCount.sessions++
          seen.add(group)
          continue
        }
        pageCount.clicks++
        const family = names.families.familyOf[target[i]!]!
        const key = `${group}/${family}`
        let element = partial.elements.get(key)
        if (!element) partial.elements.set(key, (element = { group, family, text: 0, sessions: 0 }))
        element.text = firstText(element.text, text[i]!)
        if (!seen.has(key)) element.sessions++
        seen.add(key)
      }
    }
    return partial
  },

  merge(a, b) {
    a.sessions += b.sessions
    for (const [group, { sessions, clicks }] of b.pages) {
      const own = a.pages.get(group)
      if (own) {
        own.sessions += sessions
        own.clicks += clicks
      } else a.pages.set(group, { sessions, clicks })
    }
    for (const [key, element] of b.elements) {
      const own = a.elements.get(key)
      if (own) {
        own.sessions += element.sessions
        own.text = firstText(own.text, element.text)
      } else a.elements.set(key, element)
    }
    return a
  },

  finish({ sessions, pages, elements }, { names, mostElements }) {
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
        .slice(0, mostElements),
    }
  },
}

/** Of two texts of an element, as codes, the one that was captured first; 0 = none. The same whoever met it first. */
function firstText(a: number, b: number): number {
  return a && b ? Math.min(a, b) : a || b
}

/** All addresses that were seen, by how many sessions and how often; most seen first. */
export const urls: Analysis<
  { names: Names },
  Map<number, { sessions: number; views: number }>,
  { path: string; sessions: number; views: number }[]
> = {
  scan({ sessions: { firstView }, views }, sessions) {
    const counts = new Map<number, { sessions: number; views: number }>()
    sessions.forEach((s) => {
      const seen = new Set<number>()
      for (let v = firstView[s]!; v < firstView[s + 1]!; v++) {
        const page = views.page[v]!
        let own = counts.get(page)
        if (!own) counts.set(page, (own = { sessions: 0, views: 0 }))
        own.views++
        if (!seen.has(page)) own.sessions++
        seen.add(page)
      }
    })
    return counts
  },
  merge(a, b) {
    for (const [page, { sessions, views }] of b) {
      const own = a.get(page)
      if (own) {
        own.sessions += sessions
        own.views += views
      } else a.set(page, { sessions, views })
    }
    return a
  },
  finish(counts, { names }) {
    const { values } = names.dictionaries.page
    return [...counts]
      .map(([page, own]) => ({ path: values[page]!, ...own }))
      .sort((a, b) => b.sessions - a.sessions || (a.path < b.path ? -1 : 1))
  },
}
