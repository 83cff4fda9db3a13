import { z } from 'zod'
import { placeShape, placeText } from '../../select/grammar/walk.ts'
import { countSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'
import type { PathColumns } from './paths.ts'
import { paths } from './paths.ts'

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

/**
 * The steps of all paths, whatever came before each: places that are the same are one, with the links between the places of
 * one step and those of the next. Every place and every link of the whole tree is in it, however rare.
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
  scan: paths.scan,
  pack: paths.pack!,
  merge: paths.merge,
  parts: paths.parts!,

  finish(found, spec) {
    return stepsOf(paths.finish(found, { ...spec, options: { ...spec.options, most: null } }))
  },

  table: ({ steps }) =>
    steps.flatMap(({ places, sessions }, k) =>
      places.map((place) => ({ step: k + 1, ...place, of: sessions })),
    ),
})

/** The levels of a tree, equal places of one level as one. */
function stepsOf({ sessions, ended, tree, parts }: PathColumns): PathStepsAnswer {
  const { parent, part } = tree
  const level = new Uint8Array(parent.length)
  const levels: { places: Map<number, { sessions: number; ended: number }>; links: Map<string, number> }[] =
    []
  for (let node = 1; node < parent.length; node++) {
    const above = parent[node]!
    level[node] = level[above]! + 1
    const own = (levels[level[node]! - 1] ??= { places: new Map(), links: new Map() })
    const place = own.places.get(part[node]!)
    if (place) {
      place.sessions += tree.sessions[node]!
      place.ended += tree.ended[node]!
    } else own.places.set(part[node]!, { sessions: tree.sessions[node]!, ended: tree.ended[node]! })
    const link = `${above === 0 ? '' : part[above]!} ${part[node]!}`
    own.links.set(link, (own.links.get(link) ?? 0) + tree.sessions[node]!)
  }
  let before = new Map<number, number>()
  return {
    ...{ sessions, ended },
    steps: levels.map(({ places, links }) => {
      const listed = [...places]
        .map(([of, counts]) => ({ of, ...parts[of]!, ...counts }))
        .sort((a, b) => b.sessions - a.sessions || (placeText(a) < placeText(b) ? -1 : 1))
      const index = new Map(listed.map(({ of }, k) => [of, k]))
      const linked = [...links].map(([link, n]) => {
        const [from = '', to = ''] = link.split(' ')
        return {
          from: from === '' ? null : before.get(Number(from))!,
          to: index.get(Number(to))!,
          sessions: n,
        }
      })
      linked.sort((a, b) => b.sessions - a.sessions || (a.from ?? -1) - (b.from ?? -1) || a.to - b.to)
      before = index
      return {
        sessions: listed.reduce((sum, { sessions: n }) => sum + n, 0),
        places: listed.map(({ of: _, ...place }) => place),
        links: linked,
      }
    }),
  }
}
