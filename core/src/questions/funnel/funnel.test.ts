import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { answer } from '../../columns/scan.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { leakErrors } from '../../select/chains/leak-errors.ts'
import type { FunnelSelection } from '../../select/grammar/conditions.ts'
import type { Step } from '../../select/grammar/steps.ts'
import { selectSessions } from '../../select/sessions.ts'
import { median } from '../../stats/quantile.ts'
import { about, answerTo, blockOf, PAGES, worlds } from '../../testing/world.ts'
import { funnel } from './funnel.ts'

const step: fc.Arbitrary<Step> = fc.oneof(
  { weight: 4, arbitrary: fc.constantFrom(...PAGES).map((page): Step => ({ type: 'page', page })) },
  { weight: 1, arbitrary: fc.constant<Step>({ type: 'click', selector: '#x' }) },
)
const stepsOf = fc.array(step, { minLength: 1, maxLength: 4 })

/** The obvious way: try every ascending choice of events. */
function deepest(lines: readonly Line[], steps: readonly Step[]): number {
  const fits = (line: Line, s: Step) =>
    s.type === 'page'
      ? line.kind === 'page' && line.url === s.page
      : line.kind === 'click' && s.type === 'click' && line.target?.selector === s.selector
  const from = (start: number, k: number): number => {
    if (k === steps.length) return k
    let best = k
    for (let i = start; i < lines.length; i++)
      if (fits(lines[i]!, steps[k]!)) best = Math.max(best, from(i + 1, k + 1))
    return best
  }
  return from(0, 0)
}

const ask = (sessions: Line[][], steps: Step[]) => {
  const { block, names } = blockOf(sessions)
  return {
    block,
    names,
    result: answerTo(
      funnel,
      [{ block, sessions: SessionSet.all(block.sessions.count) }],
      { steps },
      about(names),
    ),
  }
}

