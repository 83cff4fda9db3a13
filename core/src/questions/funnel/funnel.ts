import { z } from 'zod'
import type { Bucket } from '../../events/calendar.ts'
import { bucketAt } from '../../events/calendar.ts'
import type { Names } from '../../labels/names.ts'
import { textColumn, textValues } from '../../select/attributes.ts'
import { depthsOf } from '../../select/chains/depths.ts'
import type { LeakCounts } from '../../select/chains/leak-counts.ts'
import {
  addLeaks,
  countingErrors,
  LeakTally,
  noLeaks,
  reasonCounts,
} from '../../select/chains/leak-counts.ts'
import { leakOf, leakReader } from '../../select/chains/leaks.ts'
import type { Visitors } from '../../select/chains/visitors.ts'
import { eachVisitor, joinVisitors, readVisitors } from '../../select/chains/visitors.ts'
import { funnelWalk } from '../../select/chains/walk.ts'
import type { FunnelOptions } from '../../select/grammar/funnel-options.ts'
import { DEFAULT_OPTIONS, funnelOptionsSchema } from '../../select/grammar/funnel-options.ts'
import { LEAK_KINDS } from '../../select/grammar/leak-kinds.ts'
import { EXAMPLE_STEPS, stepName, stepsSchema } from '../../select/grammar/steps.ts'
import { trendBuckets, trendRefusal } from '../../select/trend.ts'
import { GrowingNumbers } from '../../stats/growing-numbers.ts'
import { quantilesOf } from '../../stats/quantile.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import type { Context } from '../question.ts'
import { question } from '../question.ts'

/** How many of each value reached how many steps: of value v and depth d at v × (steps + 1) + d. */
type Depths = Uint32Array

interface FunnelFound {
  total: Depths
  byValue: Depths
  /** by index of the bucket */
  overTime: Depths
  /** milliseconds from each step to the next, one for each that made it, in pieces; last, from the first step to the last */
  gapsMs: Float64Array[][]
  /** per step */
  leaks: LeakCounts[]
  /** by visitor code; only where visitors are counted */
  visitors: Visitors
  /** per step what is still growing, until it is packed: times to the next step, and leaks */
  growing?: { gapsMs: GrowingNumbers; leaks: LeakTally }[] | undefined
}

/** Counts of a part of those looked at. */
const partSchema = z.object({
  label: z.string().describe('the value, "" where it is not known; the label of the day, week or month'),
  sessions: countSchema,
  entered: countSchema,
  converted: countSchema,
  conversion: rateSchema.describe('of those who entered'),
  /** who reached each step */
  reached: z.array(countSchema),
})
export type FunnelPart = z.infer<typeof partSchema>

/** How long something took, over those who did it: quartiles, and how many lie in each bin of TIME_BINS_S. */
const durationSchema = z.object({
  medianMs: z.number().nullable(),
  p25Ms: z.number().nullable(),
  p75Ms: z.number().nullable(),
  histogram: z.array(countSchema),
})

const stepSchema = z.object({
  name: z.string(),
  sessions: countSchema,
  ofPrevious: rateSchema.describe(
    'of those who reached the step before; for the first step of all sessions looked at',
  ),
  ofEntered: rateSchema.describe('of all who entered, that is who reached the first step'),
  /** sessions that reached this step and not the next; 0 at the last */
  lost: countSchema,
  leak: z.array(
    z.object({
      kind: z.enum(LEAK_KINDS),
      page: z.string().nullable().describe('the page they went back or on to; null for the other kinds'),
      sessions: countSchema,
    }),
  ),
  toNext: durationSchema.describe('how long those who went on took to the next step'),
})

const answerSchema = z.object({
  /** sessions looked at; visitors where these are counted, and so in all counts below */
  sessions: countSchema,
  entered: countSchema,
  converted: countSchema,
  steps: z.array(stepSchema),
  whole: durationSchema.describe('how long those who converted took from the first step to the last'),
  byValue: z
    .array(partSchema)
    .optional()
    .describe('the same for each value, most entered first; only with `by`'),
  overTime: z.array(partSchema).optional().describe('the same over time; only with `trend`'),
  /** handles of sets for each step: who reached it, who went on, who dropped off there; null where there is no next step */
  sets: z
    .array(
      z.object({ reached: z.string(), continued: z.string().nullable(), dropped: z.string().nullable() }),
    )
    .optional(),
})
export type FunnelAnswer = z.infer<typeof answerSchema>
export type FunnelStepAnswer = z.infer<typeof stepSchema>
export type LeakPart = FunnelStepAnswer['leak'][number]

