/** Finding signals in columns: events a second on one core, and how soon changed thresholds are in the answers. */
import { pathToFileURL } from 'node:url'
import type { Line } from '../core/src/index.ts'
import { friction, THRESHOLDS } from '../core/src/index.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { SOURCE } from './child/engine-data.ts'
import { LENS, makeSession, rowOf } from './child/sessions.ts'
import type { Report } from './report.ts'

export const about = 'signals found a second on one core, and answers after thresholds have changed'

const SESSIONS = Number(process.env['BENCH_SESSIONS'] ?? 1_000_000)
/** Sessions of one block, as they are packed. */
const TOGETHER = 4096
const RUNS = 7
/** Blocks that one core looks through at a time. */
const LOOKED_THROUGH = 32

/** One threshold at least of all that is looked for. */
const OF_ALL_KINDS = ['rageMs', 'backMs', 'combingPx', 'hopsMs', 'freezeMs', 'slowMs', 'corrections'] as const

/** Lines as visitors make them: some clicks do nothing, some come in bursts, fields are left and pages scrolled. */
function linesOf(id: number): Line[] {
  return rowOf(id, makeSession(id)).lines.map((line, i): Line => {
    if (line.kind === 'page') return { ...line, load: 800 + ((id * 31 + i * 7) % 4000) }
    const at = { x: (id + i) % 900, y: (id * 7) % 600, rx: 0.5, ry: 0.5 }
    if (i % 5 === 3) return { ...line, kind: 'scroll', depth: 0.5, top: ((id + i) % 9) * 200 }
    if (i % 7 === 4) return { ...line, kind: 'input', corrections: (id + i) % 4, length: 5 }
    const target = { ...line.target!, interactive: i % 3 !== 0, w: 80, h: 24 }
    return { ...line, ...at, target, effect: (id + i) % 8 ? 'change' : 'none' }
  })
}

export async function run(): Promise<Report> {
  const one = startThreads(pathToFileURL('dist/engine-worker.mjs'), 1)
  const two = startThreads(pathToFileURL('dist/engine-worker.mjs'), 2)
  // Threads alone do not keep a program running.
  const running = setInterval(() => undefined, 1000)
  try {
    let thresholds = THRESHOLDS
    const engine = new SiteEngine({ key: 'bench', ...SOURCE, thresholds: () => thresholds }, two)
    const alone = new SiteEngine({ key: 'bench', ...SOURCE, thresholds: () => thresholds }, one)
    for (let from = 0; from < SESSIONS; from += TOGETHER) {
      const rows = Array.from({ length: Math.min(TOGETHER, SESSIONS - from) }, (_, k) => ({
        ...rowOf(from + k, makeSession(from + k)),
        lines: linesOf(from + k),
      }))
      engine.addBlock(rows)
      if (from < LOOKED_THROUGH * TOGETHER) alone.addBlock(rows)
    }
    const blocks = alone.blocks()
    const events = blocks.reduce((sum, block) => sum + block.events.count, 0)
    const signals = blocks.reduce((sum, block) => sum + block.signals.count, 0)
    /** Milliseconds after other thresholds, as when somebody tries what suits: of one kind, or of all. */
    const timed = async (work: () => Promise<unknown>, kinds: 'one' | 'all') => {
      for (const name of kinds === 'one' ? (['slowMs'] as const) : OF_ALL_KINDS)
        thresholds = { ...thresholds, [name]: thresholds[name] + 1 }
      const start = performance.now()
      await work()
      return performance.now() - start
    }
    const times = async (work: () => Promise<unknown>, kinds: 'one' | 'all') => {
      await timed(work, kinds)
      const found: number[] = []
      for (let run = 0; run < RUNS; run++) found.push(await timed(work, kinds))
      return found
    }
    const ask = () => engine.ask(friction, LENS, {})
    await ask()
    const found = await times(() => alone.find('1'), 'all')
    const [ofOne, ofAll] = [await times(ask, 'one'), await times(ask, 'all')]
    return {
      name: 'signals',
      data: `${SESSIONS} sessions; one core: ${events} events, in which ${signals} signals are found`,
      figures: [
        {
          what: 'events looked through, one core',
          unit: 'million/s',
          values: found.map((ms) => events / ms / 1000),
          goal: { atLeast: 2 },
        },
        {
          what: 'friction after another threshold of one kind',
          unit: 'ms',
          values: ofOne,
          goal: { atMost: 3000 },
        },
        { what: 'friction after others of all kinds', unit: 'ms', values: ofAll, goal: { atMost: 3000 } },
      ],
    }
  } finally {
    clearInterval(running)
    await one.close()
    await two.close()
  }
}
