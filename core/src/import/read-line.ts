import type { Line } from '../events/line.ts'
import { lineSchema } from '../events/line.ts'

/** What is wrong with a line: the field, dotted, and why. */
export interface LineProblem {
  field: string
  reason: string
}

export type LineRead = { line: Line; problem?: undefined } | { line?: undefined; problem: LineProblem }

const KNOWN = new Set(Object.keys(lineSchema.shape))

/**
 * One object of a clickstream file as a line. Fields that the format does not know are kept in `props` under their own
 * name: text, numbers and booleans as they are, anything else as JSON; a property of that name that is there stays.
 */
export function readLine(value: unknown): LineRead {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return { problem: { field: '', reason: 'is no object' } }
  const read = lineSchema.safeParse(value)
  if (!read.success) {
    const issue = read.error.issues[0]!
    const missing = issue.path.length === 1 && !(String(issue.path[0]) in value)
    return { problem: { field: issue.path.join('.'), reason: missing ? 'is missing' : issue.message } }
  }
  const line = read.data as Line & Record<string, unknown>
  let props: Record<string, string | number | boolean> | undefined
  for (const name of Object.keys(line)) {
    if (KNOWN.has(name)) continue
    const own = line[name]
    props ??= {}
    if (own !== null && own !== undefined) props[name] = scalar(own) ? own : JSON.stringify(own)
    delete line[name]
  }
  if (props) line.props = { ...props, ...line.props }
  return { line }
}

/** One line of newline-delimited JSON. */
export function readJsonLine(text: string): LineRead {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return { problem: { field: '', reason: 'is not JSON' } }
  }
  return readLine(value)
}

function scalar(value: unknown): value is string | number | boolean {
  return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean'
}
