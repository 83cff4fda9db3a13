import { textColumn } from '../conditions/sessions.ts'
import type { Block } from '../events/columns.ts'
import type { Bucket } from '../lens/calendar.ts'
import { bucketAt } from '../lens/calendar.ts'
import type { Analysis } from '../sets/analysis.ts'
import { addCounts } from '../sets/analysis.ts'
import type { SessionSet } from '../sets/session-set.ts'
import type { Interval } from '../stats/interval.ts'
import { wilson } from '../stats/interval.ts'
import { quantile } from '../stats/quantile.ts'
import type { Step } from './spec.ts'
import { stepName } from './spec.ts'
import type { FunnelOptions } from './options.ts'
import { DEFAULT_OPTIONS } from './options.ts'
import { FIRST_BIT } from './reach.ts'
import type { Leak, LeakKind, Names, Trace } from './trace.ts'
import { chainOf, LEAK_KINDS, leakAfter, lossAt, pageTraces, runReader, sessionTracer } from './trace.ts'

export interface FunnelSpec {
  steps: readonly Step[]
  names: Names
  options?: FunnelOptions | undefined
  /** what a trend is drawn over; needed with `trend` alone */
  buckets?: readonly Bucket[] | undefined
}

/** Counts of some sessions or visitors. */
interface Tally {
  units: number
  /** how many reached each step */
  reached: number[]
  /** milliseconds from each step to the next, one for each that made it, in pieces */
  gapsMs: Float64Array[][]
  /** per step: "kind/group" -> how many were lost that way */
  leaks: Map<string, number>[]
}

/** One session of a visitor as the funnel sees it, in absolute time. */
interface VisitorRun {
  startMs: number
  value: string
  atMs: number[]
  masks: number[]
  /** for each step: how those are lost whose last time at it was here; undefined where they were not at it */
  leaks: (string | undefined)[]
}

export interface FunnelPartial {
  total: Tally
  byValue: Map<string, Tally>
  /** by index of the bucket */
  overTime: Map<number, Tally>
  /** by visitor code; only where visitors are counted */
  visitors: Map<number, VisitorRun[]>
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
  scan(block, sessions, { steps, names, options = DEFAULT_OPTIONS, buckets = [] }) {
    const partial: FunnelPartial = {
      total: emptyTally(steps.length),
      byValue: new Map(),
      overTime: new Map(),
      visitors: new Map(),
    }
    const valueOf = valueReader(block, options, names)
    if (options.per === 'visitor') {
      readVisitors(block, sessions, { steps, names, options }, valueOf, partial.visitors)
      return partial
    }
    const gaps = steps.map((): number[] => [])
    /** per step: kind and group as one number, since names would be looked up for every session */
    const leaks = steps.map(() => new Map<number, number>())
    const { atMs } = block.events
    const { startMs } = block.sessions
    const { total } = partial
    const walk = sessionWalker(block, steps, options, names)
    sessions.forEach((s) => {
      const depth = walk.to(s)
      tallyDepth(total, depth)
      if (options.by) tallyDepth(tallyOf(partial.byValue, valueOf(s), steps.length), depth)
      if (options.trend) {
        const bucket = bucketAt(buckets, startMs[s]!)
        if (bucket >= 0) tallyDepth(tallyOf(partial.overTime, bucket, steps.length), depth)
      }
      if (depth === 0) return
      for (let k = 1; k < depth; k++) gaps[k - 1]!.push(atMs[walk.event(k)]! - atMs[walk.event(k - 1)]!)
      if (depth === steps.length) return
      const { kind, toGroup } = walk.leak()
      const code = toGroup * LEAK_KINDS.length + LEAK_KINDS.indexOf(kind)
      const own = leaks[depth - 1]!
      own.set(code, (own.get(code) ?? 0) + 1)
    })
    gaps.forEach((own, k) => {
      if (own.length) partial.total.gapsMs[k]!.push(Float64Array.from(own))
    })
    leaks.forEach((own, k) => {
      for (const [code, n] of own) {
        const kind = LEAK_KINDS[code % LEAK_KINDS.length]!
        const leak = leakKey({ kind, toGroup: Math.floor(code / LEAK_KINDS.length) }, names)
        partial.total.leaks[k]!.set(leak, n)
      }
    })
    return partial
  },

  merge: (a, b) => ({
    total: mergeTallies(a.total, b.total),
    byValue: mergeMaps(a.byValue, b.byValue, mergeTallies),
    overTime: mergeMaps(a.overTime, b.overTime, mergeTallies),
    visitors: mergeMaps(a.visitors, b.visitors, (one, other) => [...one, ...other]),
  }),

