import type { z } from 'zod'
import type { PathNode } from '@dust-trail/core'
import type { Endpoint } from './endpoint.ts'
import * as endpoints from './endpoints.ts'

type Answer<E extends Endpoint> = z.output<E['answer']>
type Row = Record<string, unknown>

const table = <E extends Endpoint>(endpoint: E, rows: (answer: Answer<E>) => Row[]) =>
  [endpoint, rows as (answer: unknown) => Row[]] as const

/** The answers that are tables as well, and their rows: what `Accept: text/csv` gives. */
export const TABLES: ReadonlyMap<Endpoint, (answer: unknown) => Row[]> = new Map<
  Endpoint,
  (answer: unknown) => Row[]
>([
  table(endpoints.askFunnel, ({ steps, byValue = [], overTime = [] }) => [
    ...steps.map(({ leak, toNext, ...step }) => ({
      part: 'step',
      ...step,
      medianMsToNext: toNext.medianMs,
      ...Object.fromEntries(
        leak.map(({ kind, page, sessions }) => [`lost: ${kind}${page ? ` ${page}` : ''}`, sessions]),
      ),
    })),
    ...byValue.map(({ reached: _, ...part }) => ({ part: 'value', name: part.label, ...part })),
    ...overTime.map(({ reached: _, ...part }) => ({ part: 'time', name: part.label, ...part })),
  ]),
  table(endpoints.askCloseUp, ({ who, next, previous, troubles }) => [
    ...who.map((row) => ({ part: 'who', ...row })),
    ...next.map((row) => ({ part: 'next', ...row })),
    ...previous.map((row) => ({ part: 'previous', ...row })),
    ...troubles.map((row) => ({ part: 'went wrong', ...row })),
  ]),
  table(endpoints.askPaths, ({ next }) => pathRows(next, [])),
  table(endpoints.askDistribution, ({ values }) => values),
  table(endpoints.askClickHeat, ({ elements }) => elements.map(({ spots: _, ...element }) => element)),
  table(endpoints.listSessions, ({ sessions }) =>
    sessions.map(({ signals, ...session }) => ({
      ...session,
      ...Object.fromEntries(signals.map(({ kind, count }) => [kind, count])),
    })),
  ),
  table(endpoints.catalogue, ({ pages, elements }) => [
    ...pages.map((row) => ({ part: 'page', ...row })),
    ...elements.map((row) => ({ part: 'element', ...row })),
  ]),
  table(endpoints.askContents, ({ contents }) => contents),
  table(endpoints.askSequences, ({ tokens, sequences }) =>
    sequences.map(({ id, startMs, tokens: own, more }) => ({
      id,
      startMs,
      sequence: own
        .map((at) => [tokens[at]!.kind, tokens[at]!.page, tokens[at]!.what].filter(Boolean).join(' '))
        .join(' > '),
      more,
    })),
  ),
  table(endpoints.askBetween, (steps) =>
    steps.flatMap(({ missing, causes }, k) => [
      ...missing.map((row) => ({ step: k + 1, part: 'missing', ...row })),
      ...causes.map((row) => ({ step: k + 1, part: 'cause', ...row })),
    ]),
  ),
  table(endpoints.listUrls, (urls) => urls),
  table(endpoints.listFixes, (fixes) =>
    fixes.map(({ fix: { id, title, effort, status }, price }) => ({ id, title, effort, status, ...price })),
  ),
])

function pathRows(nodes: readonly PathNode[], before: readonly string[]): Row[] {
  return nodes.flatMap((node) => {
    const path = [...before, node.selector ? `${node.page}: ${node.selector}` : node.page]
    return [
      { path: path.join(' > '), steps: path.length, sessions: node.sessions, ended: node.ended },
      ...pathRows(node.next, path),
    ]
  })
}

/** A row with what lies within it under dotted names. */
export function flat(row: Row, prefix = ''): Row {
  const cells: Row = {}
  for (const [name, value] of Object.entries(row)) {
    const key = `${prefix}${name}`
    if (Array.isArray(value)) value.forEach((one: unknown, i) => (cells[`${key}.${i}`] = one))
    else if (typeof value === 'object' && value !== null) Object.assign(cells, flat(value as Row, `${key}.`))
    else cells[key] = value
  }
  return cells
}
