import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import type { Timed } from './sessionise.ts'
import {
  cutAgain,
  cutSessions,
  goOn,
  lastAct,
  LONGEST_SESSION_MS,
  reachMs,
  splitSessions,
} from './sessionise.ts'

const MINUTE = 60_000
const cut = (minutes: number[], limitMinutes: number) => {
  const sorted = [...minutes].sort((a, b) => a - b)
  return splitSessions(
    sorted.map((m) => m * MINUTE),
    limitMinutes * MINUTE,
  ).map(([from, to]) => sorted.slice(from, to))
}

describe('splitSessions', () => {
  const cases = casesOf<{ event_minutes: number[]; limit_minutes: number }, { sessions: number[][] }>(
    'trade',
    'session_split',
  )
  it.each(cases)('cuts by inactivity: $id ($source)', ({ inputs, expected }) => {
    expect(cut(inputs.event_minutes, inputs.limit_minutes)).toEqual(expected.sessions)
  })

  const byVisitor = casesOf<
    { events: { visitor: string; minute: number }[]; limit_minutes: number },
    { sessions_by_visitor: Record<string, number[][]> }
  >('trade', 'session_split_by_visitor')
  it.each(byVisitor)('cuts each visitor alone: $id ($source)', ({ inputs, expected }) => {
    for (const [visitor, sessions] of Object.entries(expected.sessions_by_visitor)) {
      const own = inputs.events.filter((event) => event.visitor === visitor).map(({ minute }) => minute)
      expect(cut(own, inputs.limit_minutes)).toEqual(sessions)
    }
  })

  it('keeps a gap of exactly the limit in one session (our choice: sources differ)', () => {
    expect(cut([0, 30], 30)).toEqual([[0, 30]])
  })
})

const LIMIT = 30 * MINUTE
const did = (minute: number, kind: Timed['kind'] = 'click') => ({ t: minute * MINUTE, kind })
const minutesOf = (sessions: Timed[][]) => sessions.map((lines) => lines.map(({ t }) => t / MINUTE))

describe('cutSessions', () => {
  it('ends a session at noon or midnight where it would last longer than 12 hours', () => {
    const every20 = Array.from({ length: 40 }, (_, i) => did(i * 20))
    const [first, second, ...more] = minutesOf(cutSessions(every20))
    expect([first!.length, second!.length, more.length]).toEqual([36, 4, 0])
    expect(minutesOf(cutSessions(every20.slice(20, 40)))).toHaveLength(1)
  })

  it('is not kept alive by what the page does by itself, which stays with the session it followed', () => {
    const polling = Array.from({ length: 10 }, (_, i) => did(5 + i * 20, 'request'))
    expect(minutesOf(cutSessions([did(0), ...polling]))).toHaveLength(1)
    const again = cutSessions([did(0), ...polling, did(190)])
    expect(minutesOf(again).map((minutes) => minutes.length)).toEqual([11, 1])
  })
})

/** Lines over some days, dense enough for long sessions, with what the page does by itself in between. */
const lines = fc
  .array(
    fc.record({
      t: fc
        .oneof(fc.integer({ min: 0, max: 120 }), fc.integer({ min: 0, max: 300 }))
        .map((n) => n * 10 * MINUTE),
      kind: fc.constantFrom<Timed['kind']>('page', 'click', 'click', 'request', 'leave'),
    }),
    { minLength: 1, maxLength: 150 },
  )
  .map((all) => [...new Map(all.map((line) => [line.t, line])).values()])
const inOrder = (all: readonly Timed[]) => [...all].sort((a, b) => a.t - b.t)
const keys = (sessions: readonly (readonly Timed[])[]) =>
  sessions.map((session) => session.map(({ t, kind }) => `${t} ${kind}`).join()).sort()

describe('cutAgain', () => {
  it('comes to the sessions that cutting all at once comes to, in whatever pieces and order the lines come', () => {
    fc.assert(
      fc.property(lines, fc.infiniteStream(fc.nat(6)), fc.boolean(), (all, sizes, shuffled) => {
        const left = shuffled ? [...all] : inOrder(all)
        let sessions: Timed[][] = []
        while (left.length) {
          const piece = inOrder(left.splice(0, 1 + Number(sizes.next().value)))
          const from = piece[0]!.t - reachMs(LIMIT)
          const to = piece[piece.length - 1]!.t + reachMs(LIMIT)
          const isNear = (session: Timed[]) => session[session.length - 1]!.t >= from && session[0]!.t <= to
          const near = sessions.filter(isNear)
          // What only adds to the end of the last session need not be cut again.
          const last = sessions
            .filter(({ length }) => length)
            .sort((a, b) => a[0]!.t - b[0]!.t)
            .at(-1)
          const running = last && {
            startMs: last[0]!.t,
            endMs: last[last.length - 1]!.t,
            actMs: lastAct(last),
          }
          const apart = near.every((one) => one === last || one[one.length - 1]!.t < last![0]!.t - LIMIT)
          if (running && apart && goOn(running, piece, LIMIT))
            last.splice(0, last.length, ...inOrder([...last, ...piece]))
          else
            sessions = [...sessions.filter((one) => !isNear(one)), ...cutAgain(near, piece, inOrder, LIMIT)]
        }
        const atOnce = cutSessions(inOrder(all), LIMIT)
        expect(keys(sessions)).toEqual(keys(atOnce))
        for (const session of atOnce)
          expect(session[session.length - 1]!.t - session[0]!.t).toBeLessThanOrEqual(LONGEST_SESSION_MS)
      }),
      {
        numRuns: 600,
        // What the page did before a session must not leave it when the session grows at its other end.
        examples: [
          [
            [did(800, 'page'), did(40, 'request'), did(70, 'page'), did(0, 'leave'), did(790, 'leave')],
            fc.stream([3, 4, 0, 0, 0][Symbol.iterator]()),
            true,
          ],
        ],
      },
    )
  })
})
