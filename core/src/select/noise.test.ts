import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../columns/dictionaries.ts'
import type { Selected } from '../columns/scan.ts'
import { SessionSet } from '../columns/session-set.ts'
import type { Line } from '../events/line.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import type { EventCondition } from '../labels/event-condition.ts'
import type { Names } from '../labels/names.ts'
import { sequences } from '../questions/sequences/sequences.ts'
import { signalsOfLines } from '../testing/signals-of-lines.ts'
import { about, answerTo, blockOf, namesOf, worlds } from '../testing/world.ts'
import type { Noise } from './grammar/noise.ts'
import { withoutNoise } from './noise.ts'
import { momentOf } from './selected-sessions.ts'
import { selectSessions } from './sessions.ts'

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

const read = (parts: readonly Selected[], names: Names) =>
  answerTo(
    sequences,
    parts,
    { selection: { type: 'everyone' }, options: { level: 'kind', most: 500, longest: 500 } },
    about(names),
  )

describe('withoutNoise', () => {
  it('is as if what is noise had never been captured, and every session stays', () => {
    fc.assert(
      fc.property(worlds, noise, (world, rules) => {
        const { block, names } = blockOf(world)
        const left = withoutNoise(block, rules, names)
        expect(left.sessions.count).toBe(world.length)
        expect([...left.sessions.id]).toEqual([...block.sessions.id])
        const times = Array.from({ length: world.length }, (_, s) => [
          ...left.events.atMs.subarray(left.sessions.firstEvent[s], left.sessions.firstEvent[s + 1]),
        ])
        const kept = world.map((lines) => plain(lines, rules))
        expect(times).toEqual(kept.map((lines) => lines.map(({ t }) => t - lines[0]!.t)))
        // Durations and what went wrong are those of what is left; a session with nothing left keeps its times.
        const spans = kept.map((lines, s) => (lines.length ? lines : world[s]!))
        expect([...left.sessions.startMs]).toEqual(spans.map((lines) => lines[0]!.t))
        expect([...left.sessions.endMs]).toEqual(spans.map((lines) => lines[lines.length - 1]!.t))
        const found = world.map((lines, s) =>
          signalsOfLines(lines).filter(({ first }) => kept[s]!.includes(lines[first]!)),
        )
        const signals = kept.map((lines, s) =>
          found[s]!.map(({ kind, first }) => [SIGNAL_KINDS.indexOf(kind), world[s]![first]!.t - lines[0]!.t]),
        )
        const counted = Array.from({ length: world.length }, (_, s) => {
          const [from, to] = [left.sessions.firstSignal[s]!, left.sessions.firstSignal[s + 1]!]
          return Array.from({ length: to - from }, (__, g) => [
            left.signals.kind[from + g],
            left.events.atMs[left.signals.event[from + g]!],
          ])
        })
        expect(counted).toEqual(signals)
        expect(withoutNoise(block, rules, names)).toBe(rules.length ? left : block)
      }),
      {
        numRuns: 400,
        // Two errors at one instant, of which one is noise.
        examples: [
          [
            [
              [
                { visitor: 'v', t: 0, kind: 'page', url: '/a' },
                { visitor: 'v', t: 0, kind: 'error', message: 'broken' },
                { visitor: 'v', t: 0, kind: 'error', message: 'broken' },
              ],
            ],
            [{ type: 'repeats', withinMs: null, event: undefined }],
          ],
        ],
      },
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
        const there = withoutNoise(block, made, names)
        const direct = selectSessions(there, everyone, selection, names)
        const here = withoutNoise(block, asked, names)
        const lens = { from: '1970-01-01', to: '2999-12-31', devices: [], clean: made }
        const of = { lens, fromMs: -Infinity, toMs: Infinity, selection }
        const again = selectSessions(here, everyone, { type: 'set', set: 'a', of }, names)
        expect([...again.sessions]).toEqual([...direct.sessions])
        again.sessions.forEach((s) => {
          const [first, end] = [here.sessions.firstEvent[s]!, here.sessions.firstEvent[s + 1]!]
          const times = [...here.events.atMs.subarray(first, end)].map((ms) => ms + here.sessions.startMs[s]!)
          if (!times.length) {
            expect(momentOf(here, again, s)).toBeNaN()
            return
          }
          // The event itself; where it is noise what came next, or last.
          const at = momentOf(there, direct, s) + there.sessions.startMs[s]!
          const wanted = times.find((t) => t >= at) ?? times[times.length - 1]
          expect(momentOf(here, again, s) + here.sessions.startMs[s]!).toBe(wanted)
          expect(again.event[s]!).toBeGreaterThanOrEqual(first)
          expect(again.event[s]!).toBeLessThan(end)
          if (JSON.stringify(made) === JSON.stringify(asked)) expect(again.event[s]).toBe(direct.event[s])
        })
      }),
      { numRuns: 300 },
    )
  })
  it('leaves the last session empty behind as many events as fill a word of bits: found by the test of what is kept', () => {
    const long = Array.from({ length: 32 }, (_, k): Line => ({
      ...{ visitor: 'v', t: 1000 * k, kind: 'page' },
      url: k % 2 ? '/a' : '/c',
    }))
    const gone: Line[] = [{ visitor: 'v', t: 0, kind: 'page', url: '/b' }]
    const { block, names } = blockOf([long, gone], new Dictionaries())
    const seen = withoutNoise(block, [{ type: 'events', event: { page: { is: 'equal', to: '/b' } } }], names)
    expect([...seen.sessions.firstEvent]).toEqual([0, 32, 32])
    expect([...seen.sessions.firstView]).toEqual([0, 32, 32])
  })
})
