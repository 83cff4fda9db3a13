/** Prices on sites of other kinds than the demo's, with faults whose cost is known: see bench/other-worlds. */
import type { Goal, Lens } from '../core/src/index.ts'
import { candidates } from '../core/src/index.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { bank } from './other-worlds/bank.ts'
import { garage } from './other-worlds/garage.ts'
import { club } from './other-worlds/club.ts'
import { courses } from './other-worlds/courses.ts'
import { food } from './other-worlds/food.ts'
import { DAYS, END_MS, lived, strengthsOf } from './other-worlds/lived.ts'
import { give } from './other-worlds/give.ts'
import { jobs } from './other-worlds/jobs.ts'
import { lead } from './other-worlds/lead.ts'
import { magazine } from './other-worlds/magazine.ts'
import { parcel } from './other-worlds/parcel.ts'
import { portal } from './other-worlds/portal.ts'
import { quote } from './other-worlds/quote.ts'
import { rent } from './other-worlds/rent.ts'
import { shop } from './other-worlds/shop.ts'
import { signUp } from './other-worlds/sign-up.ts'
import { tickets } from './other-worlds/tickets.ts'
import { travel } from './other-worlds/travel.ts'
import type { OtherWorld } from './other-worlds/visit.ts'
import type { Report } from './report.ts'

export const about = 'prices on made-up sites of other kinds, against what their faults cost'

const ALL = [
  shop,
  signUp,
  quote,
  food,
  magazine,
  travel,
  lead,
  tickets,
  jobs,
  portal,
  courses,
  club,
  give,
  rent,
  parcel,
  bank,
  garage,
]
/** BENCH_WORLDS=quote,food: these alone; BENCH_SHOW=1: the whole lists. */
const NAMED = process.env['BENCH_WORLDS']?.split(',')
const WORLDS = ALL.filter(({ name }) => NAMED?.includes(name) ?? true)
const SEEDS = (process.env['BENCH_SEEDS'] ?? '1,2').split(',').map(Number)
const SESSIONS = Number(process.env['BENCH_SESSIONS'] ?? 40_000)
/** Of conversions: a fault that costs less need not be found. */
const COSTLY = 0.01
const LISTED = 15
/** Sessions of one block, as they are packed. */
const TOGETHER = 4096
const DAY_MS = 86_400_000

const dayAt = (ms: number) => new Date(ms).toISOString().slice(0, 10)
const LENS: Lens = { from: dayAt(END_MS - (DAYS + 1) * DAY_MS), to: dayAt(END_MS + DAY_MS), devices: [] }

/** The goal of a world as a site has it: a page group, or an action by name. */
function goalOf({ goal }: OtherWorld): { goal: () => string; goals?: () => Goal[] } {
  const [sort, named] = [goal.slice(0, goal.indexOf(' ')), goal.slice(goal.indexOf(' ') + 1)]
  if (sort === 'page') return { goal: () => named }
  const event: Goal['event'] = { kinds: ['action'], name: { is: 'equal', to: named } }
  return { goal: () => '', goals: () => [{ name: named, value: null, event }] }
}

interface Judged {
  costly: number
  found: number
  inside: number
  confident: number
  harmless: number
  /** of faults that were found, what they are said to cost over what they do */
  ratios: number[]
}

async function judged(world: OtherWorld, seed: number, onto: Judged): Promise<void> {
  const { rows, won } = lived(world, seed, SESSIONS)
  const engine = new SiteEngine({
    ...{ key: `${world.name} ${seed}`, timeZone: () => 'UTC', answers: 0 },
    rules: () => world.groups.map((pattern) => ({ name: pattern, pattern })),
    ...goalOf(world),
  })
  for (let from = 0; from < rows.length; from += TOGETHER) engine.addBlock(rows.slice(from, from + TOGETHER))
  const { candidates: listed, days } = await engine.ask(candidates, LENS, {})
  const scale = 30 / days
  const tells = (spots: readonly string[]) =>
    listed
      .slice(0, LISTED)
      .filter(({ page, kind, selector }) =>
        spots
          .map((spot) => spot.split(': '))
          .some(([of, what, at]) => page === of && kind === what && (!at || selector.includes(at))),
      )
  const told = new Set<object>()
  console.log(`${world.name} ${seed}: ${rows.length} sessions, ${won} reach the goal`)
  for (const [fault, strength] of strengthsOf(world, seed)) {
    if (!strength) continue
    const lost = (lived(world, seed, SESSIONS, fault).won - won) * scale
    const own = tells(world.faults[fault]!)
    const sum = (of: 'value' | 'low' | 'high') => own.reduce((all, { price }) => all + price[of], 0)
    if (lost > 0) for (const one of own) told.add(one)
    console.log(
      `  ${fault}: truly ${lost.toFixed(1)}, ${own.length ? `said ${sum('value').toFixed(1)} (${sum('low').toFixed(1)} to ${sum('high').toFixed(1)})` : 'not listed'}`,
    )
    if (lost < COSTLY * won * scale) continue
    onto.costly++
    if (!own.length) continue
    onto.found++
    onto.ratios.push(sum('value') / lost)
    if (sum('low') <= lost && lost <= sum('high')) onto.inside++
  }
  if (process.env['BENCH_SHOW'])
    for (const one of listed)
      console.log(
        `    ${one.page} ${one.kind} ${one.selector} ${one.price.value.toFixed(1)} (${one.price.low.toFixed(1)} to ${one.price.high.toFixed(1)}) ${one.confident ? 'confident' : ''} ${one.compared} ${told.has(one) ? '' : '?'}`,
      )
  for (const one of listed) {
    if (!one.confident) continue
    onto.confident++
    if (told.has(one)) continue
    onto.harmless++
    console.log(`  confident without a cost: ${one.kind} at ${one.page} ${one.selector}`)
  }
}

export async function run(): Promise<Report> {
  const all: Judged = {
    ...{ costly: 0, found: 0, inside: 0, confident: 0, harmless: 0 },
    ratios: [],
  }
  for (const world of WORLDS) for (const seed of SEEDS) await judged(world, seed, all)
  const share = (what: string, of: number, base: number, goal: Report['figures'][number]['goal']) => ({
    ...{ what: `${what} (of ${base})`, unit: '', values: [base ? of / base : NaN], goal },
  })
  return {
    name: 'worlds',
    data: `${WORLDS.map(({ name }) => name).join(', ')}, seeds ${SEEDS.join(', ')}, ${SESSIONS} sessions each; faults that cost more than 1 % of the conversions`,
    figures: [
      share('found among the first 15', all.found, all.costly, { atLeast: 0.95 }),
      share('true cost inside the interval', all.inside, all.found, { atLeast: 0.93 }),
      share('confident without a cost', all.harmless, all.confident, { atMost: 0.05 }),
      { what: 'price over truth', unit: '×', values: all.ratios, goal: null },
    ],
  }
}
