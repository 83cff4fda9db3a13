import type { Layouts } from '../layout.ts'
import type { Faults } from './behaviour.ts'
import { live } from './behaviour.ts'
import { Dice } from './chance.ts'
import type { Arrival } from './population.ts'
import { arrivalOf, visitorOf } from './population.ts'
import type { SimulatedSession } from './visit.ts'
import { Visit } from './visit.ts'

export interface World {
  seed: number
  /** about how many sessions; the last visitor's are all made */
  sessions: number
  days: number
  /** nothing happens after this instant, milliseconds since 1970 */
  endMs: number
  faults: Faults
}

const DAY_MS = 86_400_000
/** Sessions by hour of the day, in no unit. Common practice, no source: quiet nights, full evenings. */
const HOURS = [2, 1, 1, 1, 1, 2, 4, 7, 9, 10, 10, 10, 11, 11, 10, 9, 10, 12, 15, 18, 20, 18, 12, 6]
const WEEKDAYS = [1.25, 0.9, 0.9, 0.9, 0.95, 1, 1.2]

/** The sessions of the demo in order of their start. Same world, same sessions. */
export function simulate(world: World, layouts: Layouts): SimulatedSession[] {
  const sessions: SimulatedSession[] = []
  for (const visitor of simulateVisitors(world, layouts)) sessions.push(...visitor)
  return sessions.sort((a, b) => a.lines[0]!.t - b.lines[0]!.t || a.visitor.localeCompare(b.visitor))
}

/** The same sessions, one visitor's after another's, so that any number fits into memory. */
export function* simulateVisitors(world: World, layouts: Layouts): Generator<SimulatedSession[]> {
  const dice = new Dice(`seed ${world.seed}`)
  for (let v = 0, made = 0; made < world.sessions; v++) {
    const sessions = oneVisitor(v, dice.of(`visitor ${v}`), world, layouts)
    made += sessions.length
    yield sessions
  }
}

function oneVisitor(v: number, own: Dice, world: World, layouts: Layouts): SimulatedSession[] {
  const sessions: SimulatedSession[] = []
  const arrival = arrivalOf(own)
  const visitor = visitorOf(own, v, arrival)
  const comes = own.pick('visits', [
    [1, 76],
    [2, 14],
    [3, 7],
    [4, 3],
  ])
  let startMs = firstStart(own, world)
  for (let n = 0; n < comes; n++) {
    const here = own.of(`session ${n}`)
    if (n > 0) startMs += Math.round((0.6 + 3.5 * here.roll('gap')) * DAY_MS)
    if (startMs > world.endMs - 3_600_000) break
    const way: Arrival =
      n === 0
        ? arrival
        : here.chance('comes-direct', 0.6)
          ? { channel: 'direct', landing: '/nights' }
          : arrivalOf(here)
    const visit = new Visit(layouts, visitor, `${visitor.id}-${n}`, here, startMs, way, n > 0)
    const booked = live(visit, way.landing, world.faults)
    sessions.push({
      visitor: visitor.id,
      lines: visit.lines,
      documents: visit.documents,
      met: [...visit.met],
      booked: booked ? visit.price : null,
    })
    startMs = visit.nowMs
    if (booked) break
  }
  return sessions
}

/** When a visitor first comes, by weekday and hour. */
function firstStart(dice: Dice, world: World): number {
  const from = world.endMs - world.days * DAY_MS
  const days = Array.from({ length: world.days }, (_, d) => {
    const midnight = Math.floor((from + d * DAY_MS) / DAY_MS) * DAY_MS
    return [midnight, WEEKDAYS[new Date(midnight).getUTCDay()]!] as const
  })
  const midnight = dice.pick('day', days)
  const hour = dice.pick(
    'hour',
    HOURS.map((weight, h) => [h, weight] as const),
  )
  const at = midnight + hour * 3_600_000 + Math.floor(dice.roll('minute') * 3_600_000)
  return at < from ? at + DAY_MS : at
}
