import { pathPattern } from './page-groups.ts'

/** A rule that several addresses have in common, and how many addresses and sessions it would hold together. */
export interface Suggestion {
  pattern: string
  pages: number
  sessions: number
  examples: string[]
}

/** Addresses that differ in one part by more values than this are one page with many entries. */
const MANY = 4

/** Parts of an address that name one thing among many: numbers, dates, long ids. */
const ID = /^(?:\d+|\d{4}-\d{2}-\d{2}|[0-9a-f]{8,}|[0-9a-f]{8}-[0-9a-f-]{27})$/i

/**
 * Page groups that the shape of addresses suggests: those that are alike but for a part that is a number, a date or an
 * id, or that takes many values in the same place. The most sessions first. Common practice, no source.
 */
export function suggestPatterns(
  pages: readonly { path: string; sessions: number }[],
  taken: readonly string[] = [],
): Suggestion[] {
  const tests = taken.map(pathPattern)
  const free = pages.filter(({ path }) => path !== '/' && !tests.some((test) => test.test(path)))
  /** "/nights/\n/2" -> values at place 2 of addresses that begin and go on so */
  const places = new Map<string, Set<string>>()
  const keyOf = (parts: readonly string[], place: number) =>
    JSON.stringify([parts.length, place, parts.filter((_, i) => i !== place)])
  const split = free.map(({ path, sessions }) => ({ path, sessions, parts: path.slice(1).split('/') }))
  for (const { parts } of split)
    parts.forEach((part, place) => {
      const key = keyOf(parts, place)
      let values = places.get(key)
      if (!values) places.set(key, (values = new Set<string>()))
      values.add(part)
    })
  const found = new Map<string, Suggestion>()
  for (const { path, sessions, parts } of split) {
    // The first part says what kind of page it is; only what follows may be one among many.
    const general = parts.map((part, place) =>
      ID.test(part) || (place > 0 && places.get(keyOf(parts, place))!.size > MANY) ? ':id' : part,
    )
    if (!general.includes(':id')) continue
    const pattern = `/${general.join('/')}`
    let suggestion = found.get(pattern)
    if (!suggestion) found.set(pattern, (suggestion = { pattern, pages: 0, sessions: 0, examples: [] }))
    suggestion.pages++
    suggestion.sessions += sessions
    if (suggestion.examples.length < 3) suggestion.examples.push(path)
  }
  return [...found.values()]
    .filter(({ pages: n }) => n > 1)
    .sort((a, b) => b.sessions - a.sessions || (a.pattern < b.pattern ? -1 : 1))
}
