import { createReadStream, createWriteStream } from 'node:fs'
import { once } from 'node:events'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import type { Layouts } from './layout.ts'
import type { Answered, Judgement, Spot, True } from './judge.ts'
import { faultOf, judge, plainRankings } from './judge.ts'
import type { CauseName, Scenario } from './simulator/scenario.ts'
import { FAULT_NAMES, FAULTS } from './simulator/scenario.ts'
import type { World } from './simulator/simulate.ts'
import { scenarioOf, simulateVisitors } from './simulator/simulate.ts'
import { measureCosts } from './simulator/truth.ts'

const DAYS = 60
const END_MS = Date.UTC(2026, 5, 15)
const POLL_MS = 1000

const dayOf = (ms: number) => new Date(ms).toISOString().slice(0, 10)
/** All that a world holds. */
const LENS = {
  ...{ from: dayOf(END_MS - (DAYS + 1) * 86_400_000), to: dayOf(END_MS + 86_400_000) },
  devices: [],
}

/** Page groups named by their own pattern, so that what is answered can be compared. */
export const PAGES = [
  ...['/', '/nights', '/nights/:night', '/book/:night/party', '/book/:night/details', '/book/:night/payment'],
  ...[
    '/hire',
    '/hire/reserved',
    '/hire/:item',
    '/membership/welcome',
    '/membership/:kind',
    '/articles',
    '/articles/:article',
    '/search',
    '/help',
  ],
  ...['/contact', '/booked', '/winter', '/gift'],
]
/** The site’s one goal: what is lost of other things does not count. */
export const GOAL = '/booked'

interface Evaluation {
  /** where the product answers, such as http://127.0.0.1:4180 */
  server: string
  seeds: readonly number[]
  sessions: number
  causes: readonly CauseName[]
  layouts: Layouts
  tell: (text: string) => void
}

/**
 * Judges prices through the product: each world is imported as a clickstream into a site of its own, with its page groups and
 * its goal, and the question is asked over HTTP; beside the answer stands what each fault truly costs.
 */
export async function evaluate({
  server,
  seeds,
  sessions,
  causes,
  layouts,
  tell,
}: Evaluation): Promise<Record<'prices' | 'bySignals' | 'againstEverybody', Judgement>> {
  type Worlds = Parameters<typeof judge>[0][number][]
  const worlds: Worlds = []
  const beside: Record<'bySignals' | 'againstEverybody', Worlds> = { bySignals: [], againstEverybody: [] }
  const ask = asker(`${server}/api/v1`)
  for (const seed of seeds) {
    const scenario = scenarioOf(seed, true, causes)
    tell(`seed ${seed}: visitors are made up`)
    const world: World = { ...{ seed, sessions, days: DAYS, endMs: END_MS, scenario }, recorded: false }
    const site = await ask<{ key: string }>('POST', '/sites', siteFor(seed, causes))
    const groups = PAGES.map((pattern) => ({ name: pattern, pattern }))
    await ask('PUT', `/sites/${site.key}/page-groups`, { pageGroups: groups })
    await ask('PUT', `/sites/${site.key}`, {
      ...{ ...siteFor(seed, causes), goal: GOAL, retentionDays: null, recordingDays: null },
    })
    await bring(ask, site.key, world, layouts)
    tell(`seed ${seed}: priced`)
    const began = performance.now()
    const { candidates, conversions, days } = await ask<{
      candidates: Answered[]
      conversions: number
      days: number
    }>('POST', `/sites/${site.key}/candidates`, { lens: LENS })
    const seconds = (performance.now() - began) / 1000
    tell(`seed ${seed}: answered in ${seconds.toFixed(1)} s; what each fault costs is found out`)
    const truth = trueCosts(scenario, { seed, sessions, layouts, scale: 30 / days })
    const judged = { seed, candidates, truth, conversions: (conversions * 30) / days }
    worlds.push(judged)
    tell(report(judged))
    const { spots } = await ask<{ spots: Spot[] }>('POST', `/sites/${site.key}/friction`, { lens: LENS })
    const rankings = plainRankings(spots, 30 / days)
    for (const name of ['bySignals', 'againstEverybody'] as const)
      beside[name].push({ ...judged, candidates: rankings[name] })
  }
  return {
    prices: judge(worlds),
    bySignals: judge(beside.bySignals),
    againstEverybody: judge(beside.againstEverybody),
  }
}

