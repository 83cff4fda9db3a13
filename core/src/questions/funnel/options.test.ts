import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { funnelOptions as options, funnelSteps as stepsOf } from '../../testing/funnels.ts'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { answer } from '../../columns/scan.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { EventCondition } from '../../labels/event-condition.ts'
import { visitorMoments } from '../../select/chains/visitor-moments.ts'
import type { FunnelSelection } from '../../select/grammar/conditions.ts'
import type { FunnelOptions } from '../../select/grammar/funnel-options.ts'
import { DEFAULT_OPTIONS, funnelOptionsSchema } from '../../select/grammar/funnel-options.ts'
import type { Step } from '../../select/grammar/steps.ts'
import { selectSessions } from '../../select/sessions.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { about, answerTo, namesOf, rowsOf, worlds } from '../../testing/world.ts'
import { size } from '../size/size.ts'
import { funnel } from './funnel.ts'

interface Seen {
  line: Line
  page: string
  firstView: boolean
}

/* The obvious way: every ascending choice of events, looked at whether it keeps to all the rules. */

function fits({ line, page }: Seen, condition: EventCondition): boolean {
  return (
    (!condition.kinds || condition.kinds.includes(line.kind)) &&
    (!condition.page ||
      (condition.page.is === 'one of'
        ? condition.page.to.includes(page)
        : condition.page.is === 'equal' && condition.page.to === page)) &&
    (!condition.any || condition.any.some((one) => fits({ line, page, firstView: false }, one)))
  )
}

function isStep(seen: Seen, wanted: Step): boolean {
  if (wanted.type === 'page') return seen.line.kind === 'page' && seen.line.url === wanted.page
  if (wanted.type === 'click')
    return seen.line.kind === 'click' && seen.line.target?.selector === wanted.selector
  return fits(seen, wanted.event)
}

function deepest(all: readonly Seen[], steps: readonly Step[], rules: FunnelOptions): number {
  const kinds = new Set(
    steps.flatMap((one) => (one.type === 'event' ? one.event.kinds! : [one.type])) as string[],
  )
  const from = (chain: number[]): number => {
    const k = chain.length
    if (k === steps.length) return k
    let best = k
    const before = chain[k - 1]
    for (let i = before === undefined ? 0 : before + 1; i < all.length; i++) {
      const seen = all[i]!
      if (!isStep(seen, steps[k]!)) continue
      if (k === 0 && rules.entry === 'first' && !seen.firstView) continue
      if (k > 0) {
        if (rules.withinMs !== null && seen.line.t - all[chain[0]!]!.line.t > rules.withinMs) continue
        const between = all.slice(before! + 1, i)
        if (rules.between === 'nothing' && between.some(({ line }) => kinds.has(line.kind))) continue
        if (
          rules.without.some(
            ({ after, event }) =>
              after === k - 1 && after < steps.length - 1 && between.some((one) => fits(one, event)),
          )
        )
          continue
      }
      best = Math.max(best, from([...chain, i]))
    }
    return best
  }
  return from([])
}

/** Sessions one after another, as sessions of one visitor are. */
const spaced = (world: Line[][]): Line[][] =>
  world.map((lines, s) => lines.map((line) => ({ ...line, t: line.t + s * 1_000_000 })))

function units(world: Line[][], per: FunnelOptions['per']): Seen[][] {
  const visitorOf = (s: number) => rowsOf(world)[s]!.visitor
  const grouped = new Map<string, Line[][]>()
  world.forEach((lines, s) => {
    const key = per === 'visitor' ? visitorOf(s) : String(s)
    grouped.set(key, [...(grouped.get(key) ?? []), lines])
  })
  return [...grouped.values()].map((sessions) => {
    let first = true
    return sessions.flatMap((lines) => {
      let page = ''
      return lines.map((line) => {
        if (line.url !== undefined) page = line.url
        const firstView = first && line.kind === 'page'
        if (firstView) first = false
        return { line, page, firstView }
      })
    })
  })
}

/** A lens over so many days from the first one of all on. */
const firstDays = (n: number) => ({ from: '1970-01-01', to: `1970-01-0${n}`, devices: [] })

