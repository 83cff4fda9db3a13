import type { Layouts } from '../layout.ts'
import type { DecoyName, FaultName, Scenario } from './scenario.ts'
import { without } from './scenario.ts'
import type { World } from './simulate.ts'
import { simulateVisitors } from './simulate.ts'
import type { Conversion } from './visit.ts'

/** A mean over populations and its standard error. */
export interface Mean {
  mean: number
  standardError: number
}

export interface Cost {
  sessionsHit: Mean
  conversionsLost: Mean
  /** by what was lost */
  lost: Record<Conversion['kind'], Mean>
  moneyLost: Mean
}

export interface Question {
  layouts: Layouts
  seed: number
  sessions: number
  populations: number
  scenario: Scenario
  names: readonly (FaultName | DecoyName)[]
  progress?: (done: number, all: number) => void
}

/** Far from what else is drawn from a seed. */
const NEXT_POPULATION = 1_000_003
const DAYS = 60
const END_MS = Date.UTC(2026, 5, 15)
const KINDS = ['night', 'hire', 'membership', 'letter'] as const

interface Outcome {
  hit: Map<FaultName | DecoyName, number>
  made: Record<Conversion['kind'], number>
  money: number
}

/**
 * What each fault costs: conversions and money with it switched off less those with it, the same visitors making the same
 * decisions in both. The first population is that of the seed itself.
 */
export function measureCosts({
  layouts,
  seed,
  sessions,
  populations,
  scenario,
  names,
  progress,
}: Question): Record<FaultName | DecoyName, Cost> {
  const runs = new Map<string, { hit: number; lost: number; kinds: number[]; money: number }[]>()
  for (const name of names) runs.set(name, [])
  for (let p = 0; p < populations; p++) {
    const world: World = {
      seed: seed + p * NEXT_POPULATION,
      sessions,
      days: DAYS,
      endMs: END_MS,
      scenario,
      recorded: false,
    }
    const visitors = visitorsOf(world, layouts)
    const on = outcome(world, layouts, visitors)
    progress?.(p * (names.length + 1) + 1, populations * (names.length + 1))
    names.forEach((name, i) => {
      const off = outcome({ ...world, scenario: without(scenario, name) }, layouts, visitors)
      const kinds = KINDS.map((kind) => off.made[kind] - on.made[kind])
      runs.get(name)!.push({
        hit: on.hit.get(name) ?? 0,
        lost: kinds.reduce((a, b) => a + b, 0),
        kinds,
        money: off.money - on.money,
      })
      progress?.(p * (names.length + 1) + i + 2, populations * (names.length + 1))
    })
  }
  const costs = names.map((name) => {
    const all = runs.get(name)!
    const lost = KINDS.map((kind, k) => [kind, mean(all.map(({ kinds }) => kinds[k]!))] as const)
    const cost: Cost = {
      sessionsHit: mean(all.map(({ hit }) => hit)),
      conversionsLost: mean(all.map((run) => run.lost)),
      lost: Object.fromEntries(lost) as Cost['lost'],
      moneyLost: mean(all.map(({ money }) => money)),
    }
    return [name, cost] as const
  })
  return Object.fromEntries(costs) as Record<FaultName | DecoyName, Cost>
}

/** How many visitors it takes until there are that many sessions. */
function visitorsOf(world: World, layouts: Layouts): number {
  let visitors = 0
  for (const _ of simulateVisitors(world, layouts)) visitors++
  return visitors
}

/** The same visitors in every world, however many sessions they make of it. */
function outcome(world: World, layouts: Layouts, visitors: number): Outcome {
  const total: Outcome = { hit: new Map(), made: { night: 0, hire: 0, membership: 0, letter: 0 }, money: 0 }
  let seen = 0
  for (const sessions of simulateVisitors({ ...world, sessions: Infinity }, layouts)) {
    if (seen++ === visitors) break
    for (const { met, converted } of sessions) {
      for (const name of met) total.hit.set(name, (total.hit.get(name) ?? 0) + 1)
      if (!converted) continue
      total.made[converted.kind]++
      total.money += converted.value
    }
  }
  return total
}

function mean(numbers: readonly number[]): Mean {
  const m = numbers.reduce((a, b) => a + b, 0) / numbers.length
  const variance = numbers.reduce((sum, n) => sum + (n - m) ** 2, 0) / Math.max(1, numbers.length - 1)
  return {
    mean: Number(m.toFixed(2)),
    standardError: Number(Math.sqrt(variance / numbers.length).toFixed(2)),
  }
}
