import { textColumn, textValues } from '../conditions/sessions.ts'
import type { Bucket } from '../lens/calendar.ts'
import { bucketAt } from '../lens/calendar.ts'
import type { Analysis } from '../sets/analysis.ts'
import { addCounts } from '../sets/analysis.ts'
import { Growing } from '../stats/growing.ts'
import type { Interval } from '../stats/interval.ts'
import { wilson } from '../stats/interval.ts'
import { quantilesOf } from '../stats/quantile.ts'
import { Tally } from '../stats/tally.ts'
import type { Step } from './spec.ts'
import { stepName } from './spec.ts'
import type { FunnelOptions } from './options.ts'
import { DEFAULT_OPTIONS } from './options.ts'
import type { LeakKind } from './leak-kinds.ts'
import { LEAK_KINDS } from './leak-kinds.ts'
import type { Names } from './trace.ts'
import { depthsOf, funnelWalk, leakOf, leakReader } from './trace.ts'
import type { Visitors } from './visitors.ts'
import { eachVisitor, joinVisitors, readVisitors } from './visitors.ts'

export interface FunnelSpec {
  steps: readonly Step[]
  names: Names
  options?: FunnelOptions | undefined
  /** only how many: no leaks, no times; several times as fast */
  counts?: boolean | undefined
  /** what a trend is drawn over; needed with `trend` alone */
  buckets?: readonly Bucket[] | undefined
}

/** How many of each value reached how many steps: of value v and depth d at v × (steps + 1) + d. */
type Depths = Uint32Array

export interface FunnelPartial {
  total: Depths
  byValue: Depths
  /** by index of the bucket */
  overTime: Depths
  /** milliseconds from each step to the next, one for each that made it, in pieces */
  gapsMs: Float64Array[][]
  /** per step: leak as a number -> how many were lost that way */
  leaks: Map<number, number>[]
  /** by visitor code; only where visitors are counted */
  visitors: Visitors
  /** per step what is still growing, until it is packed: times to the next step, and leaks */
  growing?: { gapsMs: Growing; leaks: Tally }[] | undefined
}

export interface Rate {
  hits: number
  base: number
  /** null where the base is 0 */
  share: number | null
  interval: Interval
}

export interface LeakPart {
  kind: LeakKind
  /** name of the page they went back or on to; null for the other kinds */
  page: string | null
  sessions: number
}

export interface FunnelStepResult {
  name: string
  sessions: number
  /** of those who reached the step before; for the first step of all sessions looked at */
  ofPrevious: Rate
  /** of all who entered, that is who reached the first step */
  ofEntered: Rate
  /** sessions that reached this step and not the next; 0 at the last */
  lost: number
  leak: LeakPart[]
  /** how long those who went on took to the next step */
  toNext: { medianMs: number | null; p25Ms: number | null; p75Ms: number | null; histogram: number[] }
}

export interface FunnelResult {
  /** sessions looked at; visitors where these are counted, and so in all counts below */
  sessions: number
  entered: number
  converted: number
  steps: FunnelStepResult[]
  /** the same for each value, most entered first; only with `by` */
  byValue?: FunnelPart[] | undefined
  /** the same over time; only with `trend` */
  overTime?: FunnelPart[] | undefined
}

/** Counts of a part of those looked at. */
export interface FunnelPart {
  /** the value, "" where it is not known; the label of the day, week or month */
  label: string
  sessions: number
  entered: number
  converted: number
  /** of those who entered */
  conversion: Rate
  /** who reached each step */
  reached: number[]
}

/** Upper edges of the time bins, in seconds; the last bin is open. Equal ratios, since waiting times are skewed. */
export const TIME_BINS_S = [2, 4, 8, 15, 30, 60, 120, 240, 480, 960, 1800] as const

/**
 * A funnel over sessions or visitors: docs/funnel.md has the definition. Counts are exact.
 * Complexity: one pass over the events of the sessions looked at.
 */
