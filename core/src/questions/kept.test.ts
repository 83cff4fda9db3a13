import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Block } from '../columns/block.ts'
import { Dictionaries } from '../columns/dictionaries.ts'
import { SessionSet } from '../columns/session-set.ts'
import type { Line } from '../events/line.ts'
import { groupTargets } from '../labels/element-families.ts'
import type { Names } from '../labels/names.ts'
import type { PageGroupRule } from '../labels/page-groups.ts'
import { groupPages } from '../labels/page-groups.ts'
import type { Condition, Selection } from '../select/grammar/conditions.ts'
import type { FunnelOptions } from '../select/grammar/funnel-options.ts'
import type { Noise } from '../select/grammar/noise.ts'
import type { Step } from '../select/grammar/steps.ts'
import { withoutNoise } from '../select/noise.ts'
import { sessionsWhere } from '../select/sessions.ts'
import { buildBlock } from '../signals/blocks.ts'
import { someConditions } from '../testing/conditions.ts'
import { funnelOptions, funnelSteps } from '../testing/funnels.ts'
import { about, answerTo, PAGES, rowsOf, worlds } from '../testing/world.ts'
import { funnel } from './funnel/funnel.ts'
import { pathNodes, paths } from './paths/paths.ts'
import { size } from './size/size.ts'

/*
 * Blocks and questions keep what was found out about them, for whoever asks next. Whatever was asked before, by whichever
 * names pages went then and however many words have come since, an answer is the one that a fresh start gives.
 */

const NAMINGS: PageGroupRule[][] = [
  [],
  [{ name: '/a', pattern: '/b' }],
  [
    { name: '/b', pattern: '/a' },
    { name: '/b', pattern: '/d' },
  ],
]

/** a session in which next to nothing happens */
const NOTHING: Line[] = [{ visitor: 'v', t: 0, kind: 'page', url: '/e' }]
const NOISE: Noise[] = [{ type: 'events', event: { page: { is: 'equal', to: '/b' } } }]

const ALWAYS = {
  lens: { from: '1970-01-01', to: '2999-12-31', devices: [] },
  fromMs: -Infinity,
  toMs: Infinity,
}

interface Asked {
  selection: Selection
  where: Condition | null
  clean: boolean
}

const page = fc.constantFrom(...PAGES)
const asked: fc.Arbitrary<Asked> = fc.record({
  where: fc.option(someConditions),
  clean: fc.boolean(),
  selection: fc.oneof(
    page.map((one): Selection => ({ type: 'page', page: one })),
    page.map((one): Selection => ({ type: 'clicks', page: one, which: 'all' })),
    someConditions.map((condition): Selection => ({ type: 'where', condition })),
    fc
      .tuple(funnelSteps, funnelOptions, fc.constantFrom('reached', 'dropped'))
      .map(([steps, options, side]): Selection => ({
        ...{ type: 'funnel', steps, side, step: 0 },
        options: { ...options, per: 'session', trend: null },
      })),
    page.map((one): Selection => ({
      type: 'set',
      set: `set of ${one}`,
      of: { ...ALWAYS, selection: { type: 'page', page: one } },
    })),
  ),
})

/** A block; further words that come later; and which questions are asked, by which names, as they are or worded anew. */
const histories = fc.record({
  world: worlds,
  few: fc.boolean(),
  questions: fc.array(asked, { minLength: 1, maxLength: 4 }),
  turns: fc.array(
    fc.record({
      question: fc.nat(),
      naming: fc.nat(NAMINGS.length - 1),
      anew: fc.boolean(),
      more: fc.boolean(),
    }),
    { minLength: 1, maxLength: 8 },
  ),
})

const named = (dictionaries: Dictionaries, rules: PageGroupRule[]): Names => ({
  dictionaries,
  groups: groupPages(dictionaries.page, rules),
  families: groupTargets(dictionaries.target),
})

/** All that is to be known of a question. */
function told(blocks: readonly Block[], few: boolean, { selection, where, clean }: Asked, names: Names) {
  const of = blocks.map((block) => {
    const seen = clean ? withoutNoise(block, NOISE, names) : block
    const asked = SessionSet.where(seen.sessions.count, (s) => !few || s % 9 === 1)
    return { block: seen, sessions: where ? sessionsWhere(seen, asked, where, names) : asked }
  })
  const context = about(names)
  return {
    sessions: of.map(({ sessions }) => [...sessions]),
    size: answerTo(size, of, { selection }, context),
    paths: pathNodes(answerTo(paths, of, { selection }, context)),
    ...(selection.type === 'funnel' && {
      funnel: answerTo(funnel, of, { steps: selection.steps, options: selection.options! }, context),
      counts: answerTo(
        funnel,
        of,
        { steps: selection.steps, options: selection.options!, counts: true },
        context,
      ),
    }),
  }
}

describe('what is kept', () => {
  it('changes no answer, whatever was asked before', () => {
    fc.assert(
      fc.property(histories, ({ world, few, questions, turns }) => {
        // Enough sessions that some of them can be few.
        const all = [Array.from({ length: few ? 4 : 1 }, () => world).flat()]
        const dictionaries = new Dictionaries()
        const blocks = all.map((sessions) => buildBlock(rowsOf(sessions), dictionaries))
        const byRules = new Map<PageGroupRule[], Names>()
        for (const [turn, { question, naming, anew, more }] of turns.entries()) {
          if (more) {
            const lines = ['/a', `/new/${turn}`, '/b'].map((url, t): Line => ({
              visitor: 'w',
              t,
              kind: 'page',
              url,
            }))
            all.push([lines])
            blocks.push(buildBlock(rowsOf([lines]), dictionaries))
            byRules.clear()
          }
          const rules = NAMINGS[naming]!
          const names = byRules.get(rules) ?? named(dictionaries, rules)
          byRules.set(rules, names)
          const one = questions[question % questions.length]!
          const fresh = new Dictionaries()
          const untouched = all.map((sessions) => buildBlock(rowsOf(sessions), fresh))
          expect(told(blocks, few, anew ? structuredClone(one) : one, names)).toEqual(
            told(untouched, few, structuredClone(one), named(fresh, rules)),
          )
        }
      }),
      { numRuns: 300 },
    )
  })
  it('changes no funnel, whoever was counted and whichever page was called what before', () => {
    const pairs = fc.record({
      world: worlds,
      steps: funnelSteps,
      // With a limit, so that sessions are read one by one.
      options: funnelOptions.map((one) => ({ ...one, withinMs: one.withinMs ?? 4000 })),
      namings: fc.array(fc.nat(NAMINGS.length - 1), { minLength: 2, maxLength: 3 }),
    })
    fc.assert(
      fc.property(pairs, ({ world, steps, options, namings }) => {
        // The first ones are few: of the others nothing is said.
        const sessions = [world, ...Array.from({ length: 9 }, () => world.map(() => NOTHING))].flat()
        const dictionaries = new Dictionaries()
        const block = buildBlock(rowsOf(sessions), dictionaries)
        const spec = { steps, options: { ...options, per: 'session' as const } }
        for (const naming of namings) {
          const names = named(dictionaries, NAMINGS[naming]!)
          const ask = (of: Block, spec: { steps: Step[]; options: FunnelOptions }) =>
            answerTo(funnel, [{ block: of, sessions: SessionSet.all(sessions.length) }], spec, about(names))
          expect(ask(block, spec)).toEqual(
            ask(buildBlock(rowsOf(sessions), dictionaries), structuredClone(spec)),
          )
        }
      }),
      { numRuns: 500 },
    )
  })
})
