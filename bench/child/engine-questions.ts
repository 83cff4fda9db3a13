import type { EventCondition, PathNode, Step } from '../../core/src/index.ts'
import { funnel, funnelOptionsSchema, pathNodes, pathOptionsSchema, paths } from '../../core/src/index.ts'
import type { SiteEngine } from '../../server/src/engine/site-engine.ts'
import { DEVICES, LENS } from './sessions.ts'
const STEPS = [0, 2, 5, 7, 11]

const FROM_PAGE = 2

const LEAK_AT = 2

export type Counts = Record<string, number>

export interface Question {
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
export function freshSteps(conditionOf: (page: string, k: number) => EventCondition = onPage): Step[] {
  questions++
  return STEPS.map((page, k) => ({
    type: 'event',
    name: `${page}, question ${questions}`,
    event: conditionOf(`/p${page}`, k),
  }))
}

export function onPage(page: string): EventCondition {
  return { kinds: ['page'], page: { is: 'equal', to: page } }
}

/** Every other step a click on one of a tenth of the elements. */
export function onPageOrElement(page: string, k: number): EventCondition {
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

/** Paths that end somewhere in the tree, or go on beyond its depth, with how many do so there. */
function* ends(nodes: readonly PathNode[], before: string): Generator<[string, number]> {
  for (const node of nodes) {
    const path = `${before}${node.page.slice(2)}`
    const here = node.next.reduce((left, { sessions }) => left - sessions, node.sessions)
    if (here) yield [path, here]
    yield* ends(node.next, `${path}>`)
  }
}

export const QUESTIONS: Question[] = [
  {
    name: 'five-step funnel',
    ours: asked(
      (engine) => engine.ask(funnel, LENS, { steps: freshSteps(), counts: true }),
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
        engine.ask(funnel, LENS, {
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
        return engine.ask(funnel, { ...LENS, where }, { steps, counts: true })
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
        return engine.ask(paths, LENS, { selection, options: pathOptionsSchema.parse({ most: null }) })
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
        return engine.ask(paths, LENS, { selection, options })
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

function reached(steps: readonly { sessions: number }[]): Counts {
  return Object.fromEntries(steps.map(({ sessions }, k) => [`step ${k}`, sessions]))
}
