import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { catalogue, urls } from '../catalogue/catalogue.ts'
import { closeUp } from '../closeup/close-up.ts'
import { selectionSize, sessionIds, watchList } from '../closeup/lists.ts'
import type { Selection } from '../closeup/selection.ts'
import { visitorMoments } from '../closeup/visitor-moments.ts'
import { sessionsWhere } from '../conditions/sessions.ts'
import { distribution, distributionOptionsSchema } from '../distributions/distribution.ts'
import { eventValues } from '../distributions/event-values.ts'
import { buildBlock } from '../events/columns.ts'
import { Dictionaries } from '../events/dictionaries.ts'
import type { Line } from '../events/line.ts'
import { price } from '../fixes/price.ts'
import { between } from '../funnel/between.ts'
import { funnel } from '../funnel/funnel.ts'
import type { FunnelOptions } from '../funnel/options.ts'
import type { Step } from '../funnel/spec.ts'
import { visitorWays } from '../funnel/visitor-ways.ts'
import { clickHeat } from '../heat/clicks.ts'
import { onwardPaths, pathOptionsSchema } from '../paths/onward.ts'
import { contents } from '../sequences/contents.ts'
import { rawSequences, sequenceOptionsSchema } from '../sequences/sequences.ts'
import { someConditions } from '../test-conditions.ts'
import { funnelOptions, funnelSteps } from '../test-funnels.ts'
import { namesOf, PAGES, rowsOf, sessionLines } from '../test-world.ts'
import type { Selected } from './analysis.ts'
import { answer } from './analysis.ts'
import { SessionSet } from './session-set.ts'

/*
 * Questions about a few of many sessions go other ways than questions about all: by search, session by session. However
 * it is done, what is said of some sessions is what is said where there are no others.
 */

/** Some sessions, and others around them that are not asked about. */
const crowds = fc.record({
  asked: fc.array(sessionLines, { minLength: 1, maxLength: 10 }),
  others: fc.array(sessionLines, { minLength: 1, maxLength: 10 }),
  /** how many others come before each one asked about */
  between: fc.constantFrom(0, 1, 9, 30),
})

function crowd(asked: Line[][], others: Line[][], between: number) {
  const world: Line[][] = []
  const places: number[] = []
  for (const [k, lines] of asked.entries()) {
    for (let i = 0; i < between; i++) world.push(others[(k + i) % others.length]!)
    places.push(world.push(lines) - 1)
  }
  // Sessions of one visitor come one after the other.
  const rows = rowsOf(world.map((lines, s) => lines.map((line) => ({ ...line, t: line.t + s * 1_000_000 }))))
  const dictionaries = new Dictionaries()
  const whole = buildBlock(rows, dictionaries)
  const alone = buildBlock(
    places.map((s) => rows[s]!),
    dictionaries,
  )
  const inCrowd = SessionSet.where(rows.length, (s) => places.includes(s))
  return {
    names: namesOf(dictionaries),
    few: [{ block: whole, sessions: inCrowd }],
    all: [{ block: alone, sessions: SessionSet.all(places.length) }],
  }
}

type World = ReturnType<typeof crowd>

/** Asks of the few among many and of them alone: the answers are the same. */
function same(world: World, ask: (of: readonly Selected[], names: World['names']) => unknown) {
  expect(ask(world.few, world.names)).toEqual(ask(world.all, world.names))
}

const page = fc.constantFrom(...PAGES)
const selections = (steps: Step[], options: FunnelOptions): fc.Arbitrary<Selection> =>
  fc.oneof(
    fc.constant<Selection>({ type: 'everyone' }),
    page.map((one): Selection => ({ type: 'page', page: one })),
    fc
      .record({ page, which: fc.constantFrom('all', 'rage', 'dead') })
      .map((one): Selection => ({ type: 'clicks', ...one })),
    someConditions.map((condition): Selection => ({ type: 'where', condition })),
    fc
      .record({
        step: fc.nat(steps.length - 1),
        side: fc.constantFrom('reached', 'continued', 'dropped'),
      })
      .map((one): Selection => ({
        type: 'funnel',
        steps,
        options: { ...options, per: 'session' },
        ...one,
      })),
  )

