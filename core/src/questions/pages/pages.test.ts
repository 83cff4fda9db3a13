import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf, PAGES, rowsOf, worlds } from '../../testing/world.ts'
import { pages } from './pages.ts'

const line = (t: number, kind: Line['kind'], more: Partial<Line> = {}): Line => ({
  ...{ visitor: 'v', t, kind },
  ...more,
})
const ask = (parts: readonly Line[][][], by: 'group' | 'url' | 'title' = 'group', goal = '/d') => {
  const dictionaries = new Dictionaries()
  const blocks = parts.map((part) => blockOf(part, dictionaries))
  return answerTo(
    pages,
    blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
    { by },
    about(blocks[blocks.length - 1]!.names, { goal }),
  )
}

describe('pages', () => {
  it('of whole blocks, whose sums are kept, count as session by session', () => {
    fc.assert(
      fc.property(worlds, fc.constantFrom('group', 'url', 'title'), (few, by) => {
        // As often as makes the sums worth keeping.
        const world = Array.from({ length: 60 }, () => few).flat()
        const dictionaries = new Dictionaries()
        const whole = blockOf(world, dictionaries)
        const longer = blockOf([...world, [line(0, 'page', { url: '/b' })]], dictionaries)
        const context = about(longer.names, { goal: '/d' })
        const all = { block: whole.block, sessions: SessionSet.all(world.length) }
        const part = {
          block: longer.block,
          sessions: SessionSet.where(world.length + 1, (s) => s < world.length),
        }
        const plain = answerTo(pages, [part], { by }, context)
        for (const blocks of [[all], [all]]) expect(answerTo(pages, blocks, { by }, context)).toEqual(plain)
        expect(answerTo(pages, [all, part], { by }, context)).toEqual(
          answerTo(pages, [part, part], { by }, context),
        )
      }),
    )
  })

  it('count as plain lists do', () => {
    fc.assert(
      fc.property(worlds, (world) => {
        const answer = ask([world])
        const viewed = world.map((lines) => lines.filter(({ kind }) => kind === 'page'))
        expect(answer.views).toBe(viewed.flat().length)
        const won = viewed.filter((views) => views.some(({ url }) => url === '/d')).length
        for (const page of PAGES) {
          const row = answer.pages.find((one) => one.page === page)
          const on = (lines: Line[], kind: Line['kind']) => {
            let at: string | undefined
            return lines.filter((one) => {
              if (one.kind === 'page') at = one.url
              return one.kind === kind && at === page
            }).length
          }
          const sum = (of: (lines: Line[], s: number) => number) =>
            world.reduce((total, lines, s) => total + of(lines, s), 0)
          const views = sum((lines) => on(lines, 'page'))
          if (!views) {
            expect(row).toBeUndefined()
            continue
          }
          const by = (s: number) => viewed[s]!.some(({ url }) => url === page)
          const sessions = world.map((_, s) => s).filter(by)
          const visitors = (some: number[]) => new Set(some.map((s) => rowsOf(world)[s]!.visitor)).size
          expect(row).toMatchObject({
            views,
            seen: { hits: sessions.length, base: world.length },
            visitors: visitors(sessions),
            newVisitors: visitors(sessions.filter((s) => !rowsOf(world)[s]!.returning)),
            entries: viewed.filter(([first]) => first!.url === page).length,
            exits: { hits: viewed.filter((own) => own[own.length - 1]!.url === page).length, base: views },
            bounces: { hits: viewed.filter((own) => own.length === 1 && own[0]!.url === page).length },
            clicks: sum((lines) => on(lines, 'click')),
            errors: sum((lines) => on(lines, 'error')),
            passed: {
              base: won,
              hits: viewed.filter((own) => {
                const goal = own.findIndex(({ url }) => url === '/d')
                return goal >= 0 && own.slice(0, goal + 1).some(({ url }) => url === page)
              }).length,
            },
          })
          expect(row!.trend.reduce((a, b) => a + b, 0)).toBe(views)
        }
      }),
    )
  })
  it('are passed before the goal in the order of events, also within one millisecond', () => {
    const { pages: rows } = ask([
      [
        [line(0, 'page', { url: '/d' }), line(0, 'page', { url: '/a' })],
        [line(0, 'page', { url: '/b' }), line(0, 'page', { url: '/d' })],
      ],
    ])
    const passed = rows.map(({ page, passed: { hits, base } }) => [page, hits, base])
    expect(passed).toEqual([
      ['/d', 2, 2],
      ['/a', 0, 2],
      ['/b', 1, 2],
    ])
  })
  it('are the same over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, (a, b) => {
        // Devices and visitors fall to the same sessions where the first part is a multiple of both.
        fc.pre(a.length % 6 === 0)
        expect(ask([a, b])).toEqual(ask([[...a, ...b]]))
      }),
    )
  })
  it('are the same where threads finish a part of them each', () => {
    fc.assert(
      fc.property(worlds, worlds, fc.nat(8), fc.boolean(), (few, b, cut, many) => {
        // Of many views on few pages the sums of a block are kept.
        const a = many ? Array.from({ length: 60 }, () => few).flat() : few
        const dictionaries = new Dictionaries()
        const blocks = [a, b].map((part) => blockOf(part, dictionaries))
        const spec = { by: 'group' as const, most: 2000, ...about(blocks[1]!.names, { goal: '/d' }) }
        const found = blocks.map(({ block }) => {
          const sessions = SessionSet.all(block.sessions.count)
          return pages.pack!(pages.scan(block, sessions, spec))
        })
        const { split, finishPart, join } = pages.parts!
        const parts = found.map((one) => split(one, [cut]))
        const finished = [0, 1].map((k) => finishPart(pages.merge(parts[0]![k]!, parts[1]![k]!), spec))
        expect(pages.finish(join(finished), spec)).toEqual(
          pages.finish(pages.merge(found[0]!, found[1]!), spec),
        )
      }),
    )
  })
  it('are cut where there are many, into parts of about the same size', () => {
    const cut = (codes: number[], count: number) => {
      const counts = { views: codes.map(() => 40_000), sessions: codes.map(() => 20_000) }
      return pages.parts!.cuts(
        { codes, counts } as unknown as Parameters<typeof pages.pack & object>[0],
        count,
      )
    }
    expect(cut([2, 3, 5, 7, 11, 13, 17, 19], 2)).toEqual([8])
    expect(cut([2, 3, 5, 7, 11, 13, 17, 19], 4)).toEqual([4, 8, 14])
    expect(cut([2], 2)).toBeUndefined()
  })
  it('tell time in sight without what is idle or hidden, what is read to its end, and speed', () => {
    const session = [
      line(0, 'page', { url: '/a', title: 'First', load: 800 }),
      line(2000, 'scroll', { depth: 0.5 }),
      line(4000, 'hide'),
      line(9000, 'show'),
      line(10_000, 'scroll', { depth: 0.95 }),
      line(100_000, 'click', { target: { selector: '#x' } }),
      line(100_500, 'freeze', { ms: 300 }),
      line(101_000, 'page', { url: '/b', title: 'Second', load: 1200, status: 404 }),
    ]
    const { pages: rows } = ask([[session, [line(0, 'page', { url: '/a', title: 'First' })]]], 'title')
    expect(rows[0]).toMatchObject({
      page: 'First',
      views: 2,
      // 2 + 2, none while hidden, 1, 30 of 90, 0.5, and 0.5 until the next page; the other view tells nothing.
      engaged: { told: 1, mean: 36, median: 36 },
      read: { hits: 1, base: 1 },
      load: { told: 1, p75: 800 },
      response: { told: 1, worked: 1, p75: 300 },
      notFound: 0,
    })
    expect(rows[1]).toMatchObject({
      page: 'Second',
      notFound: 1,
      engaged: { told: 0, mean: null, median: null },
    })
  })
})
