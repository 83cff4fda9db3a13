import type { Line } from '../events/line.ts'
import { lineSchema } from '../events/line.ts'

/** What is wrong with a line: the field, dotted, and why. */
export interface LineProblem {
  field: string
  reason: string
}

/** A line, and whether the text it was read from says just the same; or what is wrong with it. */
export type LineRead =
  { line: Line; asWritten?: boolean; problem?: undefined } | { line?: undefined; problem: LineProblem }

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
    const field = line[name]
    props ??= {}
    if (field !== null && field !== undefined) props[name] = scalar(field) ? field : JSON.stringify(field)
    delete line[name]
  }
  if (props) line.props = { ...props, ...line.props }
  return { line, asWritten: !props && isAsWritten(value as Line, line) }
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

/** Whether checking has left everything as it was: no time in words, no field of a part that is not known. */
function isAsWritten(raw: Line, line: Line): boolean {
  if (raw.t !== line.t) return false
  for (const part of ['target', 'device', 'campaign'] as const) {
    const checked = line[part]
    if (checked && Object.keys(checked).length !== Object.keys(raw[part]!).length) return false
  }
  return true
}

function scalar(value: unknown): value is string | number | boolean {
  return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean'
}