/** A crowd, a funnel, and a selection that may be a part of it. */
const cases = fc.tuple(funnelSteps, funnelOptions).chain(([steps, options]) =>
  fc.record({
    crowd: crowds,
    steps: fc.constant(steps),
    options: fc.constant(options),
    selection: selections(steps, options),
  }),
)

describe('of a few sessions among many', () => {
  it('a condition picks those that it picks where there are no others', () => {
    fc.assert(
      fc.property(crowds, someConditions, ({ asked, others, between: gap }, condition) => {
        const world = crowd(asked, others, gap)
        same(world, (of, names) =>
          of.flatMap(({ block, sessions }) =>
            [...sessionsWhere(block, sessions, condition, names)].map((s) => block.sessions.id[s]),
          ),
        )
      }),
      { numRuns: 300 },
    )
  })

  it('a funnel tells what it tells of them alone', () => {
    fc.assert(
      fc.property(cases, ({ crowd: { asked, others, between: gap }, steps, options }) => {
        const world = crowd(asked, others, gap)
        same(world, (of, names) =>
          answer(funnel, of, { steps, names, options: { ...options, by: 'device' } }),
        )
        same(world, (of, names) => answer(funnel, of, { steps, names, options, counts: true }))
        same(world, (of, names) => {
          const visitors = { ...options, per: 'visitor' as const }
          const ways = answer(visitorWays, of, { steps, options: visitors, names })
          return [ways, answer(between, of, { steps, options: visitors, names, ways })]
        })
        same(world, (of, names) =>
          answer(between, of, { steps, options: { ...options, per: 'session' }, names }),
        )
      }),
      { numRuns: 300 },
    )
  })

  it('whoever is selected is, with the same moments, close-up, lists, paths and prices', () => {
    fc.assert(
      fc.property(cases, page, ({ crowd: { asked, others, between: gap }, selection }, goal) => {
        const world = crowd(asked, others, gap)
        same(world, (of, names) => answer(selectionSize, of, { selection, names }))
        same(world, (of, names) => answer(sessionIds, of, { selection, names }))
        same(world, (of, names) => answer(watchList, of, { selection, order: 'telling', most: 20, names }))
        same(world, (of, names) => answer(closeUp, of, { selection, names }))
        same(world, (of, names) => answer(contents, of, { selection, level: 'page', names }))
        same(world, (of, names) => answer(price, of, { selection, goal, names }))
        same(world, (of, names) =>
          answer(rawSequences, of, { ...sequenceOptionsSchema.parse({}), selection, names }),
        )
        for (const part of ['pages', 'pages and clicks'] as const)
          for (const direction of ['onward', 'back'] as const)
            same(world, (of, names) =>
              answer(onwardPaths, of, {
                ...pathOptionsSchema.parse({ of: part, direction }),
                selection,
                names,
              }),
            )
        same(world, (of, names) =>
          answer(distribution, of, {
            ...distributionOptionsSchema.parse({ measure: 'duration', by: 'entry page' }),
            selection,
            names,
          }),
        )
      }),
      { numRuns: 200 },
    )
  })

  it('what they did, where they clicked and which addresses they saw is theirs alone', () => {
    fc.assert(
      fc.property(crowds, page, ({ asked, others, between: gap }, one) => {
        const world = crowd(asked, others, gap)
        same(world, (of, names) => answer(clickHeat, of, { page: one, which: 'all', names }))
        same(world, (of, names) => answer(catalogue, of, { mostElements: 50, names }))
        same(world, (of, names) => answer(urls, of, { names }))
        same(world, (of, names) => answer(eventValues, of, { kind: 'click', of: 'element', most: 50, names }))
      }),
      { numRuns: 200 },
    )
  })

  it('visitors are found by the session of their moment', () => {
    fc.assert(
      fc.property(cases, ({ crowd: { asked, others, between: gap }, steps, options }) => {
        const world = crowd(asked, others, gap)
        const over = { ...options, per: 'visitor' as const }
        for (const [step] of steps.entries())
          for (const side of ['reached', 'continued', 'dropped'] as const)
            same(world, (of, names) =>
              answer(visitorMoments, of, {
                selection: { type: 'funnel', steps, options: over, step, side },
                names,
              }),
            )
      }),
      { numRuns: 150 },
    )
  })
})
