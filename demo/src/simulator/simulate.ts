import type { Line } from '@dust-trail/core'
import type { Layouts } from '../layout.ts'
import { live, liveLong } from './behaviour.ts'
import { Dice } from './chance.ts'
import type { Arrival } from './population.ts'
import { arrivalOf, intentOf, visitorOf } from './population.ts'
import type { CauseName, Scenario } from './scenario.ts'
import { designed, shuffled } from './scenario.ts'
import type { Stay } from './stay.ts'
import type { SimulatedSession } from './visit.ts'
import { Visit } from './visit.ts'

export interface World {
  seed: number
  /** about how many sessions; the last visitor's are all made */
  sessions: number
  days: number
  /** nothing happens after this instant, milliseconds since 1970 */
  endMs: number
  scenario: Scenario
  /** false where nobody needs the recordings; everything else stays as it is */
  recorded?: boolean
}

const DAY_MS = 86_400_000
/** Sessions by hour of the day, in no unit. Common practice, no source: quiet nights, full evenings. */
const HOURS = [2, 1, 1, 1, 1, 2, 4, 7, 9, 10, 10, 10, 11, 11, 10, 9, 10, 12, 15, 18, 20, 18, 12, 6]
const WEEKDAYS = [1.25, 0.9, 0.9, 0.9, 0.95, 1, 1.2]

/** One visitor comes twenty times, another stays for three hours: there are such people in every log. */
const REGULAR = 7
const REGULAR_VISITS = 20
const LINGERER = 11
const LINGERS_MS = 3 * 3_600_000
/** Where people leave at any second: how long they stay on average. */
const MEAN_STAY_MS = 9 * 60_000
/** For two days every page view is counted twice, as when a tag is put on a page a second time: shares of the period. */
const DOUBLED_FROM = 0.45
const DOUBLED_MS = 2 * DAY_MS

/** The faults and people as designed, or drawn from the seed, with other causes besides. */
export function scenarioOf(seed: number, shuffle: boolean, causes: readonly CauseName[] = []): Scenario {
  return shuffle ? shuffled(seed, causes) : designed()
}

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

function oneVisitor(v: number, dice: Dice, world: World, layouts: Layouts): SimulatedSession[] {
  const { scenario, endMs, days } = world
  const sessions: SimulatedSession[] = []
  const arrival = arrivalOf(dice, scenario.mix)
  const visitor = visitorOf(dice, v, arrival, scenario.mix)
  const intent = v === REGULAR || v === LINGERER ? 'read' : intentOf(dice, arrival, scenario.mix)
  const comes =
    v === REGULAR
      ? REGULAR_VISITS
      : dice.pick('visits', [
          [1, 76],
          [2, 14],
          [3, 7],
          [4, 3],
        ])
  const beginMs = endMs - days * DAY_MS
  const doubledMs = Math.floor((beginMs + DOUBLED_FROM * days * DAY_MS) / DAY_MS) * DAY_MS
  let startMs = v === REGULAR ? beginMs + DAY_MS / 2 : firstStart(dice, world)
  let more = comes
  for (let n = 0; n < more; n++) {
    const here = dice.of(`session ${n}`)
    // From start to start, so that nothing a visitor does moves the next visit.
    if (n > 0)
      startMs += Math.round(
        (v === REGULAR
          ? ((days - 1) / REGULAR_VISITS) * (0.8 + 0.2 * here.roll('gap'))
          : 0.6 + 3.5 * here.roll('gap')) * DAY_MS,
      )
    if (startMs > endMs - LINGERS_MS - 3_600_000) break
    const way: Arrival =
      n === 0
        ? arrival
        : here.chance('comes-direct', 0.6)
          ? { channel: 'direct', landing: intent === 'book' ? '/nights' : '/' }
          : arrivalOf(here, scenario.mix)
    const { leaving, traits } = scenario.causes
    const staysMs =
      leaving && v !== LINGERER
        ? -Math.log(1 - here.roll('stays')) * MEAN_STAY_MS * Math.exp(traits ? -0.4 * visitor.mind.urgent : 0)
        : Infinity
    const visit = new Visit(
      ...([
        layouts,
        visitor,
        `${visitor.id}-${n}`,
        here,
        startMs,
        way,
        n > 0,
        world.recorded,
        staysMs,
      ] as const),
    )
    const stay: Stay = {
      visit,
      mind: visitor.mind,
      intent: n === 0 || intent === 'book' ? intent : (way.intent ?? intent),
      scenario,
      when: (startMs - beginMs) / (endMs - beginMs),
      channel: way.channel,
      campaign: way.campaign?.['utm_campaign'],
      nightsSeen: 0,
      itemsSeen: 0,
      articlesSeen: 0,
      searched: false,
      guests: { adults: 2, children: 0 },
      converted: null,
      ...{ annoyed: 0, around: false, delayed: false },
    }
    if (v === LINGERER && n === 0) liveLong(stay, LINGERS_MS)
    else live(stay, way.landing)
    sessions.push({
      visitor: visitor.id,
      lines:
        startMs >= doubledMs && startMs < doubledMs + DOUBLED_MS ? visit.lines.flatMap(doubled) : visit.lines,
      documents: visit.documents,
      met: [...visit.met],
      converted: stay.converted,
    })
    if (stay.converted) break
    // Who puts it off comes back once more than they would have.
    if (stay.delayed && n === more - 1 && more < comes + 2) more++
  }
  return sessions
}

function doubled(line: Line): Line[] {
  return line.kind === 'page' ? [line, { ...line, id: `${line.id}.again` }] : [line]
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
