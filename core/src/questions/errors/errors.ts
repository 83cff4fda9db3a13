import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { errorPlaces, errorTexts, textProps } from '../../labels/errors.ts'
import { firstText } from '../../labels/first-text.ts'
import { addCounts, addOne } from '../../stats/counts.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

/** The property by which a site tells which release of itself a visitor had, on any line. */
export const RELEASE_PROP = 'release'

interface ErrorFound {
  message: string
  place: string
  /** one of the messages as it was */
  example: string
  /** what was being used when it came about, where that is known */
  element: string
  times: number
  sessions: number
  lastSession: number
  visitors: Set<number>
  /** sessions by value */
  pages: Map<string, number>
  browsers: Map<string, number>
  releases: Map<string, number>
  firstMs: number
  lastMs: number
}

interface ErrorsFound {
  sessions: number
  /** by message and place */
  errors: Map<string, ErrorFound>
}

const MOST = 500

const valuesSchema = z
  .array(z.object({ value: z.string().describe('"" = not known'), sessions: countSchema }))
  .describe('sessions by value, those with most first')

const answerSchema = z.object({
  sessions: countSchema,
  errors: z.array(
    z.object({
      message: z.string().describe('without what changes from one to the next, which stands as *'),
      place: z.string().describe('innermost functions and files, without lines and builds; "" = not known'),
      example: z.string().describe('one of the messages as it was sent'),
      element: z.string().describe('an element that was used just before; "" = not known'),
      met: rateSchema.describe('sessions that met it, of all'),
      visitors: countSchema,
      times: countSchema,
      pages: valuesSchema,
      browsers: valuesSchema,
      releases: valuesSchema.describe(`sessions by the property "${RELEASE_PROP}" that came last before it`),
      firstMs: z.number().describe('when it was met first and last within the lens, milliseconds since 1970'),
      lastMs: z.number(),
    }),
  ),
  more: countSchema.describe('errors beyond those that are listed'),
})
export type ErrorsAnswer = z.infer<typeof answerSchema>
export type ErrorGroup = ErrorsAnswer['errors'][number]

/** Script errors, those of the same fault as one: by message without what changes, and by where they came about. */
export const errors = question({
  name: 'errors',
  summary: 'script errors grouped by message and stack, with whom they met, where and since when',
  asked: z.strictObject({}),
  answer: answerSchema,
  example: {},

  adds: true,
  scan(block, sessions, { names }, onto): ErrorsFound {
    const found: ErrorsFound = onto ?? { sessions: 0, errors: new Map() }
    const { dictionaries, groups, families } = names
    const { kind, name, page, target, atMs } = block.events
    const { firstEvent, startMs, id, visitor, browser } = block.sessions
    const textOf = errorTexts(dictionaries.name)
    const placeOf = errorPlaces(block, dictionaries)
    const releaseOf = textProps(block, dictionaries.propKey.find(RELEASE_PROP), dictionaries.propText)
    for (const s of sessions) {
      found.sessions++
      for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
        if (kind[i] !== KIND_CODE.error) continue
        const error = errorOf(found, textOf(name[i]!), placeOf(i))
        error.example = firstText(error.example, dictionaries.name.word(name[i]!))
        error.element = firstText(error.element, families.names[families.familyOf[target[i]!]!]!)
        error.times++
        error.firstMs = Math.min(error.firstMs, startMs[s]! + atMs[i]!)
        error.lastMs = Math.max(error.lastMs, startMs[s]! + atMs[i]!)
        if (error.lastSession === id[s]) continue
        error.lastSession = id[s]!
        error.sessions++
        error.visitors.add(visitor[s]!)
        addOne(error.pages, groups.names[groups.groupOf[page[i]!]!]!)
        addOne(error.browsers, dictionaries.browser.word(browser[s]!))
        addOne(error.releases, releaseAt(block, s, i, releaseOf))
      }
    }
    return found
  },

  merge(a, b) {
    for (const [key, other] of b.errors) {
      const one = a.errors.get(key)
      a.errors.set(key, one ? together(one, other) : other)
    }
    a.sessions += b.sessions
    return a
  },

  finish({ sessions, errors: found }) {
    const worst = [...found.values()].sort(
      (a, b) =>
        b.sessions - a.sessions ||
        b.times - a.times ||
        a.message.localeCompare(b.message) ||
        a.place.localeCompare(b.place),
    )
    return {
      sessions,
      errors: worst.slice(0, MOST).map((one) => ({
        ...{ message: one.message, place: one.place, example: one.example, element: one.element },
        ...{ met: rate(one.sessions, sessions), visitors: one.visitors.size, times: one.times },
        ...{ pages: byMost(one.pages), browsers: byMost(one.browsers), releases: byMost(one.releases) },
        ...{ firstMs: one.firstMs, lastMs: one.lastMs },
      })),
      more: Math.max(0, worst.length - MOST),
    }
  },

  table: ({ errors: rows }) =>
    rows.map(({ pages, browsers, releases, ...row }) => ({
      ...row,
      ...{ pages: inCell(pages), browsers: inCell(browsers), releases: inCell(releases) },
    })),
})

/** What a session told last of its release, up to an event. */
function releaseAt(
  { sessions }: Block,
  s: number,
  event: number,
  releaseOf: (event: number) => string,
): string {
  for (let i = event; i >= sessions.firstEvent[s]!; i--) {
    const release = releaseOf(i)
    if (release) return release
  }
  return ''
}

function errorOf({ errors: found }: ErrorsFound, message: string, place: string): ErrorFound {
  const key = `${message}\n${place}`
  let error = found.get(key)
  if (!error) {
    error = {
      ...{ message, place, example: '', element: '', times: 0, sessions: 0, lastSession: NaN },
      ...{ visitors: new Set<number>(), pages: new Map(), browsers: new Map(), releases: new Map() },
      ...{ firstMs: Infinity, lastMs: -Infinity },
    }
    found.set(key, error)
  }
  return error
}

function together(a: ErrorFound, b: ErrorFound): ErrorFound {
  for (const one of b.visitors) a.visitors.add(one)
  return {
    ...a,
    example: firstText(a.example, b.example),
    element: firstText(a.element, b.element),
    times: a.times + b.times,
    sessions: a.sessions + b.sessions,
    pages: addCounts(a.pages, b.pages),
    browsers: addCounts(a.browsers, b.browsers),
    releases: addCounts(a.releases, b.releases),
    firstMs: Math.min(a.firstMs, b.firstMs),
    lastMs: Math.max(a.lastMs, b.lastMs),
  }
}

function byMost(counts: ReadonlyMap<string, number>): { value: string; sessions: number }[] {
  return [...counts]
    .map(([value, n]) => ({ value, sessions: n }))
    .sort((a, b) => b.sessions - a.sessions || a.value.localeCompare(b.value))
}

function inCell(values: readonly { value: string; sessions: number }[]): string {
  return values.map(({ value, sessions }) => `${value || 'not known'}: ${sessions}`).join('; ')
}
