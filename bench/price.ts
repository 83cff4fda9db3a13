/** What to repair first, priced: a site of the demo's world, and one that is visited twenty-five times as much. */
import { pathToFileURL } from 'node:url'
import type { Lens, SessionRow } from '../core/src/index.ts'
import { candidates } from '../core/src/index.ts'
import { GOAL, PAGES } from '../demo/src/evaluate.ts'
import { LAYOUTS_FILE, readLayouts } from '../demo/src/layout.ts'
import type { SimulatedSession } from '../demo/src/simulator/visit.ts'
import { scenarioOf, simulateVisitors } from '../demo/src/simulator/simulate.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import type { Threads } from '../server/src/engine/threads.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { timed } from './child/timing.ts'
import type { Figure, Report } from './report.ts'

export const about = 'what to repair first, priced over 40,000 and over a million sessions'

const SESSIONS = 40_000
const TIMES = 25
const DAYS = 60
const END_MS = Date.UTC(2026, 5, 15)
const DAY_MS = 86_400_000
const RUNS = 3
/** Sessions of one block, as they are packed. */
const TOGETHER = 4096
const SECOND_MS = 1000

const GROUPS = PAGES.map((pattern) => ({ name: pattern, pattern }))

const dayAt = (ms: number) => new Date(ms).toISOString().slice(0, 10)

/** All sessions of the world, as often as asked, each time by other visitors. */
function* worlds(times: number): Generator<SessionRow> {
  const scenario = scenarioOf(417, true)
  const world = { seed: 417, sessions: SESSIONS, days: DAYS, endMs: END_MS, scenario, recorded: false }
  let id = 0
  const rowOf = ({ lines, visitor }: SimulatedSession, before: number, time: number): SessionRow => ({
    ...{ id: ++id, visitor: `${visitor} ${time}`, returning: before > 0 },
    ...{ device: { class: 'desktop' }, country: 'AA', channel: 'Direct', lines },
  })
  for (const sessions of simulateVisitors(world, readLayouts(LAYOUTS_FILE)))
    for (const [before, session] of sessions.entries())
      for (let time = 0; time < times; time++) yield rowOf(session, before, time)
}

async function priced(threads: Threads, times: number): Promise<{ seconds: number[]; said: string }> {
  const source = { key: `bench ${times}`, rules: () => GROUPS, timeZone: () => 'UTC', goal: () => GOAL }
  const engine = new SiteEngine(source, threads)
  let rows: SessionRow[] = []
  for (const row of worlds(times)) {
    rows.push(row)
    if (rows.length < TOGETHER) continue
    engine.addBlock(rows)
    rows = []
  }
  engine.addBlock(rows)
  const seconds: number[] = []
  let said = ''
  for (let run = 0; run < RUNS; run++) {
    // Other days each time, all with the same sessions in them, so that no answer is kept from before.
    const lens: Lens = {
      ...{ from: dayAt(END_MS - (DAYS + 2 + run) * DAY_MS), to: dayAt(END_MS + DAY_MS), devices: [] },
    }
    const work = async () => {
      const { sessions, looked, candidates: found } = await engine.ask(candidates, lens, {})
      if (!found.length) throw new Error('nothing is found that costs anything')
      said = `${sessions} sessions, of which ${looked} are looked at: ${found.length} candidates`
    }
    seconds.push((await timed(work)) / SECOND_MS)
  }
  engine.end()
  return { seconds, said }
}

export async function run(): Promise<Report> {
  const threads = startThreads(pathToFileURL('dist/engine-worker.mjs'), 2)
  // Threads alone do not keep a program running.
  const running = setInterval(() => undefined, 1000)
  try {
    const few = await priced(threads, 1)
    const many = await priced(threads, TIMES)
    const figure = (what: string, values: number[], atMost: number): Figure => ({
      ...{ what, unit: 's', values, goal: { atMost } },
    })
    return {
      name: 'price',
      data: `the demo's simulator, seed 417 as drawn: ${few.said}; ${many.said}`,
      figures: [
        figure('all candidates of 40,000 sessions', few.seconds, 10),
        figure('all candidates of a million sessions', many.seconds, 120),
      ],
    }
  } finally {
    clearInterval(running)
    await threads.close()
  }
}
