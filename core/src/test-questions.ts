import fc from 'fast-check'
import { catalogue, urls } from './catalogue/catalogue.ts'
import { closeUp } from './closeup/close-up.ts'
import { selectionSize, sessionIds, watchList } from './closeup/lists.ts'
import type { Selection } from './closeup/selection.ts'
import { visitorMoments } from './closeup/visitor-moments.ts'
import { distribution, distributionOptionsSchema } from './distributions/distribution.ts'
import { eventValues } from './distributions/event-values.ts'
import { price } from './fixes/price.ts'
import { between } from './funnel/between.ts'
import { funnel } from './funnel/funnel.ts'
import type { FunnelOptions } from './funnel/options.ts'
import type { Step } from './funnel/spec.ts'
import type { Names } from './funnel/trace.ts'
import { visitorWays } from './funnel/visitor-ways.ts'
import { clickHeat } from './heat/clicks.ts'
import { onwardPaths, pathNodes, pathOptionsSchema } from './paths/onward.ts'
import { contents } from './sequences/contents.ts'
import { rawSequences, sequenceOptionsSchema } from './sequences/sequences.ts'
import type { Analysis } from './sets/analysis.ts'
import { someConditions } from './test-conditions.ts'
import { funnelOptions, funnelSteps } from './test-funnels.ts'
import { PAGES } from './test-world.ts'

/*
 * All that can be asked of sessions, to be answered in one way and in another, which must come to the same. For tests
 * only.
 */

/** However an analysis is brought to its answer. */
export type Answering = <Spec, Partial, Result>(
  analysis: Analysis<Spec, Partial, Result>,
  spec: Spec,
) => Result

/** What questions are about. */
export interface Topic {
  steps: Step[]
  options: FunnelOptions
  selection: Selection
  page: string
}

const page = fc.constantFrom(...PAGES)

function selections(steps: Step[], options: FunnelOptions): fc.Arbitrary<Selection> {
  const side = fc.constantFrom('reached', 'continued', 'dropped')
  const perSession = { ...options, per: 'session' as const }
  return fc.oneof(
    fc.constant<Selection>({ type: 'everyone' }),
    page.map((one): Selection => ({ type: 'page', page: one })),
    fc
      .record({ page, which: fc.constantFrom('all', 'rage', 'dead') })
      .map((one): Selection => ({ type: 'clicks', ...one })),
    someConditions.map((condition): Selection => ({ type: 'where', condition })),
    fc
      .record({ step: fc.nat(steps.length - 1), side })
      .map((one): Selection => ({ type: 'funnel', steps, options: perSession, ...one })),
  )
}

/** A funnel, a page, and some sessions that may be part of the funnel. */
export const topics: fc.Arbitrary<Topic> = fc.tuple(funnelSteps, funnelOptions).chain(([steps, options]) =>
  fc.record({
    page,
    steps: fc.constant(steps),
    options: fc.constant(options),
    selection: selections(steps, options),
  }),
)

/** Answers to all questions about something, by name. */
export function allAnswers(
  { steps, options, selection, page: one }: Topic,
  names: Names,
  ask: Answering,
): Record<string, unknown> {
  const visitors = { ...options, per: 'visitor' as const }
  const sessions = { ...options, per: 'session' as const }
  const selected = { selection, names }
  const paths = (part: 'pages' | 'pages and clicks', direction: 'onward' | 'back') =>
    pathNodes(ask(onwardPaths, { ...pathOptionsSchema.parse({ of: part, direction }), ...selected }))
  const moments = (side: 'reached' | 'continued' | 'dropped') =>
    steps.map((_, step) =>
      ask(visitorMoments, { selection: { type: 'funnel', steps, options: visitors, step, side }, names }),
    )
  return {
    funnel: ask(funnel, { steps, names, options: { ...options, by: 'device' } }),
    'funnel, counts alone': ask(funnel, { steps, names, options, counts: true }),
    between: ask(between, { steps, options: sessions, names }),
    'between, for visitors': ask(between, {
      ...{ steps, options: visitors, names },
      ways: ask(visitorWays, { steps, options: visitors, names }),
    }),
    'visitors that came so far': [moments('reached'), moments('continued'), moments('dropped')],
    size: ask(selectionSize, selected),
    ids: ask(sessionIds, selected),
    watch: ask(watchList, { ...selected, order: 'telling', most: 20 }),
    'close-up': ask(closeUp, selected),
    contents: ask(contents, { ...selected, level: 'page' }),
    price: ask(price, { ...selected, goal: one }),
    sequences: readable(ask(rawSequences, { ...sequenceOptionsSchema.parse({}), ...selected })),
    'paths onward': paths('pages', 'onward'),
    'paths back': paths('pages', 'back'),
    'paths with clicks': [paths('pages and clicks', 'onward'), paths('pages and clicks', 'back')],
    distribution: ask(distribution, {
      ...distributionOptionsSchema.parse({ measure: 'duration', by: 'entry page' }),
      ...selected,
    }),
    clicks: ask(clickHeat, { page: one, which: 'all', names }),
    catalogue: ask(catalogue, { mostElements: 50, names }),
    urls: ask(urls, { names }),
    values: ask(eventValues, { kind: 'click', of: 'element', most: 50, names }),
  }
}

/** Sequences with what their tokens mean, whichever numbers these have. */
function readable({ tokens, sequences, total }: ReturnType<typeof rawSequences.finish>) {
  return {
    total,
    sequences: sequences.map((one) => ({ ...one, tokens: one.tokens.map((at) => tokens[at]) })),
  }
}
