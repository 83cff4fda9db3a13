/** Paths, what changed, patterns, pages and visitors over the sessions of the engine's benchmark; counts beside DuckDB's. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import type { Lens } from '../core/src/index.ts'
import {
  ledgerOf,
  loops,
  pages,
  pathOptionsSchema,
  paths,
  pathSteps,
  patterns,
  sessions,
  size,
  visitors,
} from '../core/src/index.ts'
import { pathNodes } from '../core/src/questions/paths/paths.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { fillDuck, generate, SESSIONS, SOURCE } from './child/engine-data.ts'
import { LENS } from './child/sessions.ts'
import { median, RUNS, timed, WARM } from './child/timing.ts'
import { duckdb } from './peers.ts'
import type { Report } from './report.ts'

export const about = 'paths ten deep, what changed, patterns, pages and visitors over a million sessions'

const FROM = '/p2'
const EVERYONE = { type: 'everyone' as const }

/** The day so many days after the first one that has sessions. */
const dayAt = (days: number) => new Date(Date.UTC(2026, 0, 1 + days)).toISOString().slice(0, 10)

export async function run(): Promise<Report> {
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const threads = startThreads(pathToFileURL('dist/engine-worker.mjs'), 2)
  // Threads alone do not keep a program running.
  const running = setInterval(() => undefined, 1000)
  const engine = new SiteEngine({ key: 'bench', ...SOURCE, answers: 0, goal: () => '/p11' }, threads)
  try {
    const events = await generate(engine, folder)
    const duck = await duckdb(2)
    await fillDuck(duck, folder)
    let asked = 0
    /** Other days each time, all with the same sessions in them, so that no answer is kept from before. */
    const fresh = (days: Partial<Pick<Lens, 'from' | 'to'>> = {}): Lens => {
      asked++
      return { ...LENS, from: dayAt(-asked), to: dayAt(400 + asked), ...days }
    }
    const times = async (work: () => Promise<unknown>): Promise<number[]> => {
      for (let round = 0; round < WARM; round++) await work()
      const found: number[] = []
      for (let round = 0; round < RUNS; round++) found.push(await timed(work))
      return found
    }
    const selection = { type: 'page' as const, page: FROM }
    // Views of the same page one after another are kept, as they are in the query.
    const options = (direction: 'onward' | 'back', depth = 10) =>
      pathOptionsSchema.parse({ direction, depth, fold: false })
    const walk = (direction: 'onward' | 'back') =>
      engine.ask(paths, fresh(), { selection, options: options(direction) })
    const steps = (lens: Lens) => engine.ask(pathSteps, lens, { selection, options: options('onward', 5) })
    const table = () => engine.ask(pages, fresh(), { by: 'group', most: 2000 })
    const list = () =>
      engine.ask(visitors, fresh(), {
        ...{ selection: EVERYONE, having: [], order: 'value', descending: true, offset: 0, limit: 100 },
      })
    const mine = (lens: Lens) =>
      engine.ask(patterns, lens, {
        ...{ selection: EVERYONE, level: 'page', support: 0.01, shortest: 2, longest: 6, gap: null },
        ...{ closed: true, order: 'support', most: 200 },
      })
    const few: Lens = { ...LENS, to: '2026-01-30' }
    const history = () => {
      const id = ++asked % SESSIONS
      const where = {
        type: 'text' as const,
        of: 'visitor' as const,
        test: { is: 'equal' as const, to: `v${id}` },
      }
      return engine.ask(
        sessions,
        { ...LENS, where },
        { selection: EVERYONE, order: 'newest', offset: 0, limit: 200 },
      )
    }

    // The same counts by SQL: views and sessions of each page, and those that saw the page the paths begin at.
    const counted = await table()
    const rows = (
      await duck.runAndReadAll(
        'SELECT page, COUNT(*), COUNT(DISTINCT session) FROM e WHERE kind = 0 GROUP BY page',
      )
    ).getRowsJS()
    for (const [page, views, seen] of rows) {
      const own = counted.pages.find((one) => one.page === `/p${String(page)}`)
      if (own?.views !== Number(views) || own.seen.hits !== Number(seen))
        throw new Error(`page ${String(page)} is counted otherwise by SQL`)
    }
    const [[first]] = (
      await duck.runAndReadAll('SELECT COUNT(DISTINCT session) FROM e WHERE kind = 0 AND page = 2')
    ).getRowsJS() as [[bigint]]
    const began = await walk('onward')
    if (began.sessions !== Number(first)) throw new Error('paths begin in other sessions than SQL finds')

    const ways = new Map(
      (
        await duck.runAndReadAll(
          `SELECT array_to_string(list_transform(k[1:3], x -> '/p' || (x - 1)), ' ') AS way, COUNT(*) FROM (SELECT list_filter(codes[list_position(codes, 3) + 1:], x -> x > 0) AS k FROM p WHERE list_position(codes, 3) > 0) WHERE len(k) >= 3 GROUP BY way`,
        )
      )
        .getRowsJS()
        .map(([way, count]) => [String(way), Number(count)]),
    )
    let compared = 0
    for (const one of pathNodes(began))
      for (const two of one.next)
        for (const { page, sessions } of two.next) {
          if (ways.get(`${one.page} ${two.page} ${page}`) !== sessions)
            throw new Error(`the way ${one.page} ${two.page} ${page} is counted otherwise by SQL`)
          compared++
        }
    if (compared === 0) throw new Error('no way of three pages is listed')

    const onward = await times(() => walk('onward'))
    const back = await times(() => walk('back'))
    const peer = await times(() =>
      duck.runAndReadAll(
        `SELECT k[1:10] AS path, COUNT(*) FROM (SELECT list_filter(codes[list_position(codes, 3) + 1:], x -> x > 0) AS k FROM p WHERE list_position(codes, 3) > 0) GROUP BY path`,
      ),
    )
    const one = await times(() => steps(fresh()))
    const halves = [{ to: '2026-05-30' }, { from: '2026-05-31' }]
    const ledger = await times(async () => {
      const [before, after] = await Promise.all(halves.map((days) => steps(fresh(days))))
      return ledgerOf(after!, before!)
    })
    const scan = await times(() =>
      engine.ask(
        size,
        { ...few, where: { type: 'number', of: 'events', test: { is: 'at least', to: -++asked } } },
        { selection: EVERYONE },
      ),
    )
    const mined = await times(() =>
      mine({ ...few, where: { type: 'number', of: 'pages', test: { is: 'at least', to: -++asked } } }),
    )
    return {
      name: 'paths',
      data: `${SESSIONS} sessions, ${events} events; pages, starts and the ${compared} listed ways of three pages counted alike by SQL`,
      figures: [
        { what: 'onward paths, ten deep', unit: 'ms', values: onward, goal: null },
        { what: 'DuckDB on one row a session', unit: 'ms', values: peer, goal: null },
        {
          what: 'onward paths against DuckDB',
          unit: '×',
          values: [median(peer) / median(onward)],
          goal: { atLeast: 4 },
        },
        { what: 'backward paths, ten deep', unit: 'ms', values: back, goal: null },
        { what: 'steps of one path question', unit: 'ms', values: one, goal: null },
        { what: 'ledger of two periods', unit: 'ms', values: ledger, goal: null },
        {
          what: 'ledger against one path question',
          unit: '×',
          values: [median(ledger) / median(one)],
          goal: { atMost: 2.2 },
        },
        { what: 'plain scan of a tenth', unit: 'ms', values: scan, goal: null },
        { what: 'patterns of a tenth (1 %, up to 6)', unit: 'ms', values: mined, goal: null },
        { what: 'pages with all columns', unit: 'ms', values: await times(table), goal: { atMost: 400 } },
        { what: 'visitors by money', unit: 'ms', values: await times(list), goal: null },
        { what: 'one visitor’s history', unit: 'ms', values: await times(history), goal: { atMost: 100 } },
        {
          what: 'to and fro',
          unit: 'ms',
          values: await times(() => engine.ask(loops, fresh(), {})),
          goal: null,
        },
      ],
    }
  } finally {
    clearInterval(running)
    await threads.close()
    rmSync(folder, { recursive: true, force: true })
  }
}