const ask = (world: Line[][], steps: Step[], rules: Partial<FunnelOptions>, cut = world.length) => {
  const dictionaries = new Dictionaries()
  const rows = rowsOf(world)
  const blocks = [rows.slice(0, cut), rows.slice(cut)].map((part) => buildBlock(part, dictionaries))
  const names = namesOf(dictionaries)
  const selected = blocks.map((block) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
  const all = { ...DEFAULT_OPTIONS, ...rules }
  const asked = { steps, options: all }
  return { names, selected, result: answerTo(funnel, selected, asked, about(names, { lens: firstDays(1) })) }
}

describe('funnel with options', () => {
  it('finds a chain whenever there is one: counts what trying every choice counts', () => {
    fc.assert(
      fc.property(worlds, stepsOf, options, (random, steps, rules) => {
        const world = spaced(random)
        const { result } = ask(world, steps, rules)
        const depths = units(world, rules.per).map((all) => deepest(all, steps, rules))
        expect(result.sessions).toBe(depths.length)
        expect(result.steps.map((one) => one.sessions)).toEqual(
          steps.map((_, k) => depths.filter((depth) => depth > k).length),
        )
      }),
      { numRuns: 1500 },
    )
  })

  it('finds for visitors of one session each the same as for their sessions, times and leaks included', () => {
    fc.assert(
      fc.property(worlds, stepsOf, fc.oneof(options, fc.constant(DEFAULT_OPTIONS)), (world, steps, rules) => {
        // Three visitors in all: of each its first session.
        const single = spaced(world.slice(0, 3))
        const [visitors, sessions] = (['visitor', 'session'] as const).map(
          (per) => ask(single, steps, { ...rules, per, by: null, trend: null }).result,
        )
        expect(visitors).toEqual(sessions)
      }),
      { numRuns: 300 },
    )
  })

  it('times each step from its first chance where nothing limits, for sessions and visitors alike', () => {
    const at = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
    const world = [[at(0, '/a'), at(1000, '/a'), at(5000, '/b')]]
    const steps = ['/a', '/b'].map((page): Step => ({ type: 'page', page }))
    for (const per of ['session', 'visitor'] as const)
      expect(ask(world, steps, { per }).result.steps[0]!.toNext.medianMs).toBe(5000)
  })

  it('opens of visitors exactly those it counts, each by the session of the moment', () => {
    fc.assert(
      fc.property(worlds, stepsOf, options, fc.nat(12), (random, steps, rules, cut) => {
        const world = spaced(random)
        const over = { ...DEFAULT_OPTIONS, ...rules, per: 'visitor' as const, trend: null }
        const { names, selected, result } = ask(world, steps, over, cut % (world.length + 1))
        const sizeOf = (side: FunnelSelection['side'], step: number, more: Partial<FunnelSelection> = {}) => {
          const selection = { type: 'funnel' as const, steps, options: over, step, side, ...more }
          const moments = answer(visitorMoments, selected, { selection, ...about(names) })
          for (const { block, sessions } of selected) {
            const chosen = selectSessions(block, sessions, { ...selection, moments }, names)
            chosen.sessions.forEach((s) => {
              expect(chosen.base.has(s)).toBe(true)
              expect(chosen.event[s]).toBeGreaterThanOrEqual(block.sessions.firstEvent[s]!)
              expect(chosen.event[s]).toBeLessThan(block.sessions.firstEvent[s + 1]!)
            })
          }
          return answerTo(size, selected, { selection: { ...selection, moments } }, about(names))
        }
        for (const [step, own] of result.steps.entries()) {
          const reached = sizeOf('reached', step)
          expect(reached.hits).toBe(own.sessions)
          expect(reached.base).toBe(result.steps[0]!.sessions)
          const dropped = sizeOf('dropped', step)
          expect([dropped.hits, dropped.base]).toEqual([own.lost, own.sessions])
          expect(sizeOf('continued', step).hits).toBe(result.steps[step + 1]?.sessions ?? 0)
          for (const { kind, page, sessions } of own.leak)
            expect(sizeOf('dropped', step, { leak: kind, page }).hits).toBe(sessions)
        }
      }),
      { numRuns: 300 },
    )
  })

  it('means the same visitors whichever block is looked at first, also where sessions overlap', () => {
    const at = (url: string): Line[] => [{ visitor: 'v', t: 0, kind: 'page', url }]
    fc.assert(
      fc.property(worlds, stepsOf, options, fc.nat(12), (world, steps, rules, cut) => {
        const over = { ...rules, per: 'visitor' as const, trend: null }
        const { names, selected } = ask(world, steps, over, cut % (world.length + 1))
        const context = about(names, { lens: firstDays(1) })
        const asked = { steps, options: { ...DEFAULT_OPTIONS, ...over } }
        const answers = [selected, [...selected].reverse()].map((blocks) => ({
          funnel: answerTo(funnel, blocks, asked, context),
          dropped: steps.map((_, step) => {
            const selection = { type: 'funnel' as const, ...asked, step, side: 'dropped' as const }
            return answer(visitorMoments, blocks, { selection, ...context })
          }),
        }))
        expect(answers[1]).toEqual(answers[0])
      }),
      {
        numRuns: 300,
        // Two sessions of one visitor, the first and the fourth, that begin at the same instant.
        examples: [
          [
            [at('/a'), at('/c'), at('/d'), at('/b')],
            ['/a', '/b'].map((page): Step => ({ type: 'page', page })),
            DEFAULT_OPTIONS,
            1,
          ],
        ],
      },
    )
  })

  it('counts the same where only counts are asked for, the first time and from what blocks keep', () => {
    fc.assert(
      fc.property(worlds, stepsOf, options, (world, steps, rules) => {
        const { names, selected, result } = ask(world, steps, { ...rules, per: 'session', trend: null })
        const counted = (by: FunnelOptions['by']) =>
          answerTo(
            funnel,
            selected,
            {
              steps: steps.map((step) => ({ ...step })),
              options: { ...DEFAULT_OPTIONS, ...rules, per: 'session', trend: null, by },
              counts: true,
            },
            about(names),
          )
        for (const by of ['device', rules.by] as const) {
          const { sessions, entered, converted, steps: own, byValue } = counted(by)
          expect({ sessions, entered, converted }).toEqual({
            sessions: result.sessions,
            entered: result.entered,
            converted: result.converted,
          })
          expect(own.map((step) => step.sessions)).toEqual(result.steps.map((step) => step.sessions))
          if (by === rules.by) expect(byValue).toEqual(result.byValue)
        }
      }),
      { numRuns: 300 },
    )
  })

  it('gives the same wherever the blocks are cut, visitors across them included', () => {
    fc.assert(
      fc.property(worlds, stepsOf, options, fc.nat(12), (random, steps, rules, cut) => {
        const world = spaced(random)
        expect(ask(world, steps, rules, cut % (world.length + 1)).result).toEqual(
          ask(world, steps, rules).result,
        )
      }),
      { numRuns: 400 },
    )
  })

  it('explains every lost one once, and its parts by value and over time add up', () => {
    fc.assert(
      fc.property(worlds, stepsOf, options, (random, steps, rules) => {
        const world = spaced(random)
        const { result } = ask(world, steps, { ...rules, by: 'device', trend: 'day' })
        for (const one of result.steps)
          expect(one.leak.reduce((sum, part) => sum + part.sessions, 0)).toBe(one.lost)
        for (const parts of [result.byValue!, result.overTime!]) {
          const sum = (of: (part: (typeof parts)[number]) => number) =>
            parts.reduce((total, part) => total + of(part), 0)
          expect(sum((part) => part.sessions)).toBe(result.sessions)
          expect(sum((part) => part.entered)).toBe(result.entered)
          expect(sum((part) => part.converted)).toBe(result.converted)
        }
      }),
      { numRuns: 400 },
    )
  })

  it('opens to exactly the sessions it counts', () => {
    fc.assert(
      fc.property(worlds, stepsOf, options, (world, steps, rules) => {
        const perSession = { ...rules, per: 'session' as const }
        const { result, selected, names } = ask(world, steps, perSession)
        result.steps.forEach((one, k) => {
          const at = { type: 'funnel', steps, options: perSession, step: k } as const
          const size = (side: 'reached' | 'dropped') =>
            selected.reduce(
              (sum, { block, sessions }) =>
                sum + selectSessions(block, sessions, { ...at, side }, names).sessions.count(),
              0,
            )
          expect(size('reached')).toBe(one.sessions)
          expect(size('dropped')).toBe(one.lost)
        })
      }),
      { numRuns: 300 },
    )
  })

  const view = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
  const ab: Step[] = ['/a', '/b'].map((page) => ({ type: 'page', page }))
  const depthOf = (lines: Line[], rules: Partial<FunnelOptions>) =>
    ask([lines], ab, rules).result.steps.filter((one) => one.sessions > 0).length

  it('counts a late start where the first one is too long ago', () => {
    const lines = [view(0, '/a'), view(50_000, '/a'), view(55_000, '/b')]
    expect(depthOf(lines, { withinMs: 10_000 })).toBe(2)
    expect(
      depthOf(
        lines.filter(({ t }) => t !== 50_000),
        { withinMs: 10_000 },
      ),
    ).toBe(1)
    // The time is that of the chain that counts.
    const { result } = ask([lines], ab, { withinMs: 10_000 })
    expect(result.steps[0]!.toNext.medianMs).toBe(5000)
  })
  it('lets nothing of several exclusions after one step lie between, for one of many sessions as for all', () => {
    const click = (selector: string): Line => ({
      ...{ visitor: 'v', t: 0, kind: 'click', effect: 'none', x: 5, y: 5, rx: 0, ry: 0 },
      target: { selector, tag: 'button' },
    })
    const steps: Step[] = [
      { type: 'page', page: '/a' },
      { type: 'click', selector: '#x' },
    ]
    const without = [{ any: [{ kinds: ['click' as const] }] }, { kinds: ['page' as const] }].map((event) => ({
      after: 0,
      event,
    }))
    const one = [view(0, '/a'), click('#y'), click('#x')]
    for (const others of [0, 8])
      for (const order of [without, [...without].reverse()]) {
        const world = [one, ...Array.from({ length: others }, () => [view(0, '/a')])]
        expect(ask(world, steps, { without: order }).result).toMatchObject({
          entered: 1 + others,
          converted: 0,
        })
      }
  })
  it('takes the limit as included', () => {
    expect(depthOf([view(0, '/a'), view(10_000, '/b')], { withinMs: 10_000 })).toBe(2)
    expect(depthOf([view(0, '/a'), view(10_001, '/b')], { withinMs: 10_000 })).toBe(1)
  })
  it('follows a visitor over sessions, and only where asked to', () => {
    const world = [[view(0, '/a')], [], [], [view(90_000_000, '/b')]].map((lines, s) =>
      lines.length ? lines : [view(s, '/d')],
    )
    // The small world gives every third session to the same visitor.
    expect(ask(world, ab, { per: 'visitor' }).result).toMatchObject({ sessions: 3, converted: 1 })
    expect(ask(world, ab, { per: 'visitor', withinMs: 80_000_000 }).result.converted).toBe(0)
    expect(ask(world, ab, {}).result.converted).toBe(0)
  })
  it('draws a trend by when sessions began, empty days included', () => {
    const DAY = 86_400_000
    const world = [[view(0, '/a')], [view(2 * DAY, '/a'), view(2 * DAY + 5, '/b')]]
    const dictionaries = new Dictionaries()
    const block = buildBlock(rowsOf(world), dictionaries)
    const result = answerTo(
      funnel,
      [{ block, sessions: SessionSet.all(2) }],
      { steps: ab, options: { ...DEFAULT_OPTIONS, trend: 'day' } },
      about(namesOf(dictionaries), { lens: firstDays(3) }),
    )
    expect(result.overTime!.map(({ label, entered, converted }) => [label, entered, converted])).toEqual([
      ['1970-01-01', 1, 0],
      ['1970-01-02', 0, 0],
      ['1970-01-03', 1, 1],
    ])
  })
  it('has the definition’s defaults', () => {
    expect(funnelOptionsSchema.parse({})).toEqual(DEFAULT_OPTIONS)
    expect(funnelOptionsSchema.safeParse({ withinMs: -1 }).success).toBe(false)
  })
})