export const funnel: Analysis<FunnelSpec, FunnelPartial, FunnelResult> = {
  adds: true,

  scan(block, sessions, spec, onto) {
    const { steps, names, options = DEFAULT_OPTIONS, buckets = [], counts = false } = spec
    const partial = onto ?? emptyPartial(steps.length)
    if (options.per === 'visitor') {
      readVisitors(block, sessions, { steps, names, options }, partial.visitors)
      return partial
    }
    const column = options.by ? textColumn(block, options.by, names) : undefined
    if (options.by)
      partial.byValue = atLeast(partial.byValue, textValues(options.by, names).length * (steps.length + 1))
    const { total, byValue } = partial
    const wide = steps.length + 1
    const { atMs } = block.events
    const { startMs } = block.sessions
    if (counts && !options.trend && (!column || column.column)) {
      const depths = depthsOf(block, sessions, steps, options, names)
      sessions.countBy(total, depths)
      if (column) sessions.countBy(byValue, depths, wide, column.column)
      return partial
    }
    const { depths, event, lasts } = funnelWalk(block, sessions, steps, options, names)
    const leakAfter = leakReader(block, names)
    const last = steps.map((_, k) => (counts || k + 1 === steps.length ? undefined : lasts(k)))
    const growing = partial.growing!
    sessions.forEach((s) => {
      const depth = depths[s]!
      total[depth]!++
      if (column) byValue[column.codes(s) * wide + depth]!++
      if (options.trend) {
        const bucket = bucketAt(buckets, startMs[s]!)
        if (bucket >= 0) {
          partial.overTime = atLeast(partial.overTime, buckets.length * wide)
          partial.overTime[bucket * wide + depth]!++
        }
      }
      if (depth === 0 || counts) return
      if (depth < steps.length) growing[depth - 1]!.leaks.add(leakAfter(s, last[depth - 1]![s]!))
      if (depth === 1) return
      let before = atMs[event(s, 0)]!
      for (let k = 1; k < depth; k++) {
        const at = atMs[event(s, k)]!
        growing[k - 1]!.gapsMs.push(at - before)
        before = at
      }
    })
    return partial
  },

  pack(partial) {
    grown(partial)
    return partial
  },

  merge(a, b) {
    for (const partial of [a, b]) grown(partial)
    a.total = sum(a.total, b.total)
    a.byValue = sum(a.byValue, b.byValue)
    a.overTime = sum(a.overTime, b.overTime)
    b.gapsMs.forEach((pieces, k) => a.gapsMs[k]!.push(...pieces))
    b.leaks.forEach((leaks, k) => addCounts(a.leaks[k]!, leaks))
    joinVisitors(a.visitors, b.visitors)
    return a
  },

  finish(partial, { steps, names, options = DEFAULT_OPTIONS, buckets = [], counts = false }) {
    const whole =
      options.per === 'visitor'
        ? tallyVisitors(partial.visitors, steps.length, options, buckets)
        : partial.growing
          ? funnel.pack!(partial)
          : partial
    const total = partOf('', whole.total, 0, steps.length)
    const { entered, reached } = total
    const values = options.by ? textValues(options.by, names) : []
    return {
      sessions: total.sessions,
      entered,
      converted: total.converted,
      steps: steps.map((step, k) => ({
        name: stepName(step),
        sessions: reached[k]!,
        ofPrevious: rate(reached[k]!, k === 0 ? total.sessions : reached[k - 1]!),
        ofEntered: rate(reached[k]!, entered),
        lost: k + 1 < steps.length ? reached[k]! - reached[k + 1]! : 0,
        leak: leakParts(whole.leaks[k]!, names),
        toNext: waiting(counts ? [] : whole.gapsMs[k]!),
      })),
      ...(options.by && {
        byValue: values
          .map((label, code) => partOf(label, whole.byValue, code, steps.length))
          .filter(({ sessions }) => sessions > 0)
          .sort((a, b) => b.entered - a.entered || a.label.localeCompare(b.label)),
      }),
      ...(options.trend && {
        overTime: buckets.map(({ label }, i) => partOf(label, whole.overTime, i, steps.length)),
      }),
    }
  },
}

/** Nothing more is added: what was growing takes its place. */
function grown(partial: FunnelPartial): void {
  partial.growing?.forEach(({ gapsMs, leaks }, k) => {
    partial.gapsMs[k]!.push(gapsMs.values())
    addCounts(partial.leaks[k]!, leaks.counts())
  })
  partial.growing = undefined
}