function trueCosts(
  scenario: Scenario,
  { seed, sessions, layouts, scale }: { seed: number; sessions: number; layouts: Layouts; scale: number },
): True[] {
  const costs = measureCosts({ layouts, seed, sessions, populations: 1, scenario, names: FAULT_NAMES })
  return FAULT_NAMES.map((fault) => {
    const { page, selector } = (FAULTS[fault].spots as Record<string, { page: string; selector: string }>)[
      scenario.faults[fault].spot
    ]!
    return { fault, page, selector, lost: costs[fault].lost.night.mean * scale }
  })
}

function report({
  seed,
  conversions,
  candidates,
  truth,
}: {
  seed: number
  conversions: number
  candidates: readonly Answered[]
  truth: readonly True[]
}) {
  const lines = candidates.slice(0, 15).map((one) => {
    const fault = faultOf(one, truth)
    const { value, low, high } = one.price
    return `  ${String(one.rank).padStart(2)} ${value.toFixed(1)} (${low.toFixed(1)} to ${high.toFixed(1)})${one.confident ? ' confident' : ''}: ${one.kind} at ${one.pattern} ${one.selector} — ${fault ? `${fault.fault}, truly ${fault.lost.toFixed(1)}` : 'no fault'}`
  })
  const found = new Set(candidates.slice(0, 15).map((one) => faultOf(one, truth)))
  const missed = truth
    .filter((one) => !found.has(one))
    .map(({ fault, page, selector, lost }) => `  – ${fault} at ${page} ${selector}, truly ${lost.toFixed(1)}`)
  return [`seed ${seed}, conversions lost in 30 days of ${conversions.toFixed(0)}`, ...lines, ...missed].join(
    '\n',
  )
}

function siteFor(seed: number, causes: readonly CauseName[]) {
  return {
    name: `World ${seed}${causes.length ? ', other causes' : ''}`,
    origins: ['http://127.0.0.1:4181'],
    timeZone: 'UTC',
    currency: 'EUR',
    rates: [],
    sessionLimitMin: 30,
  }
}

type Ask = <T>(method: string, path: string, body?: unknown) => Promise<T>

function asker(base: string): Ask & { base?: string } {
  const ask: Ask = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const stream = body instanceof Readable
    const response = await fetch(base + path, {
      method,
      ...(body !== undefined && { body: stream ? (Readable.toWeb(body) as never) : JSON.stringify(body) }),
      ...(stream && { duplex: 'half' }),
      // Between two questions minutes pass: no connection is kept.
      headers: {
        'content-type': stream ? 'application/octet-stream' : 'application/json',
        connection: 'close',
      },
    })
    const answer = (await response.json()) as T & { detail?: string }
    if (!response.ok) throw new Error(`${method} ${path}: ${answer.detail ?? response.status}`)
    return answer
  }
  return ask
}

async function bring(ask: Ask, site: string, world: World, layouts: Layouts): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'dust-trail-world-'))
  try {
    const file = join(folder, 'world.ndjson')
    const out = createWriteStream(file)
    for (const visitor of simulateVisitors(world, layouts)) {
      const text = visitor.flatMap(({ lines }) => lines.map((line) => `${JSON.stringify(line)}\n`)).join('')
      if (!out.write(text)) await once(out, 'drain')
    }
    out.end()
    await once(out, 'finish')
    let state = await ask<{ id: number; state: string; message?: string | null }>(
      'POST',
      `/sites/${site}/imports?name=world.ndjson`,
      createReadStream(file),
    )
    while (state.state === 'running') {
      await new Promise((resolve) => setTimeout(resolve, POLL_MS))
      state = await ask('GET', `/sites/${site}/imports/${state.id}`)
    }
    if (state.state !== 'done') throw new Error(`the import is ${state.state}: ${state.message ?? ''}`)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}