/** Upper edges of the time bins, in seconds; the last bin is open. Equal ratios, since waiting times are skewed. */
export const TIME_BINS_S = [2, 4, 8, 15, 30, 60, 120, 240, 480, 960, 1800] as const

/**
 * A funnel over sessions or visitors: docs/funnel.md has the definition. Counts are exact.
 * Complexity: one pass over the events of the sessions looked at.
 */
export const funnel = question({
  name: 'funnel',
  summary: 'how many come through the steps of a funnel, and what the lost did instead',
  asked: z.strictObject({
    steps: stepsSchema,
    options: funnelOptionsSchema.optional(),
    counts: z.boolean().optional().describe('only how many: no leaks, no times; several times as fast'),
    sets: z.boolean().optional().describe('handles of the sets of each step as well'),
  }),
  answer: answerSchema,
  example: EXAMPLE_STEPS,
  adds: true,

  refuse({ steps, options }, lens, { trendParts }) {
    const late = options?.without.find(({ after }) => after >= steps.length - 1)
    if (late) return `options.without: no step follows step ${late.after}, counted from 0`
    return options?.trend ? trendRefusal(lens, options.trend, trendParts) : undefined
  },

  scan(block, sessions, spec, onto?: FunnelFound): FunnelFound {
    const { steps, names, options = DEFAULT_OPTIONS, counts = false } = spec
    const buckets = bucketsFor(options, spec)
    const found = onto ?? nothingFound(steps.length)
    if (options.per === 'visitor') {
      readVisitors(block, sessions, { steps, names, options }, found.visitors)
      return found
    }
    const column = options.by ? textColumn(block, options.by, names) : undefined
    if (options.by)
      found.byValue = atLeast(found.byValue, textValues(options.by, names).length * (steps.length + 1))
    const { total, byValue } = found
    const wide = steps.length + 1
    const { atMs } = block.events
    const { startMs, firstSignal } = block.sessions
    if (counts && !options.trend && (!column || column.column)) {
      const depths = depthsOf(block, sessions, steps, options, names)
      sessions.countBy(total, depths)
      if (column) sessions.countBy(byValue, depths, wide, column.column)
      return found
    }
    const { depths, event, lasts } = funnelWalk(block, sessions, steps, options, names)
    const leaks = leakReader(block, names)
    const last = steps.map((_, k) => (counts || k + 1 === steps.length ? undefined : lasts(k)))
    const growing = found.growing!
    sessions.forEach((s) => {
      const depth = depths[s]!
      total[depth]!++
      if (column) byValue[column.codes(s) * wide + depth]!++
      if (options.trend) {
        const bucket = bucketAt(buckets, startMs[s]!)
        if (bucket >= 0) {
          found.overTime = atLeast(found.overTime, buckets.length * wide)
          found.overTime[bucket * wide + depth]!++
        }
      }
      if (depth === 0 || counts) return
      if (depth < steps.length) {
        const at = last[depth - 1]![s]!
        growing[depth - 1]!.leaks.addLost(leaks.reason(s, at), leaks.errors(s, at))
      }
      if (depth === 1) return
      const begins = atMs[event(s, 0)]!
      let before = begins
      for (let k = 1; k < depth; k++) {
        const at = atMs[event(s, k)]!
        growing[k - 1]!.gapsMs.push(at - before)
        if (firstSignal[s] !== firstSignal[s + 1])
          growing[k - 1]!.leaks.addContinued(leaks.errors(s, event(s, k - 1), at))
        before = at
      }
      if (depth === steps.length) growing[depth - 1]!.gapsMs.push(before - begins)
    })
    return found
  },

  pack: packed,

  merge(a, b) {
    packed(a)
    packed(b)
    a.total = sum(a.total, b.total)
    a.byValue = sum(a.byValue, b.byValue)
    a.overTime = sum(a.overTime, b.overTime)
    b.gapsMs.forEach((pieces, k) => a.gapsMs[k]!.push(...pieces))
    b.leaks.forEach((leaks, k) => addLeaks(a.leaks[k]!, leaks))
    joinVisitors(a.visitors, b.visitors)
    return a
  },

  finish(found, spec) {
    const { steps, names, options = DEFAULT_OPTIONS, counts = false } = spec
    const buckets = bucketsFor(options, spec)
    const whole =
      options.per === 'visitor'
        ? tallyVisitors(found.visitors, steps.length, options, buckets)
        : found.growing
          ? packed(found)
          : found
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
        leak: leakParts(whole.leaks[k]!, reached[k]!, reached[k + 1] ?? 0, names),
        toNext: waiting(counts || k + 1 === steps.length ? [] : whole.gapsMs[k]!),
      })),
      whole: waiting(counts || steps.length === 1 ? [] : whole.gapsMs[steps.length - 1]!),
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

  table: ({ steps, whole, byValue = [], overTime = [] }) => [
    ...steps.map(({ leak, toNext, ...step }, k) => ({
      part: 'step',
      ...step,
      medianMsToNext: toNext.medianMs,
      ...(k + 1 === steps.length && {
        medianMsOfAllSteps: whole.medianMs,
        p25MsOfAllSteps: whole.p25Ms,
        p75MsOfAllSteps: whole.p75Ms,
      }),
      ...Object.fromEntries(
        leak.map(({ kind, page, sessions }) => [`lost: ${kind}${page ? ` ${page}` : ''}`, sessions]),
      ),
    })),
    ...byValue.map(({ reached: _, ...part }) => ({ part: 'value', name: part.label, ...part })),
    ...overTime.map(({ reached: _, ...part }) => ({ part: 'time', name: part.label, ...part })),
  ],
})

