import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { selectSessions } from '../closeup/selection.ts'
import { Dictionaries } from '../events/dictionaries.ts'
import type { Line } from '../events/line.ts'
import { answer } from '../sets/analysis.ts'
import { SessionSet } from '../sets/session-set.ts'
import { median } from '../stats/quantile.ts'
import { blockOf, PAGES, worlds } from '../test-world.ts'
import { funnel } from './funnel.ts'
import type { Step } from './spec.ts'

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
    result: answer(funnel, [{ block, sessions: SessionSet.all(block.sessions.count) }], { steps, names }),
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
        const spec = { steps, names: b.names }
        const blocks = [a, b].map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
        expect(answer(funnel, blocks, spec)).toEqual(whole)
        expect(answer(funnel, blocks.reverse(), spec)).toEqual(whole)
      }),
    )
  })

  it('opens to exactly the sessions it counts', () => {
    fc.assert(
      fc.property(worlds, stepsOf, (sessions, steps) => {
        const { block, names, result } = ask(sessions, steps)
        const all = SessionSet.all(block.sessions.count)
        const size = (selection: Parameters<typeof selectSessions>[2]) =>
          selectSessions(block, all, selection, names).sessions.count()
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
