import { z } from 'zod'
import type { Names } from '../../labels/names.ts'
import type { Place } from '../../select/grammar/walk.ts'
import { placeShape, placeText } from '../../select/grammar/walk.ts'
import { countSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'
import type { PathOptions } from './path-options.ts'
import { needsWalker } from './path-options.ts'
import type { PathColumns, PathsFound } from './paths.ts'
import { listedIn, paths } from './paths.ts'
import type { StepCounts, StepLevel } from './step-counts.ts'
import { levelsOf, mergeSteps, noSteps } from './step-counts.ts'
import { countViews } from './view-paths.ts'

const answerSchema = z.object({
  sessions: countSchema,
  ended: countSchema.describe('sessions with no step at all'),
  steps: z.array(
    z.object({
      sessions: countSchema.describe('that took this step'),
      places: z
        .array(z.object({ ...placeShape, sessions: countSchema, ended: countSchema }))
        .describe('the most seen first; ended: sessions with nothing further'),
      links: z
        .array(
          z.object({
            from: countSchema
              .nullable()
              .describe('index into the places of the step before; null: the moment itself'),
            to: countSchema.describe('index into the places of this step'),
            sessions: countSchema,
          }),
        )
        .describe('the most walked first'),
    }),
  ),
})
export type PathStepsAnswer = z.infer<typeof answerSchema>
export type PathStep = PathStepsAnswer['steps'][number]

/** Paths that are told apart by their page groups alone are counted step by step; others as whole paths. */
interface StepsFound {
  sessions: number
  counts?: StepCounts | undefined
  whole?: PathsFound | undefined
}

/**
 * The steps of all paths, whatever came before each: places that are the same are one, with the links between the places of
 * one step and those of the next. Every place and every link of the whole tree is in it, however rare.
 * Complexity: views after the moment until the depth is reached, and page groups × page groups × depth; as of paths where
 * steps are not page groups, or there are very many.
 */
export const pathSteps = question({
  name: 'path-steps',
  summary:
    'the steps of the paths of a selection: what was seen in each, what it ended for, and the links between them',
  asked: paths.asked,
  answer: answerSchema,
  example: { selection: { type: 'everyone' }, options: { depth: 3 } },
  refuse: paths.refuse!,
  needs: paths.needs!,
  adds: true,

  scan(block, among, spec, onto?: StepsFound): StepsFound {
    const { selection, options, names } = spec
    const found = onto ?? { sessions: 0, counts: countable(options, names) }
    if (found.counts) {
      const listed = listedIn(block, among, selection, names)
      found.sessions += countViews(block, listed, { ...options, names }, found.counts)
    } else found.whole = paths.scan(block, among, spec, found.whole)
    return found
  },

  pack: (found) => (found.whole ? { ...found, whole: paths.pack!(found.whole) } : found),

  merge: (a, b) => ({
    sessions: a.sessions + b.sessions,
    counts: a.counts && b.counts && mergeSteps(a.counts, b.counts),
    whole: a.whole && b.whole ? paths.merge(a.whole, b.whole) : (a.whole ?? b.whole),
  }),

  parts: {
    cuts: ({ whole }, count) => whole && paths.parts!.cuts(whole, count),
    split: (found, cuts) => paths.parts!.split(found.whole!, cuts).map((whole) => ({ sessions: 0, whole })),
    finishPart: ({ sessions, whole }, spec) => ({
      sessions,
      whole: paths.parts!.finishPart(whole!, wholeTree(spec)),
    }),
    join: (parts) => ({ sessions: 0, whole: paths.parts!.join(parts.map(({ whole }) => whole!)) }),
  },

  finish({ sessions, counts, whole }, spec): PathStepsAnswer {
    if (!counts) {
      const { tree, parts, ...totals } = paths.finish(whole!, wholeTree(spec))
      return {
        sessions: totals.sessions,
        ended: totals.ended,
        steps: stepsOf(levelsOfTree(tree, parts.length), (code) => parts[code]!),
      }
    }
    const pages = spec.names.groups.names
    const steps = stepsOf(levelsOf(counts), (code) => ({ kind: 'page', page: pages[code]! }))
    return { sessions, ended: counts.ended[0]!, steps }
  },

  table: ({ steps }) =>
    steps.flatMap(({ places, sessions }, k) =>
      places.map((place) => ({ step: k + 1, ...place, of: sessions })),
    ),
})

/** Steps are made of all places, however rare. */
function wholeTree<S extends { options: PathOptions }>(spec: S): S {
  return { ...spec, options: { ...spec.options, most: null } }
}

function countable(options: PathOptions, { groups }: Names): StepCounts | undefined {
  return options.of === 'pages' && !needsWalker(options)
    ? noSteps(groups.names.length, options.depth)
    : undefined
}

/** The levels of a tree whose places are of so many parts, equal places of one level as one. */
function levelsOfTree({ parent, part, sessions, ended }: PathColumns['tree'], parts: number): StepLevel[] {
  const depths = new Uint8Array(parent.length)
  const levels: { places: StepLevel['places']; links: Map<number, number> }[] = []
  for (let node = 1; node < parent.length; node++) {
    const above = parent[node]!
    depths[node] = depths[above]! + 1
    const own = (levels[depths[node]! - 1] ??= { places: new Map(), links: new Map() })
    const place = own.places.get(part[node]!)
    if (place) {
      place.sessions += sessions[node]!
      place.ended += ended[node]!
    } else own.places.set(part[node]!, { sessions: sessions[node]!, ended: ended[node]! })
    const link = (above === 0 ? 0 : part[above]! + 1) * parts + part[node]!
    own.links.set(link, (own.links.get(link) ?? 0) + sessions[node]!)
  }
  return levels.map(({ places, links }) => ({
    places,
    links: [...links].map(([link, count]) => {
      return { before: Math.floor(link / parts), code: link % parts, sessions: count }
    }),
  }))
}

function stepsOf(levels: readonly StepLevel[], placeOf: (code: number) => Place): PathStepsAnswer['steps'] {
  let before = new Map<number, number>()
  return levels.map(({ places, links }) => {
    const listed = [...places]
      .map(([of, counts]) => ({ of, ...placeOf(of), ...counts }))
      .sort((a, b) => b.sessions - a.sessions || (placeText(a) < placeText(b) ? -1 : 1))
    const index = new Map(listed.map(({ of }, k) => [of, k]))
    const linked = links.map(({ before: from, code, sessions }) => {
      return { from: from === 0 ? null : before.get(from - 1)!, to: index.get(code)!, sessions }
    })
    linked.sort((a, b) => b.sessions - a.sessions || (a.from ?? -1) - (b.from ?? -1) || a.to - b.to)
    before = index
    return {
      sessions: listed.reduce((sum, { sessions }) => sum + sessions, 0),
      places: listed.map(({ of: _, ...place }) => place),
      links: linked,
    }
  })
}
