import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { rowOf } from '../../columns/block.ts'
import { KIND_CODE, TRAIT_BIT } from '../../columns/event-codes.ts'
import { firstText } from '../../labels/first-text.ts'
import type { Names } from '../../labels/names.ts'
import { IDLE_MS } from '../../select/engaged-time.ts'
import { addCounts, addOne } from '../../stats/counts.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'
import { eachView } from '../../columns/each-view.ts'

/** Parts that a page is cut into from top to bottom, all as high. */
export const BANDS = 50

interface ElementSeen {
  text: string
  interactive: boolean
  /** views in which it came into view, and those of them in which it was clicked */
  seen: number
  clicked: number
  /** where it began, CSS px from the top: sum over the views that told */
  yTotal: number
  yTold: number
}

interface ReachFound {
  views: number
  /** views that told how far they went, and by band for how many of them it was the deepest */
  measured: number
  deepest: Float64Array
  /** views of which it is known what was on screen when, and by band how long it was, in ms */
  attended: number
  inViewMs: Float64Array
  /** by height of the window, CSS px, how many views */
  heights: Map<number, number>
  /** views that told what they saw */
  telling: number
  elements: Map<string, ElementSeen>
}

/** Most elements that are listed. */
const MOST_ELEMENTS = 300

const answerSchema = z.object({
  views: countSchema,
  measured: countSchema.describe('views that told how far they went'),
  bands: z
    .array(
      z.object({
        reached: countSchema.describe('views that saw it as far as its middle, of the measured'),
        seconds: z.number().nullable().describe('in view on average, for each view that told'),
      }),
    )
    .describe(`the page from top to bottom in ${BANDS} parts of the same height`),
  attended: countSchema.describe('views of which it is known what was on screen when'),
  folds: z
    .array(z.object({ of: z.number(), px: z.number() }))
    .describe('how high the windows are: share of the views with a lower one, CSS px'),
  telling: countSchema.describe('views that told which elements came into view'),
  elements: z.array(
    z.object({
      selector: z.string(),
      text: z.string(),
      interactive: z.boolean(),
      seen: rateSchema.describe('views in which it came into view, of those that tell'),
      clicked: countSchema.describe('of these, those in which it was clicked'),
      y: z.number().nullable().describe('where it begins on average, CSS px from the top'),
    }),
  ),
})
export type ReachAnswer = z.output<typeof answerSchema>

/**
 * How far down one page people come, how long each part of it is in view, and which elements they ever see.
 *
 * A view's depth is the deepest point that its scroll lines tell (share of the page's height). In view is what lies between
 * the window's upper edge and its lower one after the last scroll line; time counts between one event of the view and the
 * next, for IDLE_MS at most, and not while the tab is hidden. Where the height of the window or its place are not known
 * (imports), depth is told and attention is not.
 */
export const reach = question({
  name: 'reach',
  summary: 'how far down a page people come, how long its parts are in view, which elements they see',
  asked: z.strictObject({ page: z.string().describe('page group') }),
  answer: answerSchema,
  example: { page: '/' },

  scan(block, sessions, { page, names }): ReachFound {
    const group = names.groups.find(page)
    const { groupOf } = names.groups
    const found: ReachFound = {
      ...{ views: 0, measured: 0, deepest: new Float64Array(BANDS) },
      ...{ attended: 0, inViewMs: new Float64Array(BANDS), heights: new Map() },
      ...{ telling: 0, elements: new Map() },
    }
    for (const s of sessions)
      eachView(block, s, (event, end) => {
        if (groupOf[block.events.page[event]!] === group) addView(found, block, s, event, end, names)
      })
    return found
  },

  merge(a, b) {
    const sum = (one: Float64Array, other: Float64Array) => one.map((value, k) => value + other[k]!)
    const elements = new Map(a.elements)
    for (const [selector, other] of b.elements) {
      const one = elements.get(selector)
      elements.set(selector, one ? together(one, other) : other)
    }
    return {
      views: a.views + b.views,
      measured: a.measured + b.measured,
      deepest: sum(a.deepest, b.deepest),
      attended: a.attended + b.attended,
      inViewMs: sum(a.inViewMs, b.inViewMs),
      heights: addCounts(new Map(a.heights), b.heights),
      telling: a.telling + b.telling,
      elements,
    }
  },

  finish({ views, measured, deepest, attended, inViewMs, heights, telling, elements }) {
    let reached = 0
    const bands = Array.from({ length: BANDS }, (_, k) => {
      const band = BANDS - 1 - k
      reached += deepest[band]!
      return { reached, seconds: attended ? inViewMs[band]! / attended / 1000 : null }
    }).reverse()
    const listed = [...elements]
      .map(([selector, { text, interactive, seen, clicked, yTotal, yTold }]) => ({
        ...{ selector, text, interactive, seen: rate(seen, telling), clicked },
        y: yTold ? Math.round(yTotal / yTold) : null,
      }))
      .sort((a, b) => (a.y ?? Infinity) - (b.y ?? Infinity) || (a.selector < b.selector ? -1 : 1))
    return {
      ...{ views, measured, bands, attended, telling },
      folds: quantilesOf(heights, [0.1, 0.25, 0.5, 0.75, 0.9]),
      elements: listed.slice(0, MOST_ELEMENTS),
    }
  },

  table: ({ bands, measured }) =>
    bands.map(({ reached, seconds }, k) => ({
      from: k / BANDS,
      to: (k + 1) / BANDS,
      reached,
      of: measured,
      seconds,
    })),
})

