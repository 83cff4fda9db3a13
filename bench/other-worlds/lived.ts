import type { SessionRow } from '../../core/src/index.ts'
import type { OtherWorld, Person } from './visit.ts'
import { normal, rolled, Visit } from './visit.ts'

export const DAYS = 60
export const END_MS = Date.UTC(2026, 5, 15)
const DAY_MS = 86_400_000
/** So many faults are not there at all. */
const NOTHING = 0.2

/** How hard each fault is in a world of a seed: 0, or 0.5 to 1.5. */
export function strengthsOf(world: OtherWorld, seed: number): ReadonlyMap<string, number> {
  return new Map(
    Object.keys(world.faults).map((fault) => [
      fault,
      rolled(seed, 'is there', fault) < NOTHING ? 0 : 0.5 + rolled(seed, 'strength', fault),
    ]),
  )
}

/**
 * About so many sessions, and how many of them reach the goal: each visitor once at most.
 *
 * @param without  a fault that is left out, for the same visitors
 */
export function lived(
  world: OtherWorld,
  seed: number,
  sessions: number,
  without?: string,
): { rows: SessionRow[]; won: number } {
  const strengths = strengthsOf(world, seed)
  const strength = (fault: string) => (fault === without ? 0 : strengths.get(fault)!)
  const rows: SessionRow[] = []
  let won = 0
  for (let v = 0, made = 0; made < sessions; v++) {
    const person = personOf(seed, v)
    const visits = 1 + (rolled(seed, v, 'visits') < 0.25 ? 1 : 0)
    made += visits
    const firstMs = END_MS - rolled(seed, v, 'start') * DAYS * DAY_MS
    for (let s = 0; s < visits; s++) {
      const startMs = firstMs + s * (1 + 3 * rolled(seed, v, 'gap')) * DAY_MS
      if (startMs > END_MS) break
      const roll = (...words: (string | number)[]) => rolled(seed, v, s, ...words)
      const day = DAYS - (END_MS - startMs) / DAY_MS
      const visit = new Visit(person, roll, strength, startMs, day, world.hazard)
      world.live(visit)
      if (visit.lines[visit.lines.length - 1]!.kind !== 'leave') {
        visit.pass(300)
        visit.say('leave', { ms: 1000 })
      }
      rows.push({
        ...{ id: rows.length + 1, visitor: `v${v}`, returning: s > 0, device: visit.lines[0]!.device! },
        ...{ country: 'DE', channel: 'Direct', lines: visit.lines },
      })
      if (!visit.won) continue
      won++
      break
    }
  }
  return { rows, won }
}

function personOf(seed: number, v: number): Person {
  const [screen, browser] = [rolled(seed, v, 'screen'), rolled(seed, v, 'browser')]
  return {
    ...{ want: normal(seed, v, 'want'), patience: normal(seed, v, 'patience') },
    ...{ curious: normal(seed, v, 'curious'), mobile: screen < 0.5, small: screen < 0.25 },
    browser: browser < 0.3 ? 'Safari' : browser < 0.75 ? 'Chrome' : 'Firefox',
  }
}
