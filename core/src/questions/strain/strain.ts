import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { eachViewWithSignals } from '../../columns/each-view.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { bucketAt } from '../../events/calendar.ts'
import type { Names } from '../../labels/names.ts'
import { STRAIN_WEIGHTS, strainWeightsSchema, weightsOf } from '../../labels/strain-weights.ts'
import { textColumn, textValues } from '../../select/attributes.ts'
import { SESSION_TEXTS } from '../../select/grammar/attributes.ts'
import { trendBuckets, trendRefusal } from '../../select/trend.ts'
import { sessionStrain, STRAIN_BANDS, STRAIN_PARTS, StrainLoad, strainOf } from '../../signals/strain.ts'
import type { Sums } from '../../stats/mean.ts'
import { addTo, meanDifference, meanOf, meanShape, noSums, sumsOf } from '../../stats/mean.ts'
import { countSchema } from '../../stats/rate.ts'
import type { SpecOf } from '../question.ts'
import { question } from '../question.ts'

/** By what strain can be told apart. */
export const STRAIN_BY = [
  ...SESSION_TEXTS.filter((of) => of !== 'visitor'),
  ...(['variant', 'page', 'week'] as const),
] as const
/** Stands between an experiment and what was given in it. */
const GIVEN = ': '

/** Bins of the histogram, all as wide. */
export const STRAIN_BINS = 20

interface StrainFound {
  /** of sessions, in hundredths */
  all: Sums
  histogram: Float64Array
  bands: Float64Array
  /** by value: of sessions; by page of its views */
  parts: Map<string, Sums>
}

const asked = z.strictObject({
  by: z
    .enum(STRAIN_BY)
    .nullable()
    .default(null)
    .describe(
      'for each value of this; page: of views of a page; variant: "experiment: variant" that a session was given; week: ISO 8601; null = all together',
    ),
  weights: strainWeightsSchema
    .optional()
    .describe('in place of those of the site: how hard one signal of a kind is'),
})

/**
 * How hard it was for visitors: strain of sessions from 0 to 100 (signals/strain.ts), its mean with an interval, histogram
 * and bands; by any attribute, by week, or of the views of pages. Means are exact: strain is told in hundredths.
 */