function emptyPartial(steps: number): FunnelPartial {
  return {
    total: new Uint32Array(steps + 1),
    byValue: new Uint32Array(0),
    overTime: new Uint32Array(0),
    gapsMs: Array.from({ length: steps }, () => []),
    leaks: Array.from({ length: steps }, () => new Map<number, number>()),
    visitors: new Map(),
    growing: Array.from({ length: steps }, () => ({ gapsMs: new Growing(), leaks: new Tally() })),
  }
}

/** The same with room for so many. */
function atLeast(depths: Depths, length: number): Depths {
  if (depths.length >= length) return depths
  const more = new Uint32Array(length)
  more.set(depths)
  return more
}

function sum(a: Depths, b: Depths): Depths {
  const all = atLeast(a, b.length)
  for (let i = 0; i < b.length; i++) all[i]! += b[i]!
  return all
}

function partOf(label: string, depths: Depths, value: number, steps: number): FunnelPart {
  const reached = new Array<number>(steps).fill(0)
  let sessions = 0
  for (let depth = steps; depth >= 0; depth--) {
    if (depth < steps) reached[depth] = sessions
    sessions += depths[value * (steps + 1) + depth] ?? 0
  }
  const [entered = 0] = reached
  const converted = reached[steps - 1] ?? 0
  return { label, sessions, entered, converted, conversion: rate(converted, entered), reached }
}

/** Counts visitors. Value and time are those of the first session. */
function tallyVisitors(
  visitors: Visitors,
  steps: number,
  options: FunnelOptions,
  buckets: readonly Bucket[],
): FunnelPartial {
  const tallied = emptyPartial(steps)
  const wide = steps + 1
  eachVisitor(visitors, steps, options, ({ depth, runs: [first], at, last }) => {
    tallied.total[depth]!++
    for (let k = 1; k < depth; k++) tallied.growing![k - 1]!.gapsMs.push(at(k).ms - at(k - 1).ms)
    if (depth > 0 && depth < steps) tallied.growing![depth - 1]!.leaks.add(last(depth - 1).leak)
    if (options.by) {
      tallied.byValue = atLeast(tallied.byValue, (first!.value + 1) * wide)
      tallied.byValue[first!.value * wide + depth]!++
    }
    if (options.trend) {
      const bucket = bucketAt(buckets, first!.startMs)
      tallied.overTime = atLeast(tallied.overTime, buckets.length * wide)
      if (bucket >= 0) tallied.overTime[bucket * wide + depth]!++
    }
  })
  return funnel.pack!(tallied)
}

/** A share with its base and its Wilson interval; no share without a base. */
export function rate(hits: number, base: number): Rate {
  return { hits, base, share: base === 0 ? null : hits / base, interval: wilson(hits, base) }
}

function leakParts(leaks: ReadonlyMap<number, number>, { groups }: Names): LeakPart[] {
  return [...leaks]
    .map(([code, sessions]) => {
      const { kind, toGroup } = leakOf(code)
      const page = kind === 'back' || kind === 'other' ? groups.names[toGroup]! : null
      return { kind, page, sessions }
    })
    .sort(
      (a, b) =>
        LEAK_KINDS.indexOf(a.kind) - LEAK_KINDS.indexOf(b.kind) ||
        b.sessions - a.sessions ||
        (a.page ?? '').localeCompare(b.page ?? ''),
    )
}

function waiting(pieces: readonly Float64Array[]): FunnelStepResult['toNext'] {
  const gaps = new Float64Array(pieces.reduce((total, { length }) => total + length, 0))
  let at = 0
  for (const piece of pieces) {
    gaps.set(piece, at)
    at += piece.length
  }
  const histogram: number[] = [...TIME_BINS_S, 0].map(() => 0)
  for (let i = 0; i < gaps.length; i++) {
    let bin = 0
    while (bin < TIME_BINS_S.length && gaps[i]! >= TIME_BINS_S[bin]! * 1000) bin++
    histogram[bin]!++
  }
  const [p25Ms = null, medianMs = null, p75Ms = null] = quantilesOf(gaps, [0.25, 0.5, 0.75])
  return { medianMs, p25Ms, p75Ms, histogram }
}
