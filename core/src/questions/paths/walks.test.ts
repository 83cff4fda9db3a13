import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { Selection } from '../../select/grammar/conditions.ts'
import type { PathPart, Walk } from '../../select/grammar/walk.ts'
import { PATH_PARTS, walkSchema } from '../../select/grammar/walk.ts'
import { about, answerTo, blockOf, PAGES, worlds } from '../../testing/world.ts'
import { size } from '../size/size.ts'
import { ledgerOf } from './ledger.ts'
import { pathOptionsSchema } from './path-options.ts'
import { pathSteps } from './path-steps.ts'
import type { PathNode } from './paths.ts'
import { pathNodes, paths } from './paths.ts'
import { noSteps } from './step-counts.ts'

const kinds = (...of: ('page' | 'click' | 'error')[]) => ({ kinds: of })
const walks: fc.Arbitrary<Walk> = fc
  .record(
    {
      of: fc.constantFrom(...PATH_PARTS),
      ofSteps: fc.array(fc.constantFrom(...PATH_PARTS), { minLength: 1, maxLength: 3 }),
      fold: fc.boolean(),
      leftOut: fc.constantFrom([{ page: { is: 'equal' as const, to: '/b' } }], [kinds('click')]),
      start: fc.constantFrom(kinds('click'), kinds('page'), kinds('error')),
      at: fc.constantFrom('first' as const, 'last' as const),
      until: fc.constantFrom(kinds('error'), {
        kinds: ['page' as const],
        page: { is: 'equal' as const, to: '/d' },
      }),
    },
    { requiredKeys: [] },
  )
  .map((walk) => walkSchema.parse({ ...walk, at: walk.start ? walk.at : undefined }))
const directions = fc.constantFrom('onward' as const, 'back' as const)
const DEPTH = 3

function world(parts: readonly Line[][][]) {
  const dictionaries = new Dictionaries()
  const built = parts.map((part) => blockOf(part, dictionaries))
  const context = about(built[built.length - 1]!.names)
  const blocks = built.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
  return { blocks, context }
}

describe('walks', () => {
  it('open just the sessions that they count, whatever their steps are', () => {
    fc.assert(
      fc.property(
        worlds,
        worlds,
        walks,
        directions,
        fc.constantFrom(null, ...PAGES),
        (a, b, walk, direction, page) => {
          const { blocks, context } = world([a, b])
          const selection: Selection = page === null ? { type: 'everyone' } : { type: 'page', page }
          const options = pathOptionsSchema.parse({ ...walk, direction, depth: DEPTH, most: null })
          const found = answerTo(paths, blocks, { selection, options }, context)
          const sizeOf = (parts: PathPart[], ended = false) =>
            answerTo(
              size,
              blocks,
              { selection: { type: 'path', page, direction, parts, walk, ended } },
              context,
            )
          const look = (nodes: readonly PathNode[], before: PathPart[]) => {
            for (const { sessions, ended, next, ...place } of nodes) {
              const parts = [...before, place]
              expect(sizeOf(parts)).toMatchObject({ hits: sessions, base: found.sessions })
              expect(sizeOf(parts, true).hits).toBe(ended)
              look(next, parts)
            }
          }
          look(pathNodes(found), [])
        },
      ),
      { numRuns: 120 },
    )
  })
  it('through some places are those of them that begin so', () => {
    const onlyThrough = fc.array(fc.constantFrom(null, ...PAGES), { minLength: 1, maxLength: DEPTH })
    fc.assert(
      fc.property(worlds, walks, directions, onlyThrough, (sessions, walk, direction, through) => {
        const { blocks, context } = world([sessions])
        const ask = (more: object) => {
          const options = pathOptionsSchema.parse({ ...walk, direction, depth: DEPTH, most: null, ...more })
          return answerTo(paths, blocks, { selection: { type: 'everyone' }, options }, context)
        }
        const begins = (nodes: readonly PathNode[], at = 0): PathNode[] =>
          nodes.flatMap((node) => {
            const part = through[at]
            if (part === undefined) return [node]
            if (part !== null && (node.kind !== 'page' || node.page !== part)) return []
            const next = begins(node.next, at + 1)
            if (at + 1 === through.length) return [{ ...node, next }]
            const counted = next.reduce((sum, one) => sum + one.sessions, 0)
            // Who ended before did not come through.
            return next.length ? [{ ...node, sessions: counted, ended: 0, next }] : []
          })
        const sorted = (nodes: readonly PathNode[]): unknown =>
          nodes.map(({ next, ...node }) => JSON.stringify([node, sorted(next)])).sort()
        const found = ask({ through })
        const expected = begins(pathNodes(ask({})))
        expect(sorted(pathNodes(found))).toEqual(sorted(expected))
        expect(found.sessions).toBe(expected.reduce((sum, one) => sum + one.sessions, 0))
      }),
      { numRuns: 300 },
    )
  })
  it('walk page groups as the kernel for page groups does', () => {
    fc.assert(
      fc.property(worlds, directions, fc.boolean(), (sessions, direction, fold) => {
        const { blocks, context } = world([sessions])
        const ask = (more: object) =>
          pathNodes(
            answerTo(
              paths,
              blocks,
              {
                selection: { type: 'everyone' },
                options: pathOptionsSchema.parse({ direction, fold, depth: DEPTH, most: null, ...more }),
              },
              context,
            ),
          )
        expect(ask({ ofSteps: ['pages'] })).toEqual(ask({}))
        expect(ask({ ofSteps: ['pages and clicks'] })).toEqual(ask({ of: 'pages and clicks' }))
      }),
    )
  })
  it('count the steps of page groups as they count them one path at a time', () => {
    fc.assert(
      fc.property(
        fc.tuple(worlds, worlds),
        directions,
        fc.boolean(),
        fc.integer({ min: 1, max: 5 }),
        fc.constantFrom(null, ...PAGES),
        (parts, direction, fold, depth, page) => {
          const { blocks, context } = world(parts)
          const selection: Selection = page === null ? { type: 'everyone' } : { type: 'page', page }
          const ask = (more: object) => {
            const options = pathOptionsSchema.parse({ direction, fold, depth, ...more })
            return answerTo(pathSteps, blocks, { selection, options }, context)
          }
          expect(ask({})).toEqual(ask({ ofSteps: ['pages'] }))
        },
      ),
      { numRuns: 300 },
    )
  })
  const view = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
  it('count the steps of more page groups than a table has room for', () => {
    const pages = Array.from({ length: 2000 }, (_, k) => `/${'abcdefghijklmnop'[k % 16]}${k}x`)
    const { blocks, context } = world([
      pages.map((url, k) => [view(0, url), view(1, pages[(k + 1) % 2000]!)]),
    ])
    expect(noSteps(context.names.groups.names.length, 5)).toBeUndefined()
    const { sessions, steps } = answerTo(pathSteps, blocks, { selection: { type: 'everyone' } }, context)
    expect(sessions).toBe(2000)
    expect(steps.map(({ places, links }) => [places.length, links.length])).toEqual([
      [2000, 2000],
      [2000, 2000],
    ])
  })
  it('can begin at every occurrence, leave pages out, and end at a goal', () => {
    const { blocks, context } = world([
      [[view(0, '/a'), view(1, '/b'), view(2, '/a'), view(3, '/c'), view(4, '/d'), view(5, '/b')]],
    ])
    const ask = (more: object, page = '/a') =>
      answerTo(
        pathSteps,
        blocks,
        { selection: { type: 'page', page }, options: pathOptionsSchema.parse({ depth: DEPTH, ...more }) },
        context,
      )
    expect(ask({ at: 'every' })).toMatchObject({
      sessions: 2,
      steps: [
        {
          places: [
            { page: '/b', sessions: 1 },
            { page: '/c', sessions: 1 },
          ],
        },
        {},
        {},
      ],
    })
    expect(ask({ at: 'last' }).steps[0]!.places).toMatchObject([{ page: '/c' }])
    const without = ask({
      leftOut: [{ page: { is: 'equal', to: '/b' } }],
      until: { page: { is: 'equal', to: '/d' } },
    })
    // Without /b the two views of /a are one.
    expect(without.steps.map(({ places }) => places)).toMatchObject([
      [{ page: '/c', ended: 0 }],
      [{ page: '/d', ended: 1 }],
    ])
  })
  it('are not begun at every occurrence of what is none', () => {
    const refused = paths.refuse!(
      { selection: { type: 'everyone' }, options: pathOptionsSchema.parse({ at: 'every' }) },
      about(blockOf([]).names).lens,
      { trendParts: 1 },
    )
    expect(refused).toContain('needs a start')
  })
})