describe('funnel', () => {
  it('counts what trying every choice counts', () => {
    fc.assert(
      fc.property(worlds, stepsOf, (sessions, steps) => {
        const { result } = ask(sessions, steps)
        const depths = sessions.map((lines) => deepest(lines, steps))
        expect(result.steps.map((s) => s.sessions)).toEqual(
          steps.map((_, k) => depths.filter((d) => d > k).length),
        )
        expect(result.entered).toBe(depths.filter((d) => d > 0).length)
      }),
      { numRuns: 400 },
    )
  })

  it('explains every lost session exactly once', () => {
    fc.assert(
      fc.property(worlds, stepsOf, (sessions, steps) => {
        for (const s of ask(sessions, steps).result.steps)
          expect(s.leak.reduce((sum, part) => sum + part.sessions, 0)).toBe(s.lost)
      }),
    )
  })

  it('gives the same over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, stepsOf, (first, second, steps) => {
        const whole = ask([...first, ...second], steps).result
        const dictionaries = new Dictionaries()
        const a = blockOf(first, dictionaries)
        const b = blockOf(second, dictionaries)
        const context = about(b.names)
        const blocks = [a, b].map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
        expect(answerTo(funnel, blocks, { steps }, context)).toEqual(whole)
        expect(answerTo(funnel, blocks.reverse(), { steps }, context)).toEqual(whole)
      }),
    )
  })

  it('opens to exactly the sessions it counts', () => {
    fc.assert(
      fc.property(worlds, stepsOf, (sessions, steps) => {
        const { block, names, result } = ask(sessions, steps)
        const all = SessionSet.all(block.sessions.count)
        const size = (selection: FunnelSelection) => {
          const errors = answer(leakErrors, [{ block, sessions: all }], { selection, names })
          return selectSessions(block, all, { ...selection, errors }, names).sessions.count()
        }
        result.steps.forEach((s, k) => {
          const at = { type: 'funnel', steps, step: k } as const
          expect(size({ ...at, side: 'reached' })).toBe(s.sessions)
          expect(size({ ...at, side: 'dropped' })).toBe(s.lost)
          expect(size({ ...at, side: 'continued' })).toBe(k + 1 < steps.length ? s.sessions - s.lost : 0)
          for (const part of s.leak)
            expect(size({ ...at, side: 'dropped', leak: part.kind, page: part.page })).toBe(part.sessions)
        })
      }),
    )
  })

  const page = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
  const steps: Step[] = ['/a', '/b'].map((name) => ({ type: 'page', page: name }))
  const dead = (t: number): Line => ({
    visitor: 'v',
    t,
    kind: 'click',
    effect: 'none',
    target: { selector: '#x', tag: 'div' },
  })

  it.each<[string, Line[], { kind: string; page: string | null }]>([
    ['leaving at once', [page(0, '/a')], { kind: 'left', page: null }],
    ['leaving after a dead click', [page(0, '/a'), dead(5)], { kind: 'trouble', page: null }],
    ['another page', [page(0, '/a'), page(5, '/c')], { kind: 'other', page: '/c' }],
    ['a page seen before', [page(0, '/c'), page(1, '/a'), page(5, '/c')], { kind: 'back', page: '/c' }],
    [
      'an error before another page',
      [page(0, '/a'), { visitor: 'v', t: 3, kind: 'error', message: 'x' }, page(5, '/c')],
      { kind: 'error', page: null },
    ],
    [
      'what came after the last time at the step',
      [page(0, '/a'), page(5, '/c'), page(9, '/a')],
      { kind: 'left', page: null },
    ],
    [
      'a reload of the same page is no other page',
      [page(0, '/a'), page(5, '/a')],
      { kind: 'left', page: null },
    ],
  ])('says what the lost did instead: %s', (_, lines, part) => {
    expect(ask([lines], steps).result.steps[0]!.leak).toEqual([{ ...part, sessions: 1 }])
  })

  it('names an error as the reason exactly where the lost met it clearly more often than those who went on', () => {
    /** so many sessions that met these errors at the step and then saw this page, or none */
    interface Kind {
      n: number
      errors: string[]
      then: '/b' | '/c' | null
    }
    const kind: fc.Arbitrary<Kind> = fc.record({
      n: fc.nat(40),
      errors: fc.uniqueArray(fc.constantFrom('e1', 'e2', 'e3'), { maxLength: 2 }),
      then: fc.constantFrom('/b', '/c', null),
    })
    let decided = 0
    fc.assert(
      fc.property(fc.array(kind, { minLength: 2, maxLength: 8 }), (kinds) => {
        const sessions = kinds.flatMap(({ n, errors, then }) =>
          Array.from({ length: n }, (): Line[] => [
            page(0, '/a'),
            ...errors.map((message, i): Line => ({ visitor: 'v', t: i + 1, kind: 'error', message })),
            ...(then ? [page(10, then)] : []),
          ]),
        )
        if (!sessions.length) return
        const total = (of: (one: Kind) => boolean) => kinds.filter(of).reduce((sum, { n }) => sum + n, 0)
        const lost = total(({ then }) => then !== '/b')
        const continued = total(({ then }) => then === '/b')
        const counts = ['e1', 'e2', 'e3'].filter((error) => {
          const has = ({ errors }: Kind) => errors.includes(error)
          const ofLost = total((one) => has(one) && one.then !== '/b')
          if (!ofLost) return false
          if (!continued) return true
          return (
            lowerNewcombe(
              ofLost,
              lost,
              total((one) => has(one) && one.then === '/b'),
              continued,
            ) > 0
          )
        })
        const reasons = { error: 0, other: 0, left: 0 }
        for (const { n, errors, then } of kinds)
          if (then !== '/b')
            reasons[errors.some((one) => counts.includes(one)) ? 'error' : then ? 'other' : 'left'] += n
        const { leak } = ask(sessions, steps).result.steps[0]!
        expect(Object.fromEntries(leak.map((part) => [part.kind, part.sessions]))).toEqual(
          Object.fromEntries(Object.entries(reasons).filter(([, n]) => n > 0)),
        )
        if (counts.length && reasons.error < lost) decided++
      }),
    )
    expect(decided).toBeGreaterThan(0)
  })

  it('does not count an error that those who went on met as often, nor one of another message', () => {
    const error = (t: number, message: string): Line => ({ visitor: 'v', t, kind: 'error', message })
    const lost = (message: string) => [page(0, '/a'), error(3, message), page(5, '/c')]
    const gone = (message: string) => [page(0, '/a'), error(3, message), page(5, '/b')]
    const times = (n: number, lines: Line[]) => Array.from({ length: n }, () => lines)
    const leakAmong = (...sessions: Line[][][]) => ask(sessions.flat(), steps).result.steps[0]!.leak
    expect(leakAmong(times(30, lost('x')), times(30, gone('x')))).toEqual([
      { kind: 'other', page: '/c', sessions: 30 },
    ])
    expect(leakAmong(times(30, lost('x')), times(30, gone('y')))).toEqual([
      { kind: 'error', page: null, sessions: 30 },
    ])
    // Met after the next step was reached, or on another page, it says nothing of this step.
    const later = [page(0, '/a'), page(5, '/b'), error(7, 'x')]
    expect(leakAmong(times(30, lost('x')), times(30, later))).toEqual([
      { kind: 'error', page: null, sessions: 30 },
    ])
  })

  it('takes the whole way from the first time at the first step to the last step', () => {
    const { result } = ask(
      [1000, 3000, 20_000].map((t) => [page(0, '/a'), page(5, '/a'), page(t, '/b')]),
      steps,
    )
    expect(result.whole).toMatchObject({ p25Ms: 2000, medianMs: 3000, p75Ms: 11_500 })
    expect(ask([[page(0, '/a')]], steps).result.whole.medianMs).toBeNull()
    expect(ask([[page(0, '/a')]], steps.slice(0, 1)).result.whole.medianMs).toBeNull()
  })

  it('takes the time from the first time at a step to the next step', () => {
    const times = [1000, 3000, 20_000]
    const { result } = ask(
      times.map((t) => [page(0, '/a'), page(t, '/b')]),
      steps,
    )
    expect(result.steps[0]!.toNext.medianMs).toBe(median(times))
    expect(result.steps[0]!.toNext.histogram.reduce((a, b) => a + b)).toBe(3)
    expect(result.steps[0]!.toNext.histogram.slice(0, 5)).toEqual([1, 1, 0, 0, 1])
  })

  it('has no share where there is no base', () => {
    const { result } = ask([], steps)
    expect(result.steps[1]!.ofPrevious).toEqual({ hits: 0, base: 0, share: null, interval: [0, 1] })
  })

  it('never meets a step that names nothing known', () => {
    expect(ask([[page(0, '/a')]], [{ type: 'page', page: '/nowhere' }]).result.entered).toBe(0)
    expect(ask([[page(0, '/a')]], [{ type: 'click', selector: '#nowhere' }]).result.entered).toBe(0)
  })
})

/** Lower end of the 95 % interval of a difference of shares, both with a base: Newcombe (1998), method 10. */
function lowerNewcombe(x1: number, n1: number, x2: number, n2: number): number {
  const z = 1.959963984540054
  const wilson = (x: number, n: number) => {
    const middle = (x + z ** 2 / 2) / (n + z ** 2)
    const half = (z * Math.sqrt((x * (n - x)) / n + z ** 2 / 4)) / (n + z ** 2)
    return [middle - half, middle + half] as const
  }
  const [p1, p2] = [x1 / n1, x2 / n2]
  return p1 - p2 - Math.hypot(p1 - wilson(x1, n1)[0], wilson(x2, n2)[1] - p2)
}