  finish(partial, { steps, options = DEFAULT_OPTIONS, buckets = [] }) {
    const { total, byValue, overTime } =
      options.per === 'visitor' ? tallyVisitors(partial.visitors, steps.length, options, buckets) : partial
    const entered = total.reached[0] ?? 0
    return {
      sessions: total.units,
      entered,
      converted: total.reached[steps.length - 1] ?? 0,
      steps: steps.map((step, k) => {
        const sessions = total.reached[k]!
        return {
          name: stepName(step),
          sessions,
          ofPrevious: rate(sessions, k === 0 ? total.units : total.reached[k - 1]!),
          ofEntered: rate(sessions, entered),
          lost: k + 1 < steps.length ? sessions - total.reached[k + 1]! : 0,
          leak: leakParts(total.leaks[k]!),
          toNext: waiting(total.gapsMs[k]!),
        }
      }),
      ...(options.by && {
        byValue: [...byValue]
          .map(([label, tally]) => partOf(label, tally))
          .sort((a, b) => b.entered - a.entered || a.label.localeCompare(b.label)),
      }),
      ...(options.trend && {
        overTime: buckets.map(({ label }, i) => partOf(label, overTime.get(i) ?? emptyTally(steps.length))),
      }),
    }
  },
}

function emptyTally(steps: number): Tally {
  return {
    units: 0,
    reached: new Array<number>(steps).fill(0),
    gapsMs: Array.from({ length: steps }, () => []),
    leaks: Array.from({ length: steps }, () => new Map<string, number>()),
  }
}

function tallyOf<K>(tallies: Map<K, Tally>, key: K, steps: number): Tally {
  let tally = tallies.get(key)
  if (!tally) tallies.set(key, (tally = emptyTally(steps)))
  return tally
}

function tallyDepth(tally: Tally, depth: number): void {
  tally.units++
  const { reached } = tally
  for (let k = 0; k < depth; k++) reached[k]!++
}

/** Counts one session or visitor: when it reached each step, and how it was lost after the last of them. */
function count(tally: Tally, timesMs: readonly number[], leak: string | undefined): void {
  tally.units++
  timesMs.forEach((t, k) => {
    tally.reached[k]!++
    if (k > 0) tally.gapsMs[k - 1]!.push(Float64Array.of(t - timesMs[k - 1]!))
  })
  if (leak === undefined) return
  const leaks = tally.leaks[timesMs.length - 1]!
  leaks.set(leak, (leaks.get(leak) ?? 0) + 1)
}

/** Adds b to a, which is changed: partials are nobody else's, and copying would cost more than counting. */
function mergeTallies(a: Tally, b: Tally): Tally {
  a.units += b.units
  b.reached.forEach((n, k) => (a.reached[k]! += n))
  b.gapsMs.forEach((pieces, k) => a.gapsMs[k]!.push(...pieces))
  b.leaks.forEach((leaks, k) => addCounts(a.leaks[k]!, leaks))
  return a
}

function mergeMaps<K, V>(a: Map<K, V>, b: ReadonlyMap<K, V>, merge: (a: V, b: V) => V): Map<K, V> {
  for (const [key, value] of b) {
    const known = a.get(key)
    a.set(key, known === undefined ? value : merge(known, value))
  }
  return a
}

function partOf(label: string, { units, reached }: Tally): FunnelPart {
  const entered = reached[0] ?? 0
  const converted = reached[reached.length - 1] ?? 0
  return { label, sessions: units, entered, converted, conversion: rate(converted, entered), reached }
}

function leakKey({ kind, toGroup }: Leak, names: Names): string {
  return `${kind}/${kind === 'back' || kind === 'other' ? names.groups.names[toGroup]! : ''}`
}

function valueReader(block: Block, { by }: FunnelOptions, names: Names): (session: number) => string {
  if (!by) return () => ''
  const { codes, values } = textColumn(block, by, names)
  return (s) => values[codes(s)]!
}

function readVisitors(
  block: Block,
  sessions: SessionSet,
  { steps, names, options }: { steps: readonly Step[]; names: Names; options: FunnelOptions },
  valueOf: (session: number) => string,
  visitors: Map<number, VisitorRun[]>,
): void {
  const read = runReader(block, steps, options, names)
  for (const s of sessions) {
    const run = read(s)
    const startMs = block.sessions.startMs[s]!
    const own: VisitorRun = {
      startMs,
      value: valueOf(s),
      atMs: run.atMs.map((ms) => startMs + ms),
      masks: run.masks,
      leaks: steps.map((_, k) => {
        const lost = lossAt(block, s, run, k, names)
        return lost && leakKey(lost.leak, names)
      }),
    }
    const known = visitors.get(block.sessions.visitor[s]!)
    if (known) known.push(own)
    else visitors.set(block.sessions.visitor[s]!, [own])
  }
}

