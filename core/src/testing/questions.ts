import fc from 'fast-check'
import type { AnyScan, Scan } from '../columns/scan.ts'
import type { Names } from '../labels/names.ts'
import { distributionOptionsSchema } from '../questions/distribution/distribution.ts'
import { pathOptionsSchema } from '../questions/paths/path-options.ts'
import type { Asking } from '../questions/question.ts'
import { registry } from '../questions/registry.ts'
import type { SequencesAnswer } from '../questions/sequences/sequences.ts'
import { leakErrors } from '../select/chains/leak-errors.ts'
import { visitorMoments } from '../select/chains/visitor-moments.ts'
import { visitorPaths } from '../select/visitor-paths.ts'
import type { FunnelSelection, PathSelection, Selection } from '../select/grammar/conditions.ts'
import type { FunnelOptions } from '../select/grammar/funnel-options.ts'
import type { Step } from '../select/grammar/steps.ts'
import { completeSelection } from '../select/selection-needs.ts'
import { someConditions } from './conditions.ts'
import { funnelOptions, funnelSteps } from './funnels.ts'
import { about, PAGES } from './world.ts'

/*
 * Every question of the registry, to be answered in one way and in another, which must come to the same. For tests only.
 */

/** However a scan is brought to its result. */
export type Answering = <Spec, Found, Result>(scan: Scan<Spec, Found, Result>, spec: Spec) => Result

/** What questions are about: it takes the place of what their examples say. */
export interface Topic {
  steps: Step[]
  options: FunnelOptions
  selection: Selection
  page: string
}

const page = fc.constantFrom(...PAGES)

function selections(steps: Step[], options: FunnelOptions): fc.Arbitrary<Selection> {
  const side = fc.constantFrom('reached', 'continued', 'dropped')
  return fc.oneof(
    fc.constant<Selection>({ type: 'everyone' }),
    page.map((one): Selection => ({ type: 'page', page: one })),
    fc
      .record({ page, which: fc.constantFrom('all', 'rage', 'dead') })
      .map((one): Selection => ({ type: 'clicks', ...one })),
    someConditions.map((condition): Selection => ({ type: 'where', condition })),
    fc
      .record({ step: fc.nat(steps.length - 1), side })
      .map((one): Selection => ({ type: 'funnel', steps, options, ...one })),
  )
}

/** A funnel whose options fit its steps. */
const funnels = fc
  .tuple(funnelSteps, funnelOptions)
  .map(([steps, options]): [Step[], FunnelOptions] => [
    steps,
    { ...options, without: options.without.filter(({ after }) => after < steps.length - 1) },
  ])

/** A funnel, a page, and some sessions that may be part of the funnel. */
export const topics: fc.Arbitrary<Topic> = funnels.chain(([steps, options]) =>
  fc.record({
    page,
    steps: fc.constant(steps),
    options: fc.constant(options),
    selection: selections(steps, options),
  }),
)

/** What is asked of each question besides its example. */
const VARIATIONS: Record<string, (topic: Topic) => object[]> = {
  funnel: ({ options }) => [{ options: { ...options, by: 'device' } }, { options, counts: true }],
  between: ({ options }) => [{ options }],
  paths: () =>
    ['pages', 'pages and clicks'].flatMap((of) =>
      ['onward', 'back'].flatMap((direction) =>
        ['session', 'visitor'].map((per) => ({ options: pathOptionsSchema.parse({ of, direction, per }) })),
      ),
    ),
  distribution: () => [
    { options: distributionOptionsSchema.parse({ measure: 'duration', by: 'entry page' }) },
  ],
}

/** Answers to all questions about something, by name. */
export async function allAnswers(
  topic: Topic,
  names: Names,
  answering: Answering,
): Promise<Record<string, unknown>> {
  const context = about(names, { goal: topic.page })
  const run = (scan: AnyScan, spec: object) => answering(scan, { ...spec, ...context })
  const find = {
    moments: (selection: FunnelSelection) =>
      Promise.resolve(answering(visitorMoments, { selection, ...context })),
    ways: (selection: PathSelection) => Promise.resolve(answering(visitorPaths, { selection, ...context })),
    errors: (selection: FunnelSelection) => Promise.resolve(answering(leakErrors, { selection, ...context })),
  }
  const asking = {
    ask: (scan: AnyScan, spec: object) => Promise.resolve(run(scan, spec)),
    complete: (selection: Selection | undefined) =>
      selection ? completeSelection(selection, context.lens, find) : Promise.resolve(selection),
  } as Asking
  const answers: Record<string, unknown> = {}
  for (const question of registry.questions)
    for (const [k, more] of (VARIATIONS[question.name]?.(topic) ?? [{}]).entries()) {
      const { shape } = question.asked
      const given = Object.fromEntries(
        Object.entries(topic).filter(([key]) => key in shape && key !== 'options'),
      )
      const asked = { ...question.asked.parse({ ...question.example, ...given }), ...given, ...more }
      const needed = await question.needs?.(asked, asking)
      const result = run(question, { ...asked, ...needed })
      answers[`${question.name} ${k}`] = readable(question.toAnswer ? question.toAnswer(result) : result)
    }
  return answers
}

/** Sequences with what their tokens mean, whichever numbers these have; anything else as it is. */
function readable(answer: unknown): unknown {
  if (typeof answer !== 'object' || answer === null || !('tokens' in answer)) return answer
  const { tokens, sequences, total } = answer as SequencesAnswer
  return {
    total,
    sequences: sequences.map((one) => ({ ...one, tokens: one.tokens.map((at) => tokens[at]) })),
  }
}
