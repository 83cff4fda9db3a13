/** The engine beside DuckDB and MariaDB: the same questions over the same generated sessions, answers compared. */
import { createReadStream, createWriteStream, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { once } from 'node:events'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { pathToFileURL } from 'node:url'
import type { EventCondition, PathNode, SessionRow, Step } from '../core/src/index.ts'
import { funnelOptionsSchema, pathNodes, pathOptionsSchema } from '../core/src/index.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { secondThread } from './child/processors.ts'
import { DEVICES, LENS, makeSession, rowOf } from './child/sessions.ts'
import { duckdb, mariadb } from './peers.ts'
import type { Report } from './report.ts'

export const about = 'five questions over a million sessions, beside DuckDB and MariaDB'

const SESSIONS = Number(process.env['BENCH_SESSIONS'] ?? 1_000_000)
const NO_RULES: never[] = []
const SOURCE = { rules: () => NO_RULES, timeZone: () => 'UTC', limitMs: () => 1_800_000 }
const RUNS = 7
const WARM = 5
const BLOCK = 4096
const STEPS = [0, 2, 5, 7, 11]
const FROM_PAGE = 2
const LEAK_AT = 2

type Counts = Record<string, number>
interface Question {
  name: string
  ours: { ask: (engine: SiteEngine) => Promise<unknown>; counts: (answer: unknown) => Counts }
  /** over the plain table e (session, ord, kind, page) and s (session, device, country) */
  plain: (dialect: 'duckdb' | 'mariadb') => string
  /** the same in words that MariaDB plans well, where the plain ones are not */
  maria?: string
  /** over one row a session: device, country, codes[] (page + 1 for a view, else 0) */
  packed: string
  read: (rows: unknown[][]) => Counts
}

/** A question to the engine, and its counts in the form of all peers: only the asking is timed. */
function asked<R>(ask: (engine: SiteEngine) => Promise<R>, counts: (answer: R) => Counts): Question['ours'] {
  return { ask, counts: counts as (answer: unknown) => Counts }
}

let questions = 0

/** The same steps under names of their own each time: blocks keep how far sessions came by steps they were asked about. */
function freshSteps(conditionOf: (page: string, k: number) => EventCondition = onPage): Step[] {
  questions++
  return STEPS.map((page, k) => ({
    type: 'event',
    name: `${page}, question ${questions}`,
    event: conditionOf(`/p${page}`, k),
  }))
}

function onPage(page: string): EventCondition {
  return { kinds: ['page'], page: { is: 'equal', to: page } }
}

/** Every other step a click on one of a tenth of the elements. */
function onPageOrElement(page: string, k: number): EventCondition {
  if (k % 2 === 0) return onPage(page)
  return { kinds: ['click'], page: { is: 'equal', to: page }, element: { is: 'ending with', to: '7' } }
}

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
/** The same for MariaDB, which looks each step up in its index; the limits keep it from doing so again and again. */
const NO_MERGE = 'LIMIT 18446744073709551615'
const lookups = (where = ''): string =>
  STEPS.reduce(
    (inner, page, k) =>
      k === 0
        ? `SELECT e.session, MIN(e.ord) AS o0 FROM e ${where} ${where ? 'AND' : 'WHERE'} e.kind = 0 AND e.page = ${page} GROUP BY e.session ${NO_MERGE}`
        : `SELECT q.*, IF(o${k - 1} IS NULL, NULL, (SELECT MIN(e.ord) FROM e WHERE e.session = q.session AND e.kind = 0 AND e.page = ${page} AND e.ord > q.o${k - 1})) AS o${k} FROM (${inner}) q ${NO_MERGE}`,
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
      (engine) => engine.ask('funnel', LENS, { steps: freshSteps(), counts: true }),
      (answer) => reached(answer.steps),
    ),
    plain: () => `WITH ${chain()} SELECT ${count5} FROM ${join5}`,
    maria: `SELECT ${counted} FROM (${lookups()}) q`,
    packed: `SELECT ${counted} FROM (${positions('p')})`,
    read: one,
  },
  {
    name: 'the same by device',
    ours: asked(
      (engine) =>
        engine.ask('funnel', LENS, {
          steps: freshSteps(),
          counts: true,
          options: funnelOptionsSchema.parse({ by: 'device' }),
        }),
      ({ byValue }) =>
        Object.fromEntries(
          byValue!.flatMap(({ label, reached: own }) =>
            own.map((n, k) => [`${DEVICES.indexOf(label as never)} step ${k}`, n] as const),
          ),
        ),
    ),
    plain: () =>
      `WITH ${chain()} SELECT s.device, ${count5} FROM ${join5} JOIN s ON s.session = s0.session GROUP BY s.device`,
    maria: `SELECT s.device, ${counted} FROM (${lookups()}) q JOIN s ON s.session = q.session GROUP BY s.device`,
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
        const steps = freshSteps()
        // In other words each time, as blocks keep whom a condition means.
        const to = ['AA', `none, question ${questions}`]
        const where = { type: 'text' as const, of: 'country' as const, test: { is: 'one of' as const, to } }
        return engine.ask('funnel', { ...LENS, where }, { steps, counts: true })
      },
      (answer) => reached(answer.steps),
    ),
    plain: () =>
      `WITH ${chain('JOIN s ON s.session = e.session WHERE s.country = 0')} SELECT ${count5} FROM ${join5}`,
    maria: `SELECT ${counted} FROM (${lookups('JOIN s ON s.session = e.session WHERE s.country = 0')}) q`,
    packed: `SELECT ${counted} FROM (${positions('(SELECT * FROM p WHERE country = 0)')})`,
    read: one,
  },
  {
    name: 'onward paths, five deep',
    ours: asked(
      (engine) => {
        const selection = { type: 'page', page: `/p${FROM_PAGE}` } as const
        return engine.ask('onwardPaths', LENS, { selection, ...pathOptionsSchema.parse({ most: null }) })
      },
      (result) => Object.fromEntries(ends(pathNodes(result), '')),
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
        const selection = { type: 'funnel', steps: freshSteps(), step: LEAK_AT, side: 'dropped' } as const
        const options = pathOptionsSchema.parse({ depth: 1, most: null })
        return engine.ask('onwardPaths', LENS, { selection, ...options })
      },
      (result) =>
        Object.fromEntries(pathNodes(result).map(({ page, sessions }) => [page.slice(2), sessions])),
    ),
    plain: () => `WITH ${chain()},
      d AS (SELECT s${LEAK_AT}.session FROM s${LEAK_AT} LEFT JOIN s${LEAK_AT + 1} ON s${LEAK_AT + 1}.session = s${LEAK_AT}.session WHERE s${LEAK_AT + 1}.session IS NULL),
      l AS (SELECT e.session, MAX(e.ord) AS o FROM d JOIN e ON e.session = d.session AND e.kind = 0 AND e.page = ${STEPS[LEAK_AT]} GROUP BY e.session),
      n AS (SELECT e.session, MIN(e.ord) AS o FROM l JOIN e ON e.session = l.session AND e.kind = 0 AND e.ord > l.o AND e.page <> ${STEPS[LEAK_AT]} GROUP BY e.session)
      SELECT e.page, COUNT(*) FROM n JOIN e ON e.session = n.session AND e.ord = n.o GROUP BY e.page`,
    maria: `WITH d AS (SELECT q.*, (SELECT MAX(e.ord) FROM e WHERE e.session = q.session AND e.kind = 0 AND e.page = ${STEPS[LEAK_AT]}) AS l FROM (${lookups()}) q WHERE o${LEAK_AT} IS NOT NULL AND o${LEAK_AT + 1} IS NULL ${NO_MERGE}),
      n AS (SELECT d.session, (SELECT MIN(e.ord) FROM e WHERE e.session = d.session AND e.kind = 0 AND e.ord > d.l AND e.page <> ${STEPS[LEAK_AT]}) AS o FROM d ${NO_MERGE})
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
  const funnel = (
    conditionOf?: (page: string, k: number) => EventCondition,
    withinMs: number | null = null,
  ) =>
    engine.ask('funnel', LENS, {
      steps: freshSteps(conditionOf),
      counts: true,
      options: funnelOptionsSchema.parse({ withinMs }),
    })
  const [plain, limited, rich] = await interleaved([
    () => funnel(),
    () => funnel(onPage, 600_000),
    () => funnel(onPageOrElement),
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

/** How long several pieces of work take, done in turn: medians, since the machine may be lent to others meanwhile. */
async function interleaved(works: readonly (() => Promise<unknown>)[], runs = 2 * RUNS): Promise<number[]> {
  const times = works.map((): number[] => [])
  for (let i = 0; i < WARM; i++) for (const work of works) await work()
  for (let i = 0; i < runs; i++) for (const [k, work] of works.entries()) times[k]!.push(await timed(work))
  return times.map(median)
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