/** Nothing more is added: what was still growing is put where packed columns lie. */
function packed(found: FunnelFound): FunnelFound {
  found.growing?.forEach(({ gapsMs, leaks }, k) => {
    found.gapsMs[k]!.push(gapsMs.values())
    addLeaks(found.leaks[k]!, leaks.counts())
  })
  found.growing = undefined
  return found
}

function bucketsFor({ trend }: FunnelOptions, { lens, timeZone }: Context): readonly Bucket[] {
  return trend ? trendBuckets(lens, trend, timeZone) : []
}

function nothingFound(steps: number): FunnelFound {
  return {
    total: new Uint32Array(steps + 1),
    byValue: new Uint32Array(0),
    overTime: new Uint32Array(0),
    gapsMs: Array.from({ length: steps }, () => []),
    leaks: Array.from({ length: steps }, noLeaks),
    visitors: new Map(),
    growing: Array.from({ length: steps }, () => ({ gapsMs: new GrowingNumbers(), leaks: new LeakTally() })),
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
): FunnelFound {
  const tallied = nothingFound(steps)
  const wide = steps + 1
  const growing = tallied.growing!
  eachVisitor(visitors, steps, options, ({ depth, runs: [first], at, met, last }) => {
    tallied.total[depth]!++
    for (let k = 1; k < depth; k++) {
      growing[k - 1]!.gapsMs.push(at(k).ms - at(k - 1).ms)
      growing[k - 1]!.leaks.addContinued(met(k - 1))
    }
    if (depth > 1 && depth === steps) growing[depth - 1]!.gapsMs.push(at(depth - 1).ms - at(0).ms)
    if (depth > 0 && depth < steps) {
      const { reason, errors } = last(depth - 1)
      growing[depth - 1]!.leaks.addLost(reason, errors)
    }
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
  return packed(tallied)
}

function leakParts(leaks: LeakCounts, reached: number, continued: number, { groups }: Names): LeakPart[] {
  const counting = countingErrors(leaks, reached - continued, continued)
  return [...reasonCounts(leaks, counting)]
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

function waiting(pieces: readonly Float64Array[]): FunnelStepAnswer['toNext'] {
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
