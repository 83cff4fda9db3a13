import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../columns/dictionaries.ts'
import { SessionSet } from '../columns/session-set.ts'
import type { Line } from '../events/line.ts'
import { groupTargets } from '../labels/element-families.ts'
import type { PageGroupRule } from '../labels/page-groups.ts'
import { groupPages } from '../labels/page-groups.ts'
import { blockOf, worlds } from '../testing/world.ts'
import type { Selection } from './grammar/conditions.ts'
import { viewersInTurn } from './page-sessions.ts'
import { momentOf, NO_EVENT } from './selected-sessions.ts'
import { selectSessions } from './sessions.ts'

/** No page groups, or one of two pages, of all pages, or of none. */
const groupings = fc.constantFrom<PageGroupRule[][]>(
  [],
  [{ name: 'Both', pattern: '/a' }],
  [
    { name: 'Both', pattern: '/a' },
    { name: 'Both', pattern: '/b' },
  ],
  [{ name: 'Both', pattern: '*' }],
  [{ name: 'Both', pattern: '/nowhere' }],
)
const rule = (rules: PageGroupRule[], path: string) =>
  rules.find(({ pattern }) => pattern === '*' || pattern === path)?.name ?? path

/** Some sessions of a block, some of which are asked about. */
function world(sessions: Line[][], rules: PageGroupRule[], asked: readonly boolean[]) {
  const dictionaries = new Dictionaries()
  const { block } = blockOf(sessions, dictionaries)
  const names = {
    dictionaries,
    groups: groupPages(dictionaries.page, rules),
    families: groupTargets(dictionaries.target),
  }
  const among = SessionSet.where(sessions.length, (s) => asked[s % asked.length]!)
  return { block, names, among }
}
const asked = fc.array(fc.boolean(), { minLength: 1, maxLength: 5 })

/** Each line with the page that it happened on. */
function placed(lines: readonly Line[]): { line: Line; page: string; at: number }[] {
  let page = ''
  return lines.map((line, at) => {
    if (line.kind === 'page') page = line.url!
    return { line, page, at }
  })
}

describe('selectSessions', () => {
  it('picks who saw a page, from the first view on, however pages are grouped', () => {
    fc.assert(
      fc.property(
        worlds,
        groupings,
        asked,
        fc.constantFrom('Both', '/a', '/c'),
        (sessions, rules, some, page) => {
          const { block, names, among } = world(sessions, rules, some)
          const selection: Selection = { type: 'page', page }
          const { sessions: chosen, base, event } = selectSessions(block, among, selection, names)
          const first = sessions.map(
            (lines) =>
              placed(lines).find((one) => one.line.kind === 'page' && rule(rules, one.page) === page)?.at,
          )
          expect([...chosen]).toEqual([...among].filter((s) => first[s] !== undefined))
          expect([...base]).toEqual([...among])
          for (const s of chosen) expect(event[s]! - block.sessions.firstEvent[s]!).toBe(first[s])
          const inTurn = viewersInTurn(block, selection, names)
          if (!inTurn) return
          const [from = 0, to = 0] = inTurn.ranges
          const listed = Array.from({ length: to - from }, (_, i): [number, number] => [
            inTurn.session[from + i]!,
            inTurn.event[from + i]! - block.sessions.firstEvent[inTurn.session[from + i]!]!,
          ])
          expect(listed.sort((a, b) => a[0] - b[0])).toEqual(
            first.flatMap((at, s) => (at === undefined ? [] : [[s, at]])),
          )
        },
      ),
      { numRuns: 300 },
    )
  })
  it('tells who saw a page in turn where it is a page alone', () => {
    const lines: Line[] = [0, 1, 2].map((t) => ({ visitor: 'v', t, kind: 'page', url: `/${'aba'[t]}` }))
    const { block, names } = world([lines, lines], [], [true])
    const one = viewersInTurn(block, { type: 'page', page: '/a' }, names)
    expect(one && one.ranges[1]! - one.ranges[0]!).toBe(2)
    const both = world([lines, lines], [{ name: 'Both', pattern: '*' }], [true])
    expect(viewersInTurn(both.block, { type: 'page', page: 'Both' }, both.names)).toBeUndefined()
  })
  it('picks who clicked on a page, or on one element there, from the first such click on', () => {
    fc.assert(
      fc.property(
        worlds,
        groupings,
        asked,
        fc.constantFrom(undefined, '#x'),
        (sessions, rules, some, selector) => {
          const { block, names, among } = world(sessions, rules, some)
          const selection: Selection = {
            type: 'clicks',
            page: 'Both',
            which: 'all',
            ...(selector !== undefined && { selector }),
          }
          const { sessions: chosen, base, event } = selectSessions(block, among, selection, names)
          const on = sessions.map((lines) => placed(lines).filter((one) => rule(rules, one.page) === 'Both'))
          const first = on.map(
            (there) =>
              there.find(
                ({ line }) =>
                  line.kind === 'click' && (selector === undefined || line.target!.selector === selector),
              )?.at,
          )
          expect([...chosen]).toEqual([...among].filter((s) => first[s] !== undefined))
          expect([...base]).toEqual([...among].filter((s) => on[s]!.length > 0))
          for (const s of chosen) expect(event[s]! - block.sessions.firstEvent[s]!).toBe(first[s])
        },
      ),
      { numRuns: 300 },
    )
  })
  it('takes everyone, whose sessions have no moment', () => {
    fc.assert(
      fc.property(worlds, asked, (sessions, some) => {
        const { block, names, among } = world(sessions, [], some)
        const everyone = selectSessions(block, among, { type: 'everyone' }, names)
        expect([...everyone.sessions]).toEqual([...among])
        expect([...everyone.event].every((event) => event === NO_EVENT)).toBe(true)
        for (const s of among) expect(momentOf(block, everyone, s)).toBeNaN()
      }),
    )
  })
  it('refuses a set of which nobody knows what it stands for', () => {
    const { block, names, among } = world([[{ visitor: 'v', t: 0, kind: 'page', url: '/a' }]], [], [true])
    expect(() => selectSessions(block, among, { type: 'set', set: 'x' }, names)).toThrow('was not resolved')
  })
})