/** Counts visitors: each one's sessions in order of time, as one run. Value and time are those of the first session. */
function tallyVisitors(
  visitors: ReadonlyMap<number, VisitorRun[]>,
  steps: number,
  options: FunnelOptions,
  buckets: readonly Bucket[],
): Pick<FunnelPartial, 'total' | 'byValue' | 'overTime'> {
  const tallies = {
    total: emptyTally(steps),
    byValue: new Map<string, Tally>(),
    overTime: new Map<number, Tally>(),
  }
  for (const runs of visitors.values()) {
    const ordered = [...runs].sort((a, b) => a.startMs - b.startMs)
    const [first] = ordered
    // Sessions that the sender named itself may overlap: events in order of time, whatever session they are of.
    const events = ordered
      .flatMap((run) =>
        run.masks.map((mask, i) => ({ t: run.atMs[i]!, mask: run === first ? mask : mask & ~FIRST_BIT })),
      )
      .sort((a, b) => a.t - b.t)
    const atMs = events.map(({ t }) => t)
    const masks = events.map(({ mask }) => mask)
    const chain = chainOf({ atMs, masks }, steps, options)
    const times = chain.map((position) => atMs[position]!)
    const leak =
      chain.length === 0 || chain.length === steps
        ? undefined
        : ordered.findLast((run) => run.leaks[chain.length - 1] !== undefined)!.leaks[chain.length - 1]
    count(tallies.total, times, leak)
    if (options.by) count(tallyOf(tallies.byValue, first!.value, steps), times, leak)
    if (options.trend) {
      const bucket = bucketAt(buckets, first!.startMs)
      if (bucket >= 0) count(tallyOf(tallies.overTime, bucket, steps), times, leak)
    }
  }
  return tallies
}

/** A share with its base and its Wilson interval; no share without a base. */
export function rate(hits: number, base: number): Rate {
  return { hits, base, share: base === 0 ? null : hits / base, interval: wilson(hits, base) }
}

function leakParts(leaks: ReadonlyMap<string, number>): LeakPart[] {
  return [...leaks]
    .map(([key, sessions]) => {
      const cut = key.indexOf('/')
      return { kind: key.slice(0, cut) as LeakKind, page: key.slice(cut + 1) || null, sessions }
    })
    .sort(
      (a, b) =>
        LEAK_KINDS.indexOf(a.kind) - LEAK_KINDS.indexOf(b.kind) ||
        b.sessions - a.sessions ||
        (a.page ?? '').localeCompare(b.page ?? ''),
    )
}

/** Goes through the sessions of a block one by one, in the fastest way that the steps and options allow. */
function sessionWalker(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): {
  /** how many steps the session reached; what follows is about this session */
  to: (session: number) => number
  event: (step: number) => number
  leak: () => Leak
} {
  const pages = pageTraces(block, steps, options, names)
  let session = 0
  if (pages) {
    let depth = 0
    return {
      to: (s) => {
        session = s
        return (depth = pages.depth(s))
      },
      event: (step) => pages.eventAt(step, session),
      leak: () => leakAfter(block, session, pages.lastAt(depth - 1, session), names),
    }
  }
  const trace = sessionTracer(block, steps, options, names)
  let last: Trace
  return {
    to: (s) => (last = trace(s)).reached.length,
    event: (step) => last.reached[step]!,
    leak: () => last.lost!.leak,
  }
}

function waiting(pieces: readonly Float64Array[]): FunnelStepResult['toNext'] {
  const sorted = new Float64Array(pieces.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const piece of pieces) {
    sorted.set(piece, at)
    at += piece.length
  }
  sorted.sort()
  const histogram: number[] = [...TIME_BINS_S, 0].map(() => 0)
  for (const gap of sorted) {
    const bin = TIME_BINS_S.findIndex((edge) => gap < edge * 1000)
    histogram[bin === -1 ? TIME_BINS_S.length : bin]!++
  }
  return {
    medianMs: quantile(sorted, 0.5),
    p25Ms: quantile(sorted, 0.25),
    p75Ms: quantile(sorted, 0.75),
    histogram,
  }
}
