/**
 * npm run truth -- [--seed S] [--sessions N] [--populations P]
 * What each planted fault truly costs: the same visitors with that fault switched off, everything else the same number by
 * number, so that the difference is the fault alone. A mean over several populations, with its standard error.
 */
import { resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import type { FaultName, Faults } from './simulator/behaviour.ts'
import { FAULTS } from './simulator/behaviour.ts'
import type { World } from './simulator/simulate.ts'
import { simulateVisitors } from './simulator/simulate.ts'

const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: '1' },
    sessions: { type: 'string', default: '1500' },
    populations: { type: 'string', default: '8' },
  },
})
const layouts = readLayouts(resolve(LAYOUTS_FILE))
const seed = whole('seed', values.seed)
const sessions = whole('sessions', values.sessions)
const populations = whole('populations', values.populations)
if (populations < 2) throw new Error('--populations must be at least 2: one alone has no standard error')
const ALL: Faults = { deadPicture: true, tinyArrows: true }

interface Outcome {
  booked: number
  money: number
  hit: number
}

const truth = (Object.keys(FAULTS) as FaultName[]).map((fault) => {
  const runs = Array.from({ length: populations }, (_, p) => {
    // The first population is that of the demo itself.
    const world: World = {
      seed: seed + p * 1_000_003,
      sessions,
      days: 14,
      endMs: Date.UTC(2026, 5, 15),
      faults: ALL,
    }
    const visitors = visitorsOf(world)
    const on = outcome(world, fault, visitors)
    const off = outcome({ ...world, faults: { ...ALL, [fault]: false } }, fault, visitors)
    return { hit: on.hit, conversions: off.booked - on.booked, money: off.money - on.money }
  })
  const { what, page, selector, signals } = FAULTS[fault]
  return {
    fault,
    what,
    page,
    selector,
    signals,
    sessionsHit: mean(runs.map(({ hit }) => hit)),
    conversionsLost: mean(runs.map(({ conversions }) => conversions)),
    moneyLost: mean(runs.map(({ money }) => money)),
  }
})
console.log(JSON.stringify({ seed, sessions, populations, faults: truth }, null, 2))

/** How many visitors it takes until there are that many sessions. */
function visitorsOf(world: World): number {
  let visitors = 0
  for (const _ of simulateVisitors(world, layouts)) visitors++
  return visitors
}

function outcome(world: World, fault: FaultName, visitors: number): Outcome {
  const total: Outcome = { booked: 0, money: 0, hit: 0 }
  let seen = 0
  // The same visitors in both worlds, however many sessions they make of it.
  for (const own of simulateVisitors({ ...world, sessions: Infinity }, layouts)) {
    if (seen++ === visitors) break
    for (const { met, booked } of own) {
      if (met.includes(fault)) total.hit++
      if (booked === null) continue
      total.booked++
      total.money += booked
    }
  }
  return total
}

/** Mean and its standard error. */
function mean(numbers: readonly number[]): { mean: number; standardError: number } {
  const m = numbers.reduce((a, b) => a + b, 0) / numbers.length
  const variance = numbers.reduce((sum, n) => sum + (n - m) ** 2, 0) / (numbers.length - 1)
  return {
    mean: Number(m.toFixed(2)),
    standardError: Number(Math.sqrt(variance / numbers.length).toFixed(2)),
  }
}

function whole(name: string, text: string): number {
  const number = Number(text)
  if (!Number.isSafeInteger(number) || number < 1)
    throw new Error(`--${name} must be a whole number from 1, not "${text}"`)
  return number
}
