/** The engine beside DuckDB and MariaDB: the same questions over the same generated sessions, answers compared. */
import { createReadStream, createWriteStream, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { once } from 'node:events'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { pathToFileURL } from 'node:url'
import type { Lens, Line, PathNode, SessionRow, Step } from '../core/src/index.ts'
import { funnelOptionsSchema, pathOptionsSchema } from '../core/src/index.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { duckdb, mariadb } from './peers.ts'
import type { Report } from './report.ts'

export const about = 'five questions over a million sessions, beside DuckDB and MariaDB'

const SESSIONS = Number(process.env['BENCH_SESSIONS'] ?? 1_000_000)
const RUNS = 5
const BLOCK = 4096
const PAGES = 60
const T0 = Date.UTC(2026, 0, 1)
const LENS: Lens = { from: '2026-01-01', to: '2026-12-31', devices: [] }
const DEVICES = ['desktop', 'mobile', 'tablet'] as const
/** A fifth of the sessions are of the first country. */
const COUNTRIES = ['AA', 'BB', 'CC', 'DD', 'EE'] as const
const STEPS = [0, 2, 5, 7, 11]
const FROM_PAGE = 2
const LEAK_AT = 2

/** One event as all peers hold it. */
interface Made {
  ms: number
  kind: 0 | 1
  page: number
  target: number
}

/** Whole numbers that look random, always the same. */
function numbers(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return (Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) >>> 0) / 4_294_967_296
  }
}

function makeSession(id: number): { device: number; country: number; events: Made[] } {
  const next = numbers(id * 2_654_435_761 + 12_345)
  for (let i = 0; i < 4; i++) next()
  const device = Math.floor(next() * 3)
  const country = Math.floor(next() * 5)
  const count = 1 + Math.floor(-19 * Math.log(1 - next() * 0.999))
  const events: Made[] = []
  let ms = 0
  let page = Math.floor(PAGES * next() ** 2.5)
  for (let i = 0; i < count; i++) {
    const view = i === 0 || next() < 0.45
    if (view) page = Math.floor(PAGES * next() ** 2.5)
    events.push({ ms, kind: view ? 0 : 1, page, target: view ? 0 : 1 + Math.floor(next() * 200) })
    ms += 200 + Math.floor(20_000 * next() ** 2)
  }
  return { device, country, events }
}

function rowOf(id: number, { device, country, events }: ReturnType<typeof makeSession>): SessionRow {
  const startMs = T0 + (id % 300) * 86_400_000 + (id % 80_000) * 1000
  const visitor = `v${id}`
  return {
    id: id + 1,
    visitor,
    returning: false,
    device: { class: DEVICES[device] },
    country: COUNTRIES[country],
    channel: 'Direct',
    lines: events.map(({ ms, kind, page, target }): Line => {
      const url = `/p${page}`
      return kind === 0
        ? { visitor, t: startMs + ms, kind: 'page', url }
        : {
            visitor,
            t: startMs + ms,
            kind: 'click',
            url,
            effect: 'change',
            target: { selector: `#t${target}` },
          }
    }),
  }
}

type Counts = Record<string, number>
interface Question {
  name: string
  ours: { ask: (engine: SiteEngine) => Promise<unknown>; counts: (answer: unknown) => Counts }
  /** over the plain table e (session, ord, kind, page) and s (session, device, country) */
  plain: (dialect: 'duckdb' | 'mariadb') => string
  /** over one row a session: device, country, codes[] (page + 1 for a view, else 0) */
  packed: string
  read: (rows: unknown[][]) => Counts
}

/** A question to the engine, and its counts in the form of all peers: only the asking is timed. */
function asked<R>(ask: (engine: SiteEngine) => Promise<R>, counts: (answer: R) => Counts): Question['ours'] {
  return { ask, counts: counts as (answer: unknown) => Counts }
}

const steps: Step[] = STEPS.map((page) => ({ type: 'page', page: `/p${page}` }))

/** One table expression for each step: the first event of it after the one of the step before. */
const chain = (where = ''): string =>
  STEPS.map((page, k) =>
    k === 0
      ? `s0 AS (SELECT e.session, MIN(e.ord) AS o FROM e ${where} ${where ? 'AND' : 'WHERE'} e.kind = 0 AND e.page = ${page} GROUP BY e.session)`
      : `s${k} AS (SELECT e.session, MIN(e.ord) AS o FROM s${k - 1} JOIN e ON e.session = s${k - 1}.session AND e.kind = 0 AND e.page = ${page} AND e.ord > s${k - 1}.o GROUP BY e.session)`,
  ).join(', ')
