import fc from 'fast-check'
import { expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { goalMs } from '../../select/goal-times.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { namesOf, PAGES, rowsOf, worlds } from '../../testing/world.ts'
import { sessionsOf } from './controls.ts'
import { stillOpen } from './risk-sets.ts'
import { addJourney, inOrder, noJourneys, packJourneys } from './journeys.ts'
import { stagesOf } from './stages.ts'

const DAY = 86_400_000
const GOAL = '/d'

/** Sessions some days apart, over three visitors. */
const apart = fc
  .tuple(worlds, fc.array(fc.nat(20), { minLength: 12, maxLength: 12 }))
  .map(([sessions, days]) =>
    sessions.map((lines, i) => lines.map((line) => ({ ...line, t: line.t + days[i]! * DAY + i * 60_000 }))),
  )

function staged(sessions: Parameters<typeof rowsOf>[0]) {
  const dictionaries = new Dictionaries()
  const rows = rowsOf(sessions)
  const block = buildBlock(rows, dictionaries)
  const names = namesOf(dictionaries)
  const growing = noJourneys()
  const goal = names.groups.find(GOAL)
  const wonFirst = goalMs(block, { names, goal: GOAL }, 'first')
  for (let s = 0; s < block.sessions.count; s++) addJourney(block, s, names, wonFirst(s), growing)
  const journeys = inOrder(packJourneys(growing))
  return { rows, names, goal, journeys, stages: stagesOf(journeys, names.groups.names.length, goal) }
}

it('tells of each view whether the visitor converts later, in the session or within a week', () => {
  fc.assert(
    fc.property(apart, (sessions) => {
      const { rows, journeys, stages } = staged(sessions)
      const wins = rows.flatMap(({ visitor, lines }) =>
        lines
          .filter(({ kind, url }) => kind === 'page' && url === GOAL)
          .map(({ t }) => ({ visitor, t, start: lines[0]!.t })),
      )
      let view = 0
      for (let s = 0; s < journeys.sessions.id.length; s++) {
        const row = rows.find(({ id }) => id === journeys.sessions.id[s])!
        const start = row.lines[0]!.t
        const first = Math.min(
          ...wins.filter((win) => win.start === start && win.visitor === row.visitor).map(({ t }) => t),
        )
        for (let k = 0; k < journeys.sessions.views[s]!; k++, view++) {
          const at = start + journeys.views.atMs[view]!
          const here = first > at && first < Infinity
          const later = wins.some(
            (win) => win.visitor === row.visitor && win.start > start && win.start - start <= 7 * DAY,
          )
          expect(stages.won[view]).toBe(Number(here || later))
          // Who converts later in the session has come further.
          if (here) expect(stages.on[view]).toBe(1)
        }
      }
    }),
    { numRuns: 150 },
  )
})

it('draws only views that were open about then, of those that did not meet it', () => {
  fc.assert(
    fc.property(worlds, fc.nat(5000), (sessions, ms) => {
      const { names, journeys, stages } = staged(sessions)
      const group = names.groups.find(PAGES[0])
      const views = [...journeys.views.group.keys()].filter((v) => journeys.views.group[v] === group)
      const cases = views.slice(0, 1).map((view) => ({ view, atMs: journeys.views.atMs[view]! + ms }))
      if (!cases.length) return
      const exposed = sessionsOf(stages, cases)
      const notMet = views.filter((v) => !exposed.has(stages.sessionOf[v]!))
      const controls = stillOpen(stages, notMet, cases)
      for (const { view } of controls) {
        expect(journeys.views.group[view]).toBe(group)
        expect(exposed.has(stages.sessionOf[view]!)).toBe(false)
        expect(stages.endMs[view]! - journeys.views.atMs[view]!).toBeGreaterThanOrEqual(ms - 3000)
      }
      const some = notMet.some((v) => stages.endMs[v]! - journeys.views.atMs[v]! >= ms - 3000)
      expect(controls.length > 0).toBe(some)
    }),
    { numRuns: 150 },
  )
})
