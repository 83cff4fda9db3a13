import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { STRAIN_WEIGHTS, weightsOf } from '../../labels/strain-weights.ts'
import { StrainLoad, strainOf } from '../../signals/strain.ts'
import { signalsOfLines } from '../../testing/signals-of-lines.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import { strain } from './strain.ts'

/** Strain of signals, added up as docs/strain.md says it. */
function plainStrain(kinds: readonly SignalKind[], weights = STRAIN_WEIGHTS): number {
  let load = 0
  kinds.forEach((kind, i) => {
    const nth = kinds.slice(0, i + 1).filter((one) => one === kind).length
    load += weights[kind] / nth
  })
  return Math.round(10_000 * (1 - 0.5 ** (load / 8))) / 100
}
const kindsOf = (lines: readonly Line[]) => signalsOfLines(lines).map(({ kind }) => kind)

describe('strain', () => {
  it('is none without signals, more with each, ever less by repetition, and below 100', () => {
    expect(strainOf(0)).toBe(0)
    const repeated = [1, 2, 3, 4, 5].map((n) => plainStrain(new Array<SignalKind>(n).fill('dead click')))
    const steps = repeated.map((value, k) => value - (repeated[k - 1] ?? 0))
    for (const step of steps) expect(step).toBeGreaterThan(0)
    for (let k = 1; k < steps.length; k++) expect(steps[k]!).toBeLessThan(steps[k - 1]!)
    expect(plainStrain(new Array<SignalKind>(50).fill('rage click'))).toBeLessThan(100)
    const load = new StrainLoad(STRAIN_WEIGHTS)
    load.add(0)
    load.take()
    expect(load.take()).toBe(0)
  })
  it('of sessions and of views is what signals found line by line add up to, by any attribute', () => {
    const asked = fc.record(
      {
        by: fc.constantFrom('device' as const, 'channel' as const, 'page' as const, 'week' as const, null),
        weights: fc.record({ 'dead click': fc.constantFrom(0, 4), 'script error': fc.constantFrom(0.5, 20) }),
      },
      { requiredKeys: [] },
    )
    fc.assert(
      fc.property(worlds, asked, (world, { by = null, weights }) => {
        const { block, names } = blockOf(world)
        const used = weights ? weightsOf(weights) : STRAIN_WEIGHTS
        const answer = answerTo(
          strain,
          [{ block, sessions: SessionSet.all(world.length) }],
          { by, ...(weights && { weights }) },
          about(names, { lens: { from: '1970-01-01', to: '1970-12-31', devices: [] } }),
        )
        const values = world.map((lines) => plainStrain(kindsOf(lines), used))
        const mean = (own: readonly number[]) => own.reduce((sum, value) => sum + value, 0) / own.length
        expect(answer.sessions).toBe(world.length)
        if (world.length) expect(answer.mean).toBeCloseTo(mean(values), 9)
        else expect(answer.mean).toBeNull()
        expect(answer.bands.map(({ sessions }) => sessions)).toEqual(
          [
            [0, 20],
            [20, 50],
            [50, 75],
            [75, 101],
          ].map(([from, to]) => values.filter((value) => value >= from! && value < to!).length),
        )
        expect(answer.histogram.reduce((sum, n) => sum + n, 0)).toBe(world.length)
        const expected = new Map<string, number[]>()
        const add = (name: string, value: number) =>
          expected.set(name, [...(expected.get(name) ?? []), value])
        world.forEach((lines, s) => {
          if (by === 'device') add(s % 2 ? 'mobile' : 'desktop', values[s]!)
          if (by === 'channel') add(s % 3 ? 'Direct' : 'Email', values[s]!)
          if (by === 'week') add('1970-W01', values[s]!)
          if (by !== 'page') return
          const found = signalsOfLines(lines)
          lines.forEach((line, i) => {
            if (line.kind !== 'page') return
            const to = lines.findIndex((other, k) => k > i && other.kind === 'page')
            const own = found
              .filter(({ first }) => first >= i && (to < 0 || first < to))
              .map(({ kind }) => kind)
            add(line.url!, plainStrain(own, used))
          })
        })
        expect(answer.parts.map(({ value }) => value).sort()).toEqual([...expected.keys()].sort())
        for (const { value, n, mean: own } of answer.parts) {
          expect(n).toBe(expected.get(value)!.length)
          expect(own).toBeCloseTo(mean(expected.get(value)!), 9)
        }
      }),
      { numRuns: 300 },
    )
  })
  it('of variants counts each session for what it was given last, held against its own experiment', () => {
    const visit = (variants: [string, string][], deads: number): Line[] => [
      { visitor: 'v', t: 0, kind: 'page', url: '/a' },
      ...variants.map(([experiment, variant], k): Line => ({
        ...{ visitor: 'v', t: k + 1, kind: 'variant', experiment, variant },
      })),
      ...Array.from({ length: deads }, (_, k): Line => ({
        ...{ visitor: 'v', t: 10_000 * (k + 1), kind: 'click', effect: 'none' },
        target: { selector: '#x' },
      })),
    ]
    const world = [
      visit([['head', 'a']], 0),
      visit([['head', 'a']], 0),
      visit(
        [
          ['head', 'a'],
          ['head', 'b'],
          ['foot', 'x'],
        ],
        1,
      ),
      visit([['head', 'b']], 2),
      visit([], 5),
    ]
    const { block, names } = blockOf(world)
    const { parts } = answerTo(
      strain,
      [{ block, sessions: SessionSet.all(world.length) }],
      { by: 'variant' },
      about(names),
    )
    const one = plainStrain(['dead click'])
    const two = plainStrain(['dead click', 'dead click'])
    expect(parts.map(({ value, n }) => [value, n])).toEqual([
      ['head: b', 2],
      ['foot: x', 1],
      ['head: a', 2],
    ])
    expect(parts[0]!.mean).toBeCloseTo((one + two) / 2, 9)
    expect(parts[0]!.difference).toBeCloseTo((one + two) / 2, 9)
    expect(parts[1]!.difference).toBeNull()
  })
  it('is the same in one block as in two, to the last bit', () => {
    fc.assert(
      fc.property(worlds, fc.nat(12), (world, cut) => {
        const { block, names } = blockOf(world)
        const all = Array.from({ length: world.length }, (_, s) => s)
        const part = (own: number[]) => {
          const sessions = new SessionSet(world.length)
          for (const s of own) sessions.add(s)
          return { block, sessions }
        }
        const ask = (blocks: ReturnType<typeof part>[]) =>
          answerTo(strain, blocks, { by: 'page' }, about(names))
        expect(ask([part(all.slice(0, cut)), part(all.slice(cut))])).toEqual(ask([part(all)]))
      }),
      { numRuns: 100 },
    )
  })
})
