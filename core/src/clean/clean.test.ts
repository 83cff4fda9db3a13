import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../events/dictionaries.ts'
import type { EventCondition } from '../conditions/terms.ts'
import type { Line } from '../events/line.ts'
import { momentOf, selectSessions } from '../closeup/selection.ts'
import { answer } from '../sets/analysis.ts'
import { SessionSet } from '../sets/session-set.ts'
import { blockOf, namesOf, worlds } from '../test-world.ts'
import { rawSequences } from '../sequences/sequences.ts'
import type { Noise } from './clean.ts'
import { cleaned } from './clean.ts'

const noise: fc.Arbitrary<Noise[]> = fc.array(
  fc.oneof(
    fc.record({
      type: fc.constant('repeats' as const),
      withinMs: fc.constantFrom(null, 0, 1000, 3000),
      event: fc.option(fc.constant<EventCondition>({ kinds: ['page'] }), { nil: undefined }),
    }),
    fc.record({
      type: fc.constant('events' as const),
      event: fc.constantFrom<EventCondition>({ kinds: ['click'] }, { page: { is: 'equal', to: '/b' } }),
    }),
  ),
  { maxLength: 3 },
)

/** The obvious way: a line goes where any rule says so, looking at the line before it as it was captured. */
function plain(lines: readonly Line[], rules: readonly Noise[]): Line[] {
  let page = ''
  const all = lines.map((line) => {
    if (line.url !== undefined) page = line.url
    return { line, page, key: [line.kind, page, line.target?.selector, line.message].join('|') }
  })
  const named = (at: number, event: Noise['event']) =>
    (!event?.kinds || event.kinds.includes(all[at]!.line.kind)) &&
    (!event?.page || ('to' in event.page && event.page.to === all[at]!.page))
  return all
    .filter(
      (one, i) =>
        !rules.some((rule) => {
          if (!named(i, rule.event)) return false
          if (rule.type === 'events') return true
          const before = all[i - 1]
          return before?.key === one.key && one.line.t - before.line.t <= (rule.withinMs ?? Infinity)
        }),
    )
    .map(({ line }) => line)
}

const read = (parts: Parameters<typeof answer<never, never, never>>[1], names: ReturnType<typeof namesOf>) =>
  answer(rawSequences, parts, {
    selection: { type: 'everyone' },
    level: 'kind',
    most: 500,
    longest: 500,
    names,
  })

describe('cleaned', () => {
  it('is as if what is noise had never been captured, and every session stays', () => {
    fc.assert(
      fc.property(worlds, noise, (world, rules) => {
        const { block, names } = blockOf(world)
        const left = cleaned(block, rules, names)
        expect(left.sessions.count).toBe(world.length)
        expect([...left.sessions.id]).toEqual([...block.sessions.id])
        const times = Array.from({ length: world.length }, (_, s) => [
          ...left.events.atMs.subarray(left.sessions.firstEvent[s], left.sessions.firstEvent[s + 1]),
        ])
        expect(times).toEqual(world.map((lines) => plain(lines, rules).map(({ t }) => t - lines[0]!.t)))
        expect(left.signals.count).toBe(block.signals.count)
        expect(cleaned(block, rules, names)).toBe(rules.length ? left : block)
      }),
      { numRuns: 400 },
    )
  })
  it('tells the same stories over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, (a, b) => {
        const dictionaries = new Dictionaries()
        const blocks = [a, b].map((part) => blockOf(part, dictionaries).block)
        const names = namesOf(dictionaries)
        const selected = blocks.map((block) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
        const both = read(selected, names)
        expect(both.total).toBe(a.length + b.length)
        const words = both.sequences.map(({ tokens }) => tokens.map((at) => both.tokens[at]!.kind).join())
        expect(words.sort()).toEqual([...a, ...b].map((lines) => lines.map(({ kind }) => kind).join()).sort())
      }),
      { numRuns: 100 },
    )
  })
  it('keeps a set as it was made, whatever is noise where it is asked about', () => {
    fc.assert(
      fc.property(worlds, noise, noise, fc.constantFrom('/a', '/b'), (random, made, asked, page) => {
        // No two events of a session at one time, so that times tell which is which.
        const world = random.map((lines) => lines.map((line, i) => ({ ...line, t: line.t + i })))
        const { block, names } = blockOf(world)
        const everyone = SessionSet.all(world.length)
        const selection = { type: 'page', page } as const
        const there = cleaned(block, made, names)
        const direct = selectSessions(there, everyone, selection, names)
        const here = cleaned(block, asked, names)
        const of = { fromMs: -Infinity, toMs: Infinity, devices: [], clean: made, selection }
        const again = selectSessions(here, everyone, { type: 'set', set: 'a', of }, names)
        expect([...again.sessions]).toEqual([...direct.sessions])
        again.sessions.forEach((s) => {
          const [first, end] = [here.sessions.firstEvent[s]!, here.sessions.firstEvent[s + 1]!]
          const times = here.events.atMs.subarray(first, end)
          if (!times.length) {
            expect(momentOf(here, again, s)).toBeNaN()
            return
          }
          // The event itself; where it is noise what came next, or last.
          const at = momentOf(there, direct, s)
          const wanted = [...times].find((t) => t >= at) ?? times[times.length - 1]
          expect(momentOf(here, again, s)).toBe(wanted)
          expect(again.event[s]!).toBeGreaterThanOrEqual(first)
          expect(again.event[s]!).toBeLessThan(end)
          if (JSON.stringify(made) === JSON.stringify(asked)) expect(again.event[s]).toBe(direct.event[s])
        })
      }),
      { numRuns: 300 },
    )
  })
})
