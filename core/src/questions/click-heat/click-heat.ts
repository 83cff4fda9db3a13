import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { rowOf, viewsBefore } from '../../columns/block.ts'
import { FRICTION_BIT, KIND_CODE } from '../../columns/event-codes.ts'
import { goalEvent } from '../../select/goal-times.ts'
import { actTest } from '../../select/acts-on-page.ts'
import { CLICK_SORTS } from '../../select/grammar/conditions.ts'
import { addCounts, addOne } from '../../stats/counts.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

/** Where inside an element clicks fell: cells of a GRID × GRID raster, row by row, as [cell, clicks] pairs. */
export const GRID = 32

interface ElementFound {
  /** what stands on its members, with how many clicks each */
  texts: Map<string, number>
  clicks: number
  rage: number
  dead: number
  sessions: number
  /** of these, those that reached the main goal after their first click on it */
  converted: number
  /** sessions by the page group seen next after their first click on it; -1 = nothing further */
  next: Map<number, number>
  /** by exact selector, since each member of a family lies elsewhere */
  spots: Map<string, SpotFound>
}

interface SpotFound {
  cells: Map<number, number>
  /** clicks whose place inside the element is not known: "x,y" on the page */
  loose: Map<string, number>
}

interface ClickHeatFound {
  viewers: number
  views: number
  clickers: number
  elements: Map<string, ElementFound>
}

const elementSchema = z.object({
  selector: z.string().describe('family of elements'),
  text: z.string().describe('what stands on it; of a family with several texts the most clicked'),
  /** how many texts its members have */
  texts: countSchema,
  clicks: countSchema,
  rage: countSchema,
  dead: countSchema,
  rate: rateSchema.describe('sessions that clicked it, of those that saw the page'),
  converted: rateSchema.describe('of these, those that reached the main goal after their first click on it'),
  next: z
    .array(z.object({ page: z.string().nullable(), sessions: countSchema }))
    .describe('pages seen next after their first click on it; null = nothing'),
  /** the members of the family that were clicked, and where: [cell, clicks], and [x, y, clicks] on the page */
  spots: z.array(
    z.object({
      selector: z.string(),
      cells: z.array(z.tuple([countSchema, countSchema])),
      loose: z.array(z.tuple([z.number(), z.number(), countSchema])),
    }),
  ),
})
export type HeatElement = z.infer<typeof elementSchema>

/** Pages that are named as seen next. */
const MOST_NEXT = 5

/** Recordings of a page that are built of the same elements. */
const versionSchema = z.object({
  version: z.string().describe('hash of what the page is built of'),
  hash: z.string().describe('of the recording that most sessions saw'),
  sessions: countSchema,
  firstMs: z.number().describe('when it was recorded first and last, milliseconds since 1970'),
  lastMs: z.number(),
})
export type PageVersion = z.infer<typeof versionSchema>

const answerSchema = z.object({
  viewers: countSchema,
  views: countSchema.describe('views of the page by these sessions'),
  clickers: rateSchema,
  clicks: countSchema,
  elements: z.array(elementSchema),
  snapshot: z
    .object({ hash: z.string(), version: z.string(), sessions: countSchema, of: countSchema })
    .nullable()
    .default(null)
    .describe(
      'recorded page to show it on: of the version asked for, or of the one that most of these sessions saw; null where none was recorded',
    ),
  versions: z
    .array(versionSchema)
    .default([])
    .describe('in which the latest of these sessions saw the page, those that most saw first'),
})
export type ClickHeatAnswer = z.output<typeof answerSchema>

/**
 * Clicks on one page by element, with their place inside the element, so that they can be laid over the page at any
 * width. `which` keeps all clicks or those of some kind, or has gestures or rests of the pointer in their place.
 */
