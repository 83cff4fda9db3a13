import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import { splitSessions, touchedSessions } from './sessionise.ts'

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

describe('touchedSessions', () => {
  it('finds by arrival in any order the sessions that cutting all at once finds', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 400 }), { minLength: 1, maxLength: 25 }), (minutes) => {
        let sessions: { startMs: number; endMs: number }[] = []
        for (const minute of minutes) {
          const span = { startMs: minute * MINUTE, endMs: minute * MINUTE }
          const touched = touchedSessions(sessions, span)
          const joined = [span, ...touched.map((i) => sessions[i]!)]
          sessions = [
            ...sessions.filter((_, i) => !touched.includes(i)),
            {
              startMs: Math.min(...joined.map((s) => s.startMs)),
              endMs: Math.max(...joined.map((s) => s.endMs)),
            },
          ].sort((a, b) => a.startMs - b.startMs)
        }
        const atOnce = cut(minutes, 30).map((s) => ({
          startMs: s[0]! * MINUTE,
          endMs: s[s.length - 1]! * MINUTE,
        }))
        expect(sessions).toEqual(atOnce)
      }),
    )
  })
})