/** Positions of the steps in a session's list of codes; null from where it does not come further. */
const positions = (from: string): string =>
  STEPS.reduce(
    (inner, page, k) =>
      k === 0
        ? `SELECT *, NULLIF(list_position(codes, ${page + 1}), 0) AS o0 FROM ${from}`
        : `SELECT *, o${k - 1} + NULLIF(list_position(codes[o${k - 1} + 1:], ${page + 1}), 0) AS o${k} FROM (${inner})`,
    '',
  )
const counted = STEPS.map((_, k) => `COUNT(o${k})`).join(', ')
const one = (rows: unknown[][]): Counts =>
  Object.fromEntries(rows[0]!.map((n, k) => [`step ${k}`, Number(n)]))
const pairs = (rows: unknown[][]): Counts =>
  Object.fromEntries(
    rows.filter(([key]) => key !== null && key !== '').map(([key, n]) => [String(key), Number(n)]),
  )
const join5 = STEPS.map((_, k) => (k ? `LEFT JOIN s${k} ON s${k}.session = s0.session` : 's0')).join(' ')
const count5 = STEPS.map((_, k) => `COUNT(s${k}.o)`).join(', ')

/** Paths that end somewhere in the tree, with how many end there. */
function* ends(nodes: readonly PathNode[], before: string): Generator<[string, number]> {
  for (const node of nodes) {
    const path = `${before}${node.page.slice(2)}`
    if (node.ended) yield [path, node.ended]
    yield* ends(node.next, `${path}>`)
  }
}

const QUESTIONS: Question[] = [
  {
    name: 'five-step funnel',
    ours: asked(
      (engine) => engine.ask('funnel', LENS, { steps }),
      (answer) => reached(answer.steps),
    ),
    plain: () => `WITH ${chain()} SELECT ${count5} FROM ${join5}`,
    packed: `SELECT ${counted} FROM (${positions('p')})`,
    read: one,
  },
  {
    name: 'the same by device',
    ours: asked(
      (engine) => engine.ask('funnel', LENS, { steps, options: funnelOptionsSchema.parse({ by: 'device' }) }),
      ({ byValue }) =>
        Object.fromEntries(
          byValue!.flatMap(({ label, reached: own }) =>
            own.map((n, k) => [`${DEVICES.indexOf(label as never)} step ${k}`, n] as const),
          ),
        ),
    ),
    plain: () =>
      `WITH ${chain()} SELECT s.device, ${count5} FROM ${join5} JOIN s ON s.session = s0.session GROUP BY s.device`,
    packed: `SELECT device, ${counted} FROM (${positions('p')}) GROUP BY device`,
    read: (rows) =>
      Object.assign(
        {},
        ...rows.map(([device, ...own]) =>
          Object.fromEntries(own.map((n, k) => [`${Number(device)} step ${k}`, Number(n)])),
        ),
      ) as Counts,
  },
  {
    name: 'under a segment of a fifth',
    ours: asked(
      (engine) => {
        const where = { type: 'text', of: 'country', test: { is: 'equal', to: 'AA' } } as const
        return engine.ask('funnel', { ...LENS, where }, { steps })
      },
      (answer) => reached(answer.steps),
    ),
    plain: () =>
      `WITH ${chain('JOIN s ON s.session = e.session WHERE s.country = 0')} SELECT ${count5} FROM ${join5}`,
    packed: `SELECT ${counted} FROM (${positions('(SELECT * FROM p WHERE country = 0)')})`,
    read: one,
  },
  {
    name: 'onward paths, five deep',
    ours: asked(
      (engine) => {
        const selection = { type: 'page', page: `/p${FROM_PAGE}` } as const
        return engine.ask('onwardPaths', LENS, { selection, ...pathOptionsSchema.parse({}) })
      },
      ({ next }) => Object.fromEntries(ends(next, '')),
    ),
    plain: (dialect) => {
      const path =
        dialect === 'duckdb'
          ? "STRING_AGG(page, '>' ORDER BY ord)"
          : "GROUP_CONCAT(page ORDER BY ord SEPARATOR '>')"
      return `WITH f AS (SELECT session, MIN(ord) AS o FROM e WHERE kind = 0 AND page = ${FROM_PAGE} GROUP BY session),
        v AS (SELECT e.session, e.ord, e.page, LAG(e.page) OVER (PARTITION BY e.session ORDER BY e.ord) AS b FROM f JOIN e ON e.session = f.session AND e.kind = 0 AND e.ord >= f.o),
        r AS (SELECT session, ord, page, ROW_NUMBER() OVER (PARTITION BY session ORDER BY ord) AS n FROM v WHERE b IS NOT NULL AND b <> page),
        w AS (SELECT session, ${path} AS path FROM r WHERE n <= 5 GROUP BY session) SELECT path, COUNT(*) FROM w GROUP BY path`
    },
    packed: `WITH v AS (SELECT list_filter(codes[list_position(codes, ${FROM_PAGE + 1}):], x -> x > 0) AS c FROM p WHERE list_contains(codes, ${FROM_PAGE + 1})),
      r AS (SELECT list_filter(c, (x, i) -> i > 1 AND x <> c[i - 1])[1:5] AS c FROM v)
      SELECT list_aggregate(list_transform(c, x -> x - 1), 'string_agg', '>') AS path, COUNT(*) FROM r WHERE len(c) > 0 GROUP BY path`,
    read: pairs,
  },
  {
    name: 'next pages after a leak',
    ours: asked(
      (engine) => {
        const selection = { type: 'funnel', steps, step: LEAK_AT, side: 'dropped' } as const
        const options = pathOptionsSchema.parse({ depth: 1 })
        return engine.ask('onwardPaths', LENS, { selection, ...options })
      },
      ({ next }) => Object.fromEntries(next.map(({ page, sessions }) => [page.slice(2), sessions])),
    ),
    plain: () => `WITH ${chain()},
      d AS (SELECT s${LEAK_AT}.session FROM s${LEAK_AT} LEFT JOIN s${LEAK_AT + 1} ON s${LEAK_AT + 1}.session = s${LEAK_AT}.session WHERE s${LEAK_AT + 1}.session IS NULL),
      l AS (SELECT e.session, MAX(e.ord) AS o FROM d JOIN e ON e.session = d.session AND e.kind = 0 AND e.page = ${STEPS[LEAK_AT]} GROUP BY e.session),
      n AS (SELECT e.session, MIN(e.ord) AS o FROM l JOIN e ON e.session = l.session AND e.kind = 0 AND e.ord > l.o AND e.page <> ${STEPS[LEAK_AT]} GROUP BY e.session)
      SELECT e.page, COUNT(*) FROM n JOIN e ON e.session = n.session AND e.ord = n.o GROUP BY e.page`,
    packed: `WITH q AS (${positions('p')}), d AS (SELECT codes FROM q WHERE o${LEAK_AT} IS NOT NULL AND o${LEAK_AT + 1} IS NULL),
      l AS (SELECT codes[len(codes) + 2 - list_position(list_reverse(codes), ${STEPS[LEAK_AT]! + 1}):] AS c FROM d)
      SELECT list_filter(c, x -> x > 0 AND x <> ${STEPS[LEAK_AT]! + 1})[1] - 1 AS page, COUNT(*) FROM l GROUP BY page`,
    read: pairs,
  },
]

