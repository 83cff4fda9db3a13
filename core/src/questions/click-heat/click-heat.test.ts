import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../../checks/cases.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { density } from '../../stats/density.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import { selectSessions } from '../../select/sessions.ts'
import { clickHeat } from './click-heat.ts'

const ask = (sessions: Line[][], which: 'all' | 'rage' | 'dead') => {
  const { block, names } = blockOf(sessions)
  const of = [{ block, sessions: SessionSet.all(block.sessions.count) }]
  return answerTo(clickHeat, of, { page: '/a', which }, about(names))
}

describe('clickHeat', () => {
  it('counts the clicks on the page that a plain loop counts, each in one cell', () => {
    fc.assert(
      fc.property(worlds, (world) => {
        let clicks = 0
        let dead = 0
        for (const lines of world) {
          let here = ''
          for (const line of lines) {
            if (line.kind === 'page') here = line.url ?? ''
            if (line.kind === 'click' && here === '/a') {
              clicks++
              if (line.effect === 'none') dead++
            }
          }
        }
        const heat = ask(world, 'all')
        expect(heat.clicks).toBe(clicks)
        const cells = heat.elements.flatMap(({ spots }) =>
          spots.flatMap((spot) => spot.cells.map(([, n]) => n)),
        )
        expect(cells.reduce((a, b) => a + b, 0)).toBe(clicks)
        expect(ask(world, 'dead').clicks).toBe(dead)
        expect(heat.viewers).toBe(
          world.filter((lines) => lines.some((line) => line.kind === 'page' && line.url === '/a')).length,
        )
      }),
    )
  })

  it('says of each element how many reached the goal after their first click on it', () => {
    const page = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
    const click = (t: number): Line => ({ visitor: 'v', t, kind: 'click', target: { selector: '#x' } })
    const { block, names } = blockOf([
      [page(0, '/a'), click(1), page(2, '/d')],
      [page(0, '/d'), page(1, '/a'), click(2)],
      [page(0, '/a'), click(1)],
      // Within one millisecond the order of events tells.
      [page(0, '/a'), page(1, '/d'), page(1, '/a'), click(1)],
    ])
    const of = [{ block, sessions: SessionSet.all(4) }]
    const { elements } = answerTo(clickHeat, of, { page: '/a', which: 'all' }, about(names, { goal: '/d' }))
    expect(elements[0]).toMatchObject({ selector: '#x', converted: { hits: 1, base: 4 } })
  })

  it('has swipes, zooms and rests of the pointer in place of clicks, each at its element', () => {
    const at = (t: number, more: Partial<Line>): Line => ({
      ...{ visitor: 'v', t, kind: 'gesture', target: { selector: '#pictures' }, rx: 0.5, ry: 0.25 },
      ...more,
    })
    const { block, names } = blockOf([
      [
        { visitor: 'v', t: 0, kind: 'page', url: '/a' },
        at(1, { name: 'swipe' }),
        at(2, { name: 'zoom' }),
        at(3, { name: 'zoom' }),
        at(4, { kind: 'rest', ms: 1500, target: { selector: '#price' } }),
        at(5, { kind: 'click', target: { selector: '#buy' } }),
      ],
      [{ visitor: 'w', t: 0, kind: 'page', url: '/a' }],
    ])
    const of = [{ block, sessions: SessionSet.all(2) }]
    const told = (['all', 'swipe', 'zoom', 'rest'] as const).map((which) => {
      const { elements, clickers } = answerTo(clickHeat, of, { page: '/a', which }, about(names))
      const selected = selectSessions(block, SessionSet.all(2), { type: 'clicks', page: '/a', which }, names)
      expect(selected.sessions.count()).toBe(clickers.hits)
      return [which, ...elements.map(({ selector, clicks }) => `${selector} ${clicks}`), clickers.base]
    })
    expect(told).toEqual([
      ['all', '#buy 1', 2],
      ['swipe', '#pictures 1', 2],
      ['zoom', '#pictures 2', 2],
      ['rest', '#price 1', 2],
    ])
  })

  it('lays members of one list together and keeps where each lies', () => {
    const click = (t: number, nth: number): Line => ({
      visitor: 'v',
      t,
      kind: 'click',
      target: { selector: `ul > li:nth-of-type(${nth}) > a` },
      rx: 0.5,
      ry: 0.5,
    })
    const heat = ask([[{ visitor: 'v', t: 0, kind: 'page', url: '/a' }, click(1, 1), click(2, 2)]], 'all')
    expect(heat.elements).toHaveLength(1)
    expect(heat.elements[0]).toMatchObject({ selector: 'ul > li > a', clicks: 2, rate: { hits: 1, base: 1 } })
    expect(heat.elements[0]!.spots.map((spot) => spot.selector)).toEqual([
      'ul > li:nth-of-type(1) > a',
      'ul > li:nth-of-type(2) > a',
    ])
  })
})

describe('density', () => {
  interface Inputs {
    points: [number, number][]
    bandwidth: number
    grid_x: number[]
    grid_y: number[]
  }
  const [fixed] = casesOf<Inputs, { grid: number[][] }>('web', 'kernel_density_2d')
  it(`agrees with a reference kernel density (${fixed!.id}: ${fixed!.source})`, () => {
    const { points, bandwidth, grid_x, grid_y } = fixed!.inputs
    // Our raster is measured at the middle of its cells, the case at whole numbers: half a cell apart.
    const shifted = points.map(([x, y]) => ({ x: x + 0.5, y: y + 0.5, weight: 1 / points.length }))
    const raster = density(shifted, grid_x.length, grid_y.length, bandwidth)
    fixed!.expected.grid.forEach((column, x) =>
      column.forEach((value, y) => expect(raster[y * grid_x.length + x]).toBeCloseTo(value, 4)),
    )
  })

  it('spreads every click without losing or adding any, away from the edges', () => {
    const raster = density([{ x: 50, y: 50, weight: 3 }], 100, 100, 4)
    expect(raster.reduce((a, b) => a + b, 0)).toBeCloseTo(3, 2)
  })

  it('refuses a kernel without width', () => {
    expect(() => density([], 1, 1, 0)).toThrow(RangeError)
  })
  it('says what was seen next after the first click on an element', () => {
    const page = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
    const click = (t: number): Line => ({ visitor: 'v', t, kind: 'click', target: { selector: '#x' } })
    const { block, names } = blockOf([
      [page(0, '/a'), click(1), page(2, '/a'), page(3, '/b'), click(4), page(5, '/c')],
      [page(0, '/a'), click(1)],
      [page(0, '/a'), page(1, '/b')],
    ])
    const answer = answerTo(
      clickHeat,
      [{ block, sessions: SessionSet.all(3) }],
      { page: '/a', which: 'all' },
      about(names),
    )
    expect(answer).toMatchObject({ viewers: 3, views: 4, clicks: 2 })
    expect(answer.elements[0]!.next).toEqual([
      { page: null, sessions: 1 },
      { page: '/b', sessions: 1 },
    ])
  })
})
