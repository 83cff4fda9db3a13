import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { answer } from '../../columns/scan.ts'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import type { PathSelection, Selection } from '../../select/grammar/conditions.ts'
import type { PathPart, Walk } from '../../select/grammar/walk.ts'
import { PATH_PARTS, walkSchema } from '../../select/grammar/walk.ts'
import { visitorPaths } from '../../select/visitor-paths.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { about, answerTo, namesOf, PAGES, rowsOf, worlds } from '../../testing/world.ts'
import { size } from '../size/size.ts'
import { pathOptionsSchema } from './path-options.ts'
import type { PathNode } from './paths.ts'
import { pathNodes, paths } from './paths.ts'

const DEPTH = 3
const kinds = (...of: ('page' | 'click' | 'error')[]) => ({ kinds: of })
const walks: fc.Arbitrary<Walk> = fc
  .record(
    {
      of: fc.constantFrom(...PATH_PARTS),
      ofSteps: fc.array(fc.constantFrom(...PATH_PARTS), { minLength: 1, maxLength: 3 }),
      fold: fc.boolean(),
      leftOut: fc.constantFrom([{ page: { is: 'equal' as const, to: '/b' } }], [kinds('click')]),
      start: fc.constantFrom(kinds('click'), kinds('page'), kinds('error')),
      at: fc.constantFrom('first' as const, 'last' as const, 'every' as const),
      until: fc.constantFrom(kinds('error')),
    },
    { requiredKeys: [] },
  )
  .map((walk) => walkSchema.parse({ ...walk, at: walk.start ? walk.at : undefined }))
const directions = fc.constantFrom('onward' as const, 'back' as const)

/** Sessions one after the other, of three visitors in turn, in two blocks; and each visitor's as one session. */
function world(sessions: readonly Line[][], cut: number) {
  const dictionaries = new Dictionaries()
  const later = sessions.map((lines, k) => lines.map((line) => ({ ...line, t: line.t + k * 10_000_000 })))
  const rows = rowsOf(later)
  const visitors = [...new Set(rows.map(({ visitor }) => visitor))]
  const asOne = visitors.map((visitor, k) => {
    const own = rows.filter((row) => row.visitor === visitor)
    return { ...own[0]!, id: k + 1, lines: own.flatMap(({ lines }) => lines) }
  })
  // The later sessions lie in the first block: the order of blocks says nothing.
  const built = [rows.slice(cut), rows.slice(0, cut), asOne].map((own) => buildBlock(own, dictionaries))
  const selected = built.map((block) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
  return { blocks: selected.slice(0, 2), twin: selected.slice(2), context: about(namesOf(dictionaries)) }
}

describe('paths of visitors', () => {
  it('are those of sessions, were all of a visitor’s sessions one', () => {
    fc.assert(
      fc.property(
        ...[worlds, walks, directions, fc.constantFrom(null, ...PAGES), fc.nat(12), fc.boolean()],
        fc.option(fc.array(fc.constantFrom(null, ...PAGES), { maxLength: DEPTH }), { nil: undefined }),
        (sessions, walk, direction, page, cut, merged, through) => {
          const { blocks, twin, context } = world(sessions, cut)
          const selection: Selection = page === null ? { type: 'everyone' } : { type: 'page', page }
          const options = pathOptionsSchema.parse({ ...walk, direction, depth: DEPTH, most: null, through })
          const spec = { selection, options: { ...options, per: 'visitor' as const }, ...context }
          const found = blocks.map(({ block, sessions: own }) => paths.scan(block, own, spec))
          const whole = merged
            ? paths.finish(paths.merge(paths.pack!(found[0]!), found[1]!), spec)
            : answerTo(paths, blocks, spec, context)
          const expected = answerTo(paths, twin, { selection, options }, context)
          expect([whole.sessions, whole.ended]).toEqual([expected.sessions, expected.ended])
          expect(pathNodes(whole)).toEqual(pathNodes(expected))
        },
      ),
      { numRuns: 400 },
    )
  })
  it('open just the visitors that they count, each by one session', () => {
    fc.assert(
      fc.property(
        ...[worlds, walks, directions, fc.constantFrom(null, ...PAGES), fc.nat(12)],
        (sessions, walked, direction, page, cut) => {
          const walk: Walk = { ...walked, at: walked.at === 'every' ? 'first' : walked.at, per: 'visitor' }
          const { blocks, context } = world(sessions, cut)
          const selection: Selection = page === null ? { type: 'everyone' } : { type: 'page', page }
          const options = pathOptionsSchema.parse({ ...walk, direction, depth: DEPTH, most: null })
          const whole = answerTo(paths, blocks, { selection, options }, context)
          const sizeOf = (parts: PathPart[], ended = false) => {
            const path: PathSelection = { type: 'path', page, direction, parts, walk, ended }
            const moments = answer(visitorPaths, blocks, { selection: path, ...context })
            return answerTo(size, blocks, { selection: { ...path, moments } }, context)
          }
          const look = (nodes: readonly PathNode[], before: PathPart[]) => {
            for (const { sessions: visitors, ended, next, ...place } of nodes) {
              const parts = [...before, place]
              expect(sizeOf(parts)).toMatchObject({ hits: visitors, base: whole.sessions })
              expect(sizeOf(parts, true).hits).toBe(ended)
              look(next, parts)
            }
          }
          look(pathNodes(whole), [])
        },
      ),
      { numRuns: 120 },
    )
  })
})