export const strain = question({
  name: 'strain',
  summary: 'how hard it was for visitors, from 0 to 100: mean, histogram, bands, by any attribute',
  asked,
  answer: z.object({
    sessions: countSchema,
    ...meanShape,
    histogram: z.array(countSchema).describe(`sessions in ${STRAIN_BINS} bins of the same width`),
    bands: z.array(z.object({ band: z.string(), from: z.number(), sessions: countSchema })),
    parts: z.array(
      z.object({
        value: z.string().describe('"" = not known'),
        n: countSchema.describe('sessions; of a page its views'),
        ...meanShape,
        difference: z
          .number()
          .nullable()
          .describe(
            'from all others together, of a variant those of its experiment; null where it cannot be told',
          ),
        differenceInterval: z.tuple([z.number(), z.number()]).nullable(),
      }),
    ),
  }),
  example: { by: 'device' },

  refuse: ({ by }, lens, { trendParts }) =>
    by === 'week' ? trendRefusal(lens, 'week', trendParts) : undefined,

  scan(block, sessions, spec): StrainFound {
    const { weights, names } = spec
    const used = weights ? weightsOf(weights) : (names.strain ?? STRAIN_WEIGHTS)
    const of = sessionStrain(block, used)
    const found: StrainFound = {
      all: noSums(),
      histogram: new Float64Array(STRAIN_BINS),
      bands: new Float64Array(STRAIN_BANDS.length),
      parts: new Map(),
    }
    const valuesOf = partReader(block, spec)
    const load = new StrainLoad(used)
    for (const s of sessions) {
      const value = of(s)
      addTo(found.all, Math.round(value * STRAIN_PARTS))
      found.histogram[Math.min(STRAIN_BINS - 1, Math.floor((value / 100) * STRAIN_BINS))]!++
      found.bands[STRAIN_BANDS.findLastIndex(([, from]) => value >= from)]!++
      for (const part of valuesOf?.(s) ?? []) addTo(partOf(found, part), Math.round(value * STRAIN_PARTS))
      if (spec.by === 'page') addViews(found, block, s, load, spec)
    }
    return found
  },

  merge(a, b) {
    const parts = new Map(a.parts)
    for (const [value, other] of b.parts) {
      const one = parts.get(value)
      parts.set(value, one ? sumsOf(one, other) : other)
    }
    const sum = (one: Float64Array, other: Float64Array) => one.map((n, k) => n + other[k]!)
    return {
      all: sumsOf(a.all, b.all),
      histogram: sum(a.histogram, b.histogram),
      bands: sum(a.bands, b.bands),
      parts,
    }
  },

  finish({ all, histogram, bands, parts }, { by }) {
    const totals = new Map<string, Sums>()
    const among = (value: string) => (by === 'variant' ? value.split(GIVEN)[0]! : '')
    for (const [value, own] of parts)
      totals.set(among(value), sumsOf(totals.get(among(value)) ?? noSums(), own))
    const listed = [...parts].map(([value, own]) => {
      const total = totals.get(among(value))!
      const others = { n: total.n - own.n, sum: total.sum - own.sum, squares: total.squares - own.squares }
      const described = { n: own.n, ...meanOf(own, STRAIN_PARTS) }
      const apart = meanDifference(described, { n: others.n, ...meanOf(others, STRAIN_PARTS) })
      return {
        ...{ value, ...described },
        difference: apart?.difference ?? null,
        differenceInterval: apart?.interval ?? null,
      }
    })
    listed.sort((a, b) =>
      by === 'week'
        ? a.value.localeCompare(b.value)
        : b.mean! - a.mean! || b.n - a.n || a.value.localeCompare(b.value),
    )
    return {
      ...{ sessions: all.n, ...meanOf(all, STRAIN_PARTS), histogram: [...histogram] },
      bands: STRAIN_BANDS.map(([band, from], k) => ({ band, from, sessions: bands[k]! })),
      parts: listed,
    }
  },

  table: ({ parts }) => parts,
})

type Spec = SpecOf<typeof asked>

/** Reads the values that a session counts for; undefined where sessions are not told apart. */
function partReader(
  block: Block,
  { by, names, lens, timeZone }: Spec,
): ((s: number) => Iterable<string>) | undefined {
  if (by === null || by === 'page') return undefined
  if (by === 'variant') return (s) => variantsOf(block, s, names)
  if (by === 'week') {
    const weeks = trendBuckets(lens, 'week', timeZone)
    return (s) => [weeks[bucketAt(weeks, block.sessions.startMs[s]!)]?.label ?? '']
  }
  const { codes } = textColumn(block, by, names)
  const values = textValues(by, names)
  return (s) => [values[codes(s)]!]
}

/** What a session was given, of each experiment what it was given last. */
function variantsOf({ sessions, events }: Block, s: number, { dictionaries }: Names): Iterable<string> {
  const given = new Map<string, string>()
  for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
    if (events.kind[i] === KIND_CODE.variant)
      given.set(dictionaries.name.word(events.name[i]!), dictionaries.text.word(events.text[i]!))
  return [...given].map(([experiment, variant]) => `${experiment}${GIVEN}${variant}`)
}

function partOf({ parts }: StrainFound, value: string): Sums {
  let sums = parts.get(value)
  if (!sums) parts.set(value, (sums = noSums()))
  return sums
}

/** Adds the views of a session by their page groups. */
function addViews(
  found: StrainFound,
  block: Block,
  s: number,
  load: StrainLoad,
  { names: { groups } }: Spec,
): void {
  eachViewWithSignals(block, s, (view, first, end) => {
    for (let g = first; g < end; g++) load.add(block.signals.kind[g]!)
    const page = groups.names[groups.groupOf[block.views.page[view]!]!]!
    addTo(partOf(found, page), Math.round(strainOf(load.take()) * STRAIN_PARTS))
  })
}