export const clickHeat = question({
  name: 'click-heat',
  summary: 'clicks on one page by element, with their place inside it',
  asked: z.strictObject({
    page: z.string(),
    which: z.enum(CLICK_SORTS),
    version: z.string().nullable().default(null).describe('of the page to show it on; null: the usual one'),
  }),
  answer: answerSchema,
  example: { page: '/', which: 'all' },

  scan(block, sessions, spec) {
    const { page: pageName, which, names } = spec
    const group = names.groups.find(pageName)
    const { kind, page, target, text, friction, hasPoint, pointsBefore } = block.events
    const { rx, ry, x, y } = block.points
    const lastGoal = goalEvent(block, spec, 'last')
    const isSuch = actTest(block, which, names)
    const found: ClickHeatFound = { viewers: 0, views: 0, clickers: 0, elements: new Map() }
    for (const s of sessions) {
      let saw = false
      /** the event with which each element was clicked first */
      const touched = new Map<string, number>()
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        if (names.groups.groupOf[page[i]!] !== group) continue
        if (kind[i] === KIND_CODE.page) {
          saw = true
          found.views++
        }
        if (kind[i] === KIND_CODE.click) saw = true
        if (!isSuch(i)) continue
        saw = true
        const selector = names.families.names[names.families.familyOf[target[i]!]!]!
        const element = elementOf(found.elements, selector)
        addCounts(element.texts, new Map([[names.dictionaries.text.values[text[i]!]!, 1]]))
        element.clicks++
        if (friction[i]! & FRICTION_BIT.rage) element.rage++
        if (friction[i]! & FRICTION_BIT.dead) element.dead++
        if (!touched.has(selector)) {
          touched.set(selector, i)
          element.sessions++
          addOne(element.next, nextPage(block, s, i, group, names.groups.groupOf))
        }
        const spot = spotOf(element.spots, names.dictionaries.target.values[target[i]!]!)
        const row = rowOf(hasPoint, pointsBefore, i)
        if (row < 0) continue
        if (Number.isNaN(rx[row]!) || Number.isNaN(ry[row]!)) {
          if (Number.isNaN(x[row]!) || Number.isNaN(y[row]!)) continue
          const place = `${Math.round(x[row]!)},${Math.round(y[row]!)}`
          spot.loose.set(place, (spot.loose.get(place) ?? 0) + 1)
          continue
        }
        const cell = cellOf(ry[row]!) * GRID + cellOf(rx[row]!)
        spot.cells.set(cell, (spot.cells.get(cell) ?? 0) + 1)
      }
      if (saw) found.viewers++
      if (!touched.size) continue
      found.clickers++
      const won = lastGoal(s)
      for (const [selector, event] of touched) if (won >= event) found.elements.get(selector)!.converted++
    }
    return found
  },

  merge(a, b) {
    const elements = new Map<string, ElementFound>()
    for (const [selector, element] of [...a.elements, ...b.elements]) {
      const into = elementOf(elements, selector)
      addCounts(into.texts, element.texts)
      into.clicks += element.clicks
      into.rage += element.rage
      into.dead += element.dead
      into.sessions += element.sessions
      into.converted += element.converted
      addCounts(into.next, element.next)
      for (const [exact, spot] of element.spots) {
        const target = spotOf(into.spots, exact)
        addCounts(target.cells, spot.cells)
        addCounts(target.loose, spot.loose)
      }
    }
    return {
      ...{ viewers: a.viewers + b.viewers, views: a.views + b.views },
      ...{ clickers: a.clickers + b.clickers, elements },
    }
  },

  finish(total, { names }) {
    const elements = [...total.elements].map(([selector, element]) => ({
      selector,
      text: [...element.texts].sort(([a, m], [b, n]) => n - m || a.localeCompare(b))[0]?.[0] ?? '',
      texts: element.texts.size,
      clicks: element.clicks,
      rage: element.rage,
      dead: element.dead,
      rate: rate(element.sessions, total.viewers),
      converted: rate(element.converted, element.sessions),
      next: [...element.next]
        .map(([group, n]) => ({ page: group < 0 ? null : names.groups.names[group]!, sessions: n }))
        .sort((a, b) => b.sessions - a.sessions || (a.page ?? '').localeCompare(b.page ?? ''))
        .slice(0, MOST_NEXT),
      spots: [...element.spots]
        .sort(([a], [b]) => a.localeCompare(b))
        .map(([exact, spot]) => ({
          selector: exact,
          cells: [...spot.cells].sort(([a], [b]) => a - b),
          loose: [...spot.loose].map(([place, n]): [number, number, number] => {
            const [x, y] = place.split(',').map(Number)
            return [x!, y!, n]
          }),
        })),
    }))
    return {
      viewers: total.viewers,
      views: total.views,
      clickers: rate(total.clickers, total.viewers),
      clicks: elements.reduce((sum, element) => sum + element.clicks, 0),
      elements: elements.sort((a, b) => b.clicks - a.clicks || a.selector.localeCompare(b.selector)),
    }
  },

  table: ({ elements }) =>
    elements.map(({ spots: _, next, ...element }) => ({
      ...element,
      next: next.map(({ page, sessions }) => `${page ?? 'nothing'}: ${sessions}`).join('; '),
    })),
})

/** The page group that a session views next after an event, this one left out; -1 where there is none. */
function nextPage(
  { sessions, views, events }: Block,
  s: number,
  event: number,
  group: number,
  groupOf: Uint32Array,
): number {
  for (let v = viewsBefore(events, event); v < sessions.firstView[s + 1]!; v++) {
    const next = groupOf[views.page[v]!]!
    if (views.event[v]! > event && next !== group) return next
  }
  return -1
}

function cellOf(share: number): number {
  return Math.min(GRID - 1, Math.floor(share * GRID))
}

function elementOf(elements: Map<string, ElementFound>, selector: string): ElementFound {
  let element = elements.get(selector)
  if (!element) {
    element = {
      ...{ texts: new Map(), clicks: 0, rage: 0, dead: 0, sessions: 0, converted: 0 },
      ...{ next: new Map(), spots: new Map() },
    }
    elements.set(selector, element)
  }
  return element
}

function spotOf(spots: Map<string, SpotFound>, selector: string): SpotFound {
  let spot = spots.get(selector)
  if (!spot) {
    spot = { cells: new Map(), loose: new Map() }
    spots.set(selector, spot)
  }
  return spot
}
