import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { Selection } from '../../select/grammar/conditions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import { summarise, watchOrder } from '../sessions/summary.ts'
import { closeUp } from './close-up.ts'

const page = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
const dead = (t: number): Line => ({
  visitor: 'v',
  t,
  kind: 'click',
  effect: 'none',
  target: { selector: '#x', tag: 'div', text: 'Picture' },
})

const ask = (sessions: Line[][], selection: Selection) => {
  const { block, names } = blockOf(sessions)
  return answerTo(
    closeUp,
    [{ block, sessions: SessionSet.all(block.sessions.count) }],
    { selection },
    about(names),
  )
}

describe('closeUp', () => {
  const sessions = [
    [page(0, '/a'), dead(10), page(20, '/b')],
    [page(0, '/a'), dead(10)],
    [page(0, '/b'), page(5, '/a'), page(9, '/c')],
    [page(0, '/c')],
  ]

  it('says who, where and what went wrong, each with its base', () => {
    const result = ask(sessions, { type: 'page', page: '/a' })
    expect(result.size).toMatchObject({ hits: 3, base: 4 })
    expect(result.next.map(({ page: to, rate }) => [to, rate.hits])).toEqual([
      [null, 1],
      ['/b', 1],
      ['/c', 1],
    ])
    expect(result.previous.map(({ page: from, rate }) => [from, rate.hits])).toEqual([
      [null, 2],
      ['/b', 1],
    ])
    expect(result.troubles).toHaveLength(1)
    expect(result.troubles[0]).toMatchObject({
      kind: 'dead click',
      page: '/a',
      selector: '#x',
      text: 'Picture',
      technical: false,
    })
    expect(result.troubles[0]!.selected).toMatchObject({ hits: 2, base: 3 })
    expect(result.troubles[0]!.everyone).toMatchObject({ hits: 2, base: 4 })
  })

  it('counts every session once in each attribute', () => {
    fc.assert(
      fc.property(worlds, (world) => {
        const result = ask(world, { type: 'page', page: '/a' })
        const devices = result.who.filter((row) => row.attribute === 'device')
        expect(devices.reduce((sum, row) => sum + row.selected.hits, 0)).toBe(result.size.hits)
        expect(devices.reduce((sum, row) => sum + row.everyone.hits, 0)).toBe(world.length)
        expect(result.next.reduce((sum, row) => sum + row.rate.hits, 0)).toBe(result.size.hits)
      }),
    )
  })

  it('gives the same over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, (first, second) => {
        const selection: Selection = { type: 'clicks', page: '/a', which: 'dead' }
        // An even first part, so that devices fall to the same sessions.
        fc.pre(first.length % 6 === 0)
        const dictionaries = new Dictionaries()
        const a = blockOf(first, dictionaries)
        const b = blockOf(second, dictionaries)
        const blocks = [a, b].map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
        expect(answerTo(closeUp, blocks, { selection }, about(b.names))).toEqual(
          ask([...first, ...second], selection),
        )
      }),
    )
  })
})

describe('watch order', () => {
  it('puts those with signals after the moment first, then the newest', () => {
    const { block, names } = blockOf([[page(0, '/a')], [page(0, '/a'), dead(3)], [page(5, '/a')]])
    const selected = selectSessions(block, SessionSet.all(3), { type: 'page', page: '/a' }, names)
    const list = summarise(block, selected, names)
    expect([...list].sort(watchOrder('telling')).map(({ id }) => id)).toEqual(['2', '3', '1'])
    expect([...list].sort(watchOrder('newest')).map(({ id }) => id)).toEqual(['3', '1', '2'])
    expect(list[1]).toMatchObject({
      pages: 1,
      clicks: 1,
      signals: [{ kind: 'dead click', count: 1 }],
      momentMs: 0,
    })
  })
})