function reached(own: readonly { sessions: number }[]): Counts {
  return Object.fromEntries(own.map(({ sessions }, k) => [`step ${k}`, sessions]))
}

export async function run(): Promise<Report> {
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const threads = startThreads(pathToFileURL('dist/engine-worker.mjs'), 2)
  const engine = new SiteEngine(
    { key: 'bench', rules: () => [], timeZone: () => 'UTC', limitMs: () => 1_800_000 },
    threads,
  )
  // @ts-expect-error a plain script without types
  const { startMariadb } = (await import('../scripts/lib/mariadb.mjs')) as {
    startMariadb: (folder: string, args?: string[]) => Promise<{ url: string; stop: () => Promise<void> }>
  }
  const database = await startMariadb(folder)
  try {
    const events = await generate(engine, folder)
    const duck = await duckdb(2)
    await fillDuck(duck, folder)
    const maria = await fillMaria(database.url, folder)
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
      for (let i = 0; i < RUNS; i++) {
        times.ours.push(await timed(() => question.ours.ask(engine)))
        times.session.push(await timed(() => duck.runAndReadAll(question.packed)))
        times.plain.push(await timed(() => duck.runAndReadAll(question.plain('duckdb'))))
        times.floor.push(await timed(() => Promise.resolve(floor())))
      }
      const mariaMs: number[] = []
      mariaMs.push(
        await timed(async () => {
          const rows = await maria.query<unknown[][]>({
            sql: question.plain('mariadb'),
            rowsAsArray: true,
          })
          same(question.name, 'MariaDB', wanted, question.read(rows))
        }),
      )
      const ours = median(times.ours)
      ratios['session']!.push(median(times.session) / ours)
      ratios['plain']!.push(median(times.plain) / ours)
      ratios['maria']!.push(median(mariaMs) / ours)
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
        ms('MariaDB', mariaMs),
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
      times('MariaDB', 60),
      { what: 'funnel, of the floor', unit: '×', values: [ratios['floor']![0]!], goal: { atMost: 0.6 } },
      {
        what: 'the others, of the floor, at most',
        unit: '×',
        values: [Math.max(...ratios['floor']!.slice(1))],
        goal: { atMost: 1.6 },
      },
    )
    await maria.end()
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

/** Makes the sessions, gives them to the engine, and writes them for the peers. */
async function generate(engine: SiteEngine, folder: string): Promise<number> {
  const plain = createWriteStream(join(folder, 'events.csv'))
  const sessions = createWriteStream(join(folder, 'sessions.csv'))
  let events = 0
  for (let from = 0; from < SESSIONS; from += BLOCK) {
    const rows: SessionRow[] = []
    let lines = ''
    let about = ''
    for (let id = from; id < Math.min(SESSIONS, from + BLOCK); id++) {
      const made = makeSession(id)
      rows.push(rowOf(id, made))
      about += `${id},${made.device},${made.country}\n`
      made.events.forEach(({ ms, kind, page, target }, ord) => {
        lines += `${id},${ord},${ms},${kind},${page},${target}\n`
      })
      events += made.events.length
    }
    engine.addBlock(rows)
    sessions.write(about)
    if (!plain.write(lines)) await once(plain, 'drain')
  }
  await Promise.all([plain, sessions].map((stream) => new Promise((resolve) => stream.end(resolve))))
  return events
}

async function fillDuck(duck: Awaited<ReturnType<typeof duckdb>>, folder: string): Promise<void> {
  const columns =
    "{'session':'INTEGER','ord':'SMALLINT','ms':'INTEGER','kind':'TINYINT','page':'SMALLINT','target':'SMALLINT'}"
  await duck.run(
    `CREATE TABLE e AS SELECT * FROM read_csv('${join(folder, 'events.csv')}', header = false, columns = ${columns})`,
  )
  const about = "{'session':'INTEGER','device':'TINYINT','country':'TINYINT'}"
  await duck.run(
    `CREATE TABLE s AS SELECT * FROM read_csv('${join(folder, 'sessions.csv')}', header = false, columns = ${about})`,
  )
  await duck.run(
    `CREATE TABLE p AS SELECT s.session, s.device, s.country, c.codes FROM s JOIN
     (SELECT session, list(CASE WHEN kind = 0 THEN page + 1 ELSE 0 END ORDER BY ord) AS codes FROM e GROUP BY session) c ON c.session = s.session ORDER BY s.session`,
  )
}

async function fillMaria(url: string, folder: string) {
  const connection = await mariadb(url)
  await connection.query(
    'CREATE TABLE e (session INT, ord SMALLINT, ms INT, kind TINYINT, page SMALLINT, target SMALLINT, PRIMARY KEY (session, ord))',
  )
  await connection.query('CREATE TABLE s (session INT PRIMARY KEY, device TINYINT, country TINYINT)')
  // The driver sends a file as one packet, which the server limits: so rows go in several files.
  for (const [table, file] of [
    ['e', 'events.csv'],
    ['s', 'sessions.csv'],
  ] as const) {
    let part = ''
    const flush = async () => {
      if (!part) return
      const name = join(folder, 'part.csv')
      writeFileSync(name, part)
      part = ''
      await connection.query(`LOAD DATA LOCAL INFILE ? INTO TABLE ${table} FIELDS TERMINATED BY ','`, [name])
    }
    for await (const line of createInterface({ input: createReadStream(join(folder, file)) })) {
      part += `${line}\n`
      if (part.length > 12_000_000) await flush()
    }
    await flush()
  }
  await connection.query('ALTER TABLE e ADD KEY by_page (kind, page, session, ord)')
  await connection.query('ANALYZE TABLE e, s')
  return connection
}

/** A plain sum over what a funnel must look at: kind and page of every event. */
function floorOf(engine: SiteEngine): () => number {
  const blocks = engine.blocks()
  return () => {
    let sum = 0
    for (const { events } of blocks) {
      const { kind, page, count } = events
      for (let i = 0; i < count; i++) sum += kind[i]! + page[i]!
    }
    return sum
  }
}

function same(question: string, peer: string, wanted: Counts, got: Counts): void {
  const keys = new Set([...Object.keys(wanted), ...Object.keys(got)])
  for (const key of keys)
    if ((wanted[key] ?? 0) !== (got[key] ?? 0))
      throw new Error(`${question}: ${peer} counts ${got[key]} at "${key}", the engine ${wanted[key]}`)
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now()
  await work()
  return performance.now() - start
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[sorted.length >> 1]!
}

function geometric(values: readonly number[]): number {
  return Math.exp(values.reduce((sum, value) => sum + Math.log(value), 0) / values.length)
}