function addView(
  found: ReachFound,
  { events, measures, points, sessions }: Block,
  s: number,
  event: number,
  end: number,
  names: Names,
): void {
  const { kind, atMs, traits } = events
  const windowPx = sessions.height[s]!
  let depth = -1
  let tells = false
  /** what is on screen, as shares of the page's height; undefined = not known */
  let screen: [from: number, to: number] | undefined
  let hidden = false
  let attended = false
  const clicked = new Set<string>()
  /** the members of a family are many elements that do one thing: one of them is enough */
  const inView = new Set<ElementSeen>()
  found.views++
  for (let i = event; i < end; i++) {
    if (screen && !hidden && i > event) {
      attended = true
      addTime(found.inViewMs, screen, Math.min(IDLE_MS, atMs[i]! - atMs[i - 1]!))
    }
    switch (kind[i]) {
      case KIND_CODE.scroll: {
        const row = rowOf(events.hasMeasure, events.measuresBefore, i)
        const to = measures.number[row]!
        const top = measures.detail[row]!
        depth = Math.max(depth, to)
        const pagePx = (top + windowPx) / to
        screen = windowPx > 0 && pagePx > 0 ? [top / pagePx, to] : undefined
        break
      }
      case KIND_CODE.hide:
        hidden = true
        break
      case KIND_CODE.show:
        hidden = false
        break
      case KIND_CODE.seen: {
        tells = true
        const element = elementOf(found, i, events, names)
        if (!inView.has(element)) element.seen++
        inView.add(element)
        if (traits[i]! & TRAIT_BIT.interactive) element.interactive = true
        const row = rowOf(events.hasPoint, events.pointsBefore, i)
        if (row < 0 || Number.isNaN(points.y[row]!)) break
        element.yTotal += points.y[row]!
        element.yTold++
        break
      }
      case KIND_CODE.click:
        clicked.add(names.families.names[names.families.familyOf[events.target[i]!]!]!)
    }
  }
  // The view ends where the next one begins.
  if (screen && !hidden && end < sessions.firstEvent[s + 1]! && kind[end - 1] !== KIND_CODE.leave) {
    attended = true
    addTime(found.inViewMs, screen, Math.min(IDLE_MS, atMs[end]! - atMs[end - 1]!))
  }
  if (depth >= 0) {
    found.measured++
    // The deepest band whose middle was reached; a view that did not get there saw none as far as its middle.
    const band = Math.floor(depth * BANDS - 0.5 + 1e-9)
    if (band >= 0) found.deepest[Math.min(BANDS - 1, band)]!++
  }
  if (attended) found.attended++
  if (windowPx) addOne(found.heights, windowPx)
  if (!tells) return
  found.telling++
  for (const selector of clicked) {
    const element = found.elements.get(selector)
    if (element && inView.has(element)) element.clicked++
  }
}

function elementOf(
  found: ReachFound,
  i: number,
  { target, text }: Block['events'],
  names: Names,
): ElementSeen {
  const selector = names.families.names[names.families.familyOf[target[i]!]!]!
  const words = names.dictionaries.text.values[text[i]!]!
  let element = found.elements.get(selector)
  if (!element) {
    element = { text: words, interactive: false, seen: 0, clicked: 0, yTotal: 0, yTold: 0 }
    found.elements.set(selector, element)
  } else element.text = firstText(element.text, words)
  return element
}

function together(a: ElementSeen, b: ElementSeen): ElementSeen {
  return {
    text: firstText(a.text, b.text),
    interactive: a.interactive || b.interactive,
    seen: a.seen + b.seen,
    clicked: a.clicked + b.clicked,
    yTotal: a.yTotal + b.yTotal,
    yTold: a.yTold + b.yTold,
  }
}

/** Adds a time to each band, as much of it as was on screen. */
function addTime(inViewMs: Float64Array, [from, to]: readonly [number, number], ms: number): void {
  for (let band = Math.max(0, Math.floor(from * BANDS)); band < BANDS && band < to * BANDS; band++)
    inViewMs[band]! += ms * Math.max(0, Math.min(to * BANDS, band + 1) - Math.max(from * BANDS, band))
}

/** Of counted values those below which such shares of them lie; none where nothing was counted. */
function quantilesOf(counts: ReadonlyMap<number, number>, shares: readonly number[]) {
  const sorted = [...counts].sort(([a], [b]) => a - b)
  const total = sorted.reduce((sum, [, n]) => sum + n, 0)
  if (!total) return []
  return shares.map((of) => {
    let before = 0
    const [px] = sorted.find(([, n]) => (before += n) >= of * total)!
    return { of, px }
  })
}
