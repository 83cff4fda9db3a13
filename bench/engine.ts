/** The engine beside DuckDB and MariaDB: the same questions over the same generated sessions, answers compared. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { EventCondition } from '../core/src/index.ts'
import { funnel, funnelOptionsSchema } from '../core/src/index.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { fillDuck, fillMaria, floorOf, generate, SESSIONS, SOURCE } from './child/engine-data.ts'
import type { Counts } from './child/engine-questions.ts'
import { freshSteps, onPage, onPageOrElement, QUESTIONS } from './child/engine-questions.ts'
import { geometric, interleaved, median, RUNS, timed, WARM } from './child/timing.ts'
import { secondThread } from './child/processors.ts'
import { LENS } from './child/sessions.ts'
import { duckdb } from './peers.ts'
import type { Report } from './report.ts'

export const about = 'five questions over a million sessions, beside DuckDB and MariaDB'

export async function run(): Promise<Report> {
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const threads = startThreads(pathToFileURL('dist/engine-worker.mjs'), 2)
  const engine = new SiteEngine({ key: 'bench', ...SOURCE }, threads)
  // @ts-expect-error a plain script without types
  const { startMariadb } = (await import('../scripts/lib/mariadb.mjs')) as {
    startMariadb: (folder: string, args?: string[]) => Promise<{ url: string; stop: () => Promise<void> }>
  }
  const database = await startMariadb(folder, ['--innodb-buffer-pool-size=4G'])
  try {
    const events = await generate(engine, folder)
    const duck = await duckdb(2)
    await fillDuck(duck, folder)
    const maria = process.env['BENCH_MARIADB'] === '0' ? undefined : await fillMaria(database.url, folder)
    const figures: Report['figures'] = []
    const ratios: Record<string, number[]> = { session: [], plain: [], maria: [], floor: [] }
    const floor = floorOf(engine)
    for (const question of QUESTIONS) {
      const wanted = question.ours.counts(await question.ours.ask(engine))
      same(
        question.name,
        'DuckDB, a row a session',
        wanted,
        question.read((await duck.runAndReadAll(question.packed)).getRowsJS()),
      )
      same(
        question.name,
        'DuckDB, plain',
        wanted,
        question.read((await duck.runAndReadAll(question.plain('duckdb'))).getRowsJS()),
      )
      const times = {
        ours: [] as number[],
        session: [] as number[],
        plain: [] as number[],
        floor: [] as number[],
      }
      // All of them warm: compiled, and their data in memory.
      for (let i = 0; i < WARM; i++) {
        await question.ours.ask(engine)
        await duck.runAndReadAll(question.packed)
        if (i === 0) await duck.runAndReadAll(question.plain('duckdb'))
        floor()
      }
      for (let i = 0; i < RUNS; i++) {
        times.ours.push(await timed(() => question.ours.ask(engine)))
        times.session.push(await timed(() => duck.runAndReadAll(question.packed)))
        times.plain.push(await timed(() => duck.runAndReadAll(question.plain('duckdb'))))
        times.floor.push(await timed(() => Promise.resolve(floor())))
      }
      const mariaMs: number[] = []
      if (maria)
        mariaMs.push(
          await timed(async () => {
            const rows = await maria.query<unknown[][]>({
              sql: question.maria ?? question.plain('mariadb'),
              rowsAsArray: true,
            })
            same(question.name, 'MariaDB', wanted, question.read(rows))
          }),
        )
      const ours = median(times.ours)
      ratios['session']!.push(median(times.session) / ours)
      ratios['plain']!.push(median(times.plain) / ours)
      if (maria) ratios['maria']!.push(median(mariaMs) / ours)
      ratios['floor']!.push(ours / median(times.floor))
      const ms = (what: string, values: number[]) => ({
        what: `${question.name}: ${what}`,
        unit: 'ms',
        values,
        goal: null,
      })
      figures.push(
        ms('engine', times.ours),
        ms('DuckDB, a row a session', times.session),
        ms('DuckDB, plain', times.plain),
        ...(maria ? [ms('MariaDB', mariaMs)] : []),
        ms('floor', times.floor),
      )
    }
    const times = (peer: string, atLeast: number) => ({
      what: `times as fast as ${peer}, geometric mean`,
      unit: '×',
      values: [
        geometric(ratios[peer === 'MariaDB' ? 'maria' : peer === 'DuckDB, plain' ? 'plain' : 'session']!),
      ],
      goal: { atLeast },
    })
    figures.push(
      times('DuckDB, a row a session', 4),
      {
        what: 'and on its worst question',
        unit: '×',
        values: [Math.min(...ratios['session']!)],
        goal: { atLeast: 1 },
      },
      times('DuckDB, plain', 15),
      ...(maria ? [times('MariaDB', 60)] : []),
      { what: 'funnel, of the floor', unit: '×', values: [ratios['floor']![0]!], goal: { atMost: 0.6 } },
      {
        what: 'the others, of the floor, at most',
        unit: '×',
        values: [Math.max(...ratios['floor']!.slice(1))],
        goal: { atMost: 1.6 },
      },
    )
    await maria?.end()
    figures.push(...(await ownRatios(engine)))
    return {
      name: 'engine',
      data: `${SESSIONS} sessions, ${events} events; all answers equal; two threads each; MariaDB one run a question`,
      figures,
    }
  } finally {
    await threads.close()
    await database.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

/** The engine beside itself: with a time limit, with rich conditions, and with one thread. */
async function ownRatios(engine: SiteEngine): Promise<Report['figures']> {
  const askFunnel = (
    conditionOf?: (page: string, k: number) => EventCondition,
    withinMs: number | null = null,
  ) =>
    engine.ask(funnel, LENS, {
      steps: freshSteps(conditionOf),
      counts: true,
      options: funnelOptionsSchema.parse({ withinMs }),
    })
  const [plain, limited, rich] = await interleaved([
    () => askFunnel(),
    () => askFunnel(onPage, 600_000),
    () => askFunnel(onPageOrElement),
  ])
  const thread = startThreads(pathToFileURL('dist/engine-worker.mjs'), 1)
  const alone = new SiteEngine({ key: 'bench', ...SOURCE }, thread)
  for (const [name, { values }] of Object.entries(engine.dictionaries) as [
    string,
    { values: readonly string[] },
  ][])
    for (const value of values) alone.dictionaries[name as keyof typeof engine.dictionaries].code(value)
  for (const block of engine.blocks()) if (block.sessions.count) alone.addPacked(block, [])
  const gains: [string, number][] = []
  for (const { name, ours } of QUESTIONS) {
    const [one, two] = await interleaved([() => ours.ask(alone), () => ours.ask(engine)], 4 * RUNS)
    gains.push([name, one! / two!])
  }
  await thread.close()
  const figure = (what: string, value: number, goal: { atMost: number } | { atLeast: number } | null) => ({
    what,
    unit: '×',
    values: [value],
    goal,
  })
  return [
    figure('funnel within ten minutes, of the one without a limit', limited! / plain!, { atMost: 2 }),
    figure('funnel over clicks on elements, of the one over pages', rich! / plain!, { atMost: 2 }),
    ...gains.map(([name, gain]) => figure(`${name}: two threads, times as fast as one`, gain, null)),
    figure('two threads, times as fast as one, geometric mean', geometric(gains.map(([, gain]) => gain)), {
      atLeast: 1.5,
    }),
    figure('two threads at a loop that shares nothing, times as fast as one', await secondThread(), null),
  ]
}

function same(question: string, peer: string, wanted: Counts, got: Counts): void {
  const keys = new Set([...Object.keys(wanted), ...Object.keys(got)])
  for (const key of keys)
    if ((wanted[key] ?? 0) !== (got[key] ?? 0))
      throw new Error(`${question}: ${peer} counts ${got[key]} at "${key}", the engine ${wanted[key]}`)
}