describe('ledgerOf', () => {
  const view = (t: number, url: string): Line => ({ visitor: 'v', t, kind: 'page', url })
  const stepsOf = (sessions: Line[][]) => {
    const { blocks, context } = world([sessions])
    return answerTo(pathSteps, blocks, { selection: { type: 'everyone' } }, context)
  }
  it('names what appeared, vanished, rose and fell, in shares of those who entered', () => {
    const go = (...urls: string[]) => urls.map((url, k) => view(k, url))
    const many = (n: number, ...urls: string[]) => Array.from({ length: n }, () => go(...urls))
    const before = stepsOf([...many(50, '/a', '/b'), ...many(50, '/a', '/c')])
    const after = stepsOf([...many(20, '/a', '/b'), ...many(180, '/a', '/d')])
    const rows = ledgerOf(after, before)
    const row = (step: number, of: string, page: string) =>
      rows.find((one) => one.step === step && one.of === of && one.place.page === page)
    expect(row(0, 'place', '/a')).toMatchObject({ change: 'same', difference: 0, relative: 0, sure: false })
    expect(row(1, 'place', '/b')).toMatchObject({ change: 'fell', relative: -0.8, sure: true })
    expect(row(1, 'place', '/b')!.difference).toBeCloseTo(-0.4, 12)
    expect(row(1, 'place', '/c')).toMatchObject({ change: 'vanished', after: { hits: 0, base: 200 } })
    expect(row(1, 'link', '/d')).toMatchObject({ change: 'appeared', relative: null, from: { page: '/a' } })
    expect(row(1, 'end', '/d')).toMatchObject({ after: { hits: 180 }, before: { hits: 0, base: 100 } })
  })
  it('agrees with counting each step by itself, and adds up', () => {
    fc.assert(
      fc.property(worlds, worlds, (a, b) => {
        const [after, before] = [stepsOf(a), stepsOf(b)]
        const rows = ledgerOf(after, before)
        for (const [side, of] of [
          ['after', after],
          ['before', before],
        ] as const)
          of.steps.forEach(({ sessions }, k) => {
            for (const kind of ['place', 'link'] as const)
              expect(
                rows
                  .filter(({ step, of: own }) => step === k && own === kind)
                  .reduce((sum, one) => sum + one[side].hits, 0),
              ).toBe(sessions)
          })
      }),
    )
  })
})
