import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { signalsOfLines } from '../../testing/signals-of-lines.ts'
import { about, answerTo, blockOf, rowsOf, worlds } from '../../testing/world.ts'
import { friction } from './friction.ts'
import { worseSpots } from './worse.ts'

const page = (t: number, url: string, more: Partial<Line> = {}): Line => ({
  ...{ visitor: 'v', t, kind: 'page', url },
  ...more,
})
const dead = (t: number): Line => ({
  ...{ visitor: 'v', t, kind: 'click', effect: 'none' },
  target: { selector: '#x', tag: 'div', text: 'Picture' },
})
const ask = (sessions: Line[][], goal = '/d') => {
  const { block, names } = blockOf(sessions)
  return answerTo(
    friction,
    [{ block, sessions: SessionSet.all(block.sessions.count) }],
    {},
    about(names, { goal }),
  )
}

describe('friction', () => {
  it('says of each spot whom it met, how often, and what became of them and of the others', () => {
    const { spots, sessions } = ask([
      [page(0, '/a'), dead(10), dead(9000), page(20_000, '/d')],
      [page(0, '/a'), dead(10)],
      [page(0, '/a'), page(20_000, '/d')],
      [page(0, '/b')],
    ])
    expect(sessions).toBe(4)
    expect(spots).toHaveLength(1)
    expect(spots[0]).toMatchObject({
      ...{ kind: 'dead click', page: '/a', selector: '#x', text: 'Picture', technical: false },
      ...{ times: 3, visitors: 2, views: 3, perThousandViews: 1000, firstMs: 10, lastMs: 9000 },
      ...{ met: { hits: 2, base: 4 }, converted: { hits: 1, base: 2 }, others: { hits: 1, base: 1 } },
    })
  })

  it('lists signals of the site’s own by their name, beside those that are always found', () => {
    const { block, names } = blockOf([
      [page(0, '/a'), { visitor: 'v', t: 5, kind: 'seen', target: { selector: '#full', text: 'Sold out' } }],
      [page(0, '/a'), dead(10)],
    ])
    const rule = { kinds: ['seen' as const], text: { is: 'containing' as const, to: 'Sold' } }
    const known = { ...names, actions: new Map([['Sold out seen', rule]]), ownSignals: ['Sold out seen'] }
    const { spots } = answerTo(friction, [{ block, sessions: SessionSet.all(2) }], {}, about(known))
    expect(spots.map(({ own, kind, selector, met }) => [own, kind, selector, met.hits])).toEqual([
      [null, 'dead click', '#x', 1],
      ['Sold out seen', 'site signal', '#full', 1],
    ])
  })

  it('shows over the days of the lens how many sessions met a spot, and of how many', () => {
    const on = (day: number, lines: (t: number) => Line[]) => lines(Date.UTC(2026, 4, day, 12))
    const { block, names } = blockOf([
      on(1, (t) => [page(t, '/a'), dead(t + 10)]),
      on(1, (t) => [page(t, '/a')]),
      on(20, (t) => [page(t, '/a'), dead(t + 10), dead(t + 9000)]),
      on(28, (t) => [page(t, '/a'), dead(t + 10)]),
    ])
    const lens = { from: '2026-05-01', to: '2026-05-28', devices: [] }
    const answer = answerTo(friction, [{ block, sessions: SessionSet.all(4) }], {}, about(names, { lens }))
    expect(answer.parts).toHaveLength(14)
    expect(answer.parts[9]).toEqual({ startMs: Date.UTC(2026, 4, 19), sessions: 1 })
    const at = (values: Record<number, number>) => Array.from({ length: 14 }, (_, k) => values[k] ?? 0)
    expect(answer.parts.map(({ sessions }) => sessions)).toEqual(at({ 0: 2, 9: 1, 13: 1 }))
    expect(answer.spots[0]!.trend).toEqual(at({ 0: 1, 9: 1, 13: 1 }))
  })

  it('names the kinds that the data cannot tell', () => {
    const unknown: Line = { ...dead(5), effect: undefined }
    const { notMeasured } = ask([[page(0, '/a'), unknown]])
    expect(notMeasured).toContain('dead click')
    expect(notMeasured).toContain('slow page')
    expect(notMeasured).not.toContain('script error')
    const told = ask([[page(0, '/a', { load: 900 }), dead(5)]]).notMeasured
    expect(told).not.toContain('dead click')
    expect(told).not.toContain('slow page')
  })

  it('counts what a plain count of the signals found in each session counts', () => {
    fc.assert(
      fc.property(worlds, (world) => {
        const { spots, notMeasured } = ask(world)
        const plain = new Map<string, { times: number; sessions: Set<number>; visitors: Set<string> }>()
        for (const { id, visitor, lines } of rowsOf(world)) {
          let url = ''
          const pages = lines.map((line) => (line.kind === 'page' ? (url = line.url!) : url))
          for (const { kind, first } of signalsOfLines(lines)) {
            const key = [kind, pages[first], lines[first]!.target?.selector ?? ''].join()
            const one = plain.get(key) ?? { times: 0, sessions: new Set(), visitors: new Set() }
            plain.set(key, one)
            one.times++
            one.sessions.add(id)
            one.visitors.add(visitor)
            expect(notMeasured).not.toContain(kind)
          }
        }
        expect(
          Object.fromEntries(
            spots.map((spot) => [
              [spot.kind, spot.page, spot.selector].join(),
              [spot.times, spot.met.hits, spot.visitors],
            ]),
          ),
        ).toEqual(
          Object.fromEntries(
            [...plain].map(([key, one]) => [key, [one.times, one.sessions.size, one.visitors.size]]),
          ),
        )
      }),
    )
  })

  it('is the same however the sessions are cut into blocks', () => {
    fc.assert(
      fc.property(worlds, worlds, (a, b) => {
        const { block, names } = blockOf([...a, ...b])
        const all = SessionSet.all(block.sessions.count)
        const first = all.where((s) => s < a.length)
        const context = about(names, { goal: '/d' })
        const whole = answerTo(friction, [{ block, sessions: all }], {}, context)
        const parts = [
          { block, sessions: all.without(first) },
          { block, sessions: first },
        ]
        expect(answerTo(friction, parts, {}, context)).toEqual(whole)
      }),
    )
  })
})

describe('worseSpots', () => {
  const met = (hits: number, base: number) =>
    ask([
      ...Array.from({ length: hits }, () => [page(0, '/a'), dead(10)]),
      ...Array.from({ length: base - hits }, () => [page(0, '/a')]),
    ])
  it('are those met by a larger share than before, beyond noise; new where nobody met them', () => {
    expect(worseSpots(met(40, 100), met(10, 100))[0]).toMatchObject({
      ...{ isNew: false, before: { hits: 10, base: 100 } },
      spot: { kind: 'dead click', page: '/a', selector: '#x' },
    })
    expect(worseSpots(met(40, 100), met(0, 100))[0]).toMatchObject({ isNew: true })
    expect(worseSpots(met(12, 100), met(10, 100))).toEqual([])
    expect(worseSpots(met(10, 100), met(40, 100))).toEqual([])
    expect(worseSpots(met(2, 10), met(0, 1000))).toEqual([])
    expect(worseSpots(met(40, 100), met(0, 0))).toEqual([])
  })
})
