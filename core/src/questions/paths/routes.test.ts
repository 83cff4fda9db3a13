import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Selection } from '../../select/grammar/conditions.ts'
import { about, answerTo, blockOf, PAGES, worlds } from '../../testing/world.ts'
import { size } from '../size/size.ts'
import { pathNodes, paths } from './paths.ts'
import type { PathNode } from './paths.ts'
import { pathOptionsSchema } from './path-options.ts'
import { pathSteps } from './path-steps.ts'
import { routesOf } from './routes.ts'

const DEPTH = 3
const asked = fc.record({
  page: fc.constantFrom(null, ...PAGES),
  direction: fc.constantFrom('onward' as const, 'back' as const),
})

function walked(
  sessions: Parameters<typeof blockOf>[0],
  { page, direction }: { page: string | null; direction: 'onward' | 'back' },
) {
  const { block, names } = blockOf(sessions)
  const blocks = [{ block, sessions: SessionSet.all(sessions.length) }]
  const selection: Selection = page === null ? { type: 'everyone' } : { type: 'page', page }
  const options = pathOptionsSchema.parse({ direction, depth: DEPTH, most: null })
  const found = answerTo(paths, blocks, { selection, options }, about(names))
  const answer = { sessions: found.sessions, ended: found.ended, next: pathNodes(found) }
  const sizeOf = (parts: (string | null)[], ended?: boolean) =>
    answerTo(
      size,
      blocks,
      { selection: { type: 'path', page, direction, parts, ...(ended && { ended }) } },
      about(names),
    )
  const stepped = answerTo(pathSteps, blocks, { selection, options }, about(names))
  return { answer, stepped, sizeOf }
}

describe('paths', () => {
  it('open just the sessions that they count, as far as each place and where they end', () => {
    fc.assert(
      fc.property(worlds, asked, (sessions, spec) => {
        const { answer, sizeOf } = walked(sessions, spec)
        const look = (nodes: readonly PathNode[], before: string[]) => {
          for (const node of nodes) {
            const parts = [...before, node.page]
            expect(sizeOf(parts)).toMatchObject({ hits: node.sessions, base: answer.sessions })
            expect(sizeOf(parts, true).hits).toBe(node.ended)
            look(node.next, parts)
          }
        }
        look(answer.next, [])
      }),
      { numRuns: 150 },
    )
  })
  it('step by step add up, and a page in a step opens those who were there, by whatever way', () => {
    fc.assert(
      fc.property(worlds, asked, (sessions, spec) => {
        const { answer, stepped, sizeOf } = walked(sessions, spec)
        expect([stepped.sessions, stepped.ended]).toEqual([answer.sessions, answer.ended])
        stepped.steps.forEach(({ sessions: all, places, links }, k) => {
          expect(places.reduce((sum, one) => sum + one.sessions, 0)).toBe(all)
          const anywhere = new Array<null>(k).fill(null)
          for (const { page, sessions: own, ended } of places) {
            expect(sizeOf([...anywhere, page]).hits).toBe(own)
            expect(sizeOf([...anywhere, page], true).hits).toBe(ended)
          }
          for (const { from, to, sessions: own } of links) {
            const before = from === null ? [] : [stepped.steps[k - 1]!.places[from]!.page]
            expect(sizeOf([...anywhere.slice(before.length), ...before, places[to]!.page]).hits).toBe(own)
          }
        })
      }),
      { numRuns: 150 },
    )
  })
})

describe('routesOf', () => {
  const node = (page: string, sessions: number, ended: number, ...next: PathNode[]): PathNode => ({
    ...{ kind: 'page', page, sessions, ended, next },
  })
  const at = (page: string) => ({ kind: 'page', page })
  it('are as long as enough walk them together, and none begins like another', () => {
    const next = [
      node('a', 60, 10, node('b', 40, 5, node('c', 6, 6), node('d', 4, 4)), node('c', 10, 10)),
      node('e', 9, 9),
    ]
    expect(routesOf(next, 10)).toEqual([
      { parts: [at('a'), at('b')], sessions: 40, ended: 5 },
      { parts: [at('a'), at('c')], sessions: 10, ended: 10 },
    ])
    expect(routesOf(next, 61)).toEqual([])
  })
})
