import { KINDS } from '../events/line.ts'
import type { LineRead } from './read-line.ts'
import { readLine } from './read-line.ts'

/**
 * How a foreign CSV is read: for each field of the clickstream (dotted, as `target.selector`) the column that holds it.
 * `constants` are the same on every line, such as a `kind`.
 */
export interface CsvMapping {
  columns: Record<string, string>
  constants: Record<string, string>
}

const NUMBERS = new Set([
  ...[
    'load',
    'status',
    'height',
    'results',
    'ms',
    'x',
    'y',
    'rx',
    'ry',
    'length',
    'corrections',
    'depth',
    'top',
  ],
  ...['line', 'column', 'value', 'score', 'device.width', 'device.height', 'target.w', 'target.h'],
])
const FLAGS = new Set(['returning', 'loaded', 'ok', 'explained', 'target.interactive'])

/** The mapping of the clickstream's own CSV: every column is the field of its name. */
export function ownMapping(header: readonly string[]): CsvMapping {
  return { columns: Object.fromEntries(header.map((name) => [name, name])), constants: {} }
}

/** Whether a header is that of the clickstream's own CSV. */
export function isOwnHeader(header: readonly string[]): boolean {
  return ['visitor', 't', 'kind'].every((name) => header.includes(name))
}

const USUAL: [field: string, names: RegExp][] = [
  [
    'visitor',
    /^(visitor|user|client|customer|person|device)[ _.-]?(id|key|uuid)?$|^(anonymous|distinct)[ _.-]?id$|^uid$/i,
  ],
  ['t', /^t$|^(event[ _.-]?)?(time|timestamp|date|datetime|ts|at)$|^(occurred|created)[ _.-]?at$/i],
  ['kind', /^(kind|type|event[ _.-]?type)$/i],
  ['name', /^(event|name|action|event[ _.-]?name)$/i],
  ['url', /^(url|page|path|location|page[ _.-]?(url|path|location))$/i],
  ['session', /^session([ _.-]?(id|key))?$/i],
  ['referrer', /^referr?er$/i],
  ['title', /^(title|page[ _.-]?title)$/i],
  ['country', /^country([ _.-]?code)?$/i],
  ['id', /^(id|event[ _.-]?id)$/i],
  ['value', /^(value|amount|revenue|price)$/i],
]

/** A first proposal of a mapping, from the names of the columns; whoever imports corrects it. */
export function proposeMapping(header: readonly string[]): CsvMapping {
  if (isOwnHeader(header)) return ownMapping(header)
  const columns: Record<string, string> = {}
  for (const [field, names] of USUAL) {
    const column = header.find((name) => names.test(name.trim()) && !Object.values(columns).includes(name))
    if (column !== undefined) columns[field] = column
  }
  const constants: Record<string, string> = {}
  if (!('kind' in columns)) constants['kind'] = columns['url'] && !columns['name'] ? 'page' : 'action'
  return { columns, constants }
}

/**
 * One record of a CSV as a line. Empty cells are no value. In a foreign CSV times without a zone are taken as UTC and
 * numbers of up to 11 digits as seconds; in our own a number is always milliseconds. Columns without a field of ours are
 * kept as properties.
 */
export function readRecord(
  header: readonly string[],
  record: readonly string[],
  mapping: CsvMapping,
): LineRead {
  if (record.length !== header.length)
    return {
      problem: { field: '', reason: `has ${record.length} cells where the header has ${header.length}` },
    }
  const value: Record<string, unknown> = {}
  const time = isOwnHeader(header) ? ownTime : foreignTime
  for (const [field, text] of Object.entries(mapping.constants)) put(value, field, text, time)
  for (const [field, column] of Object.entries(mapping.columns)) {
    const text = record[header.indexOf(column)]
    if (text !== undefined && text !== '') put(value, field, text, time)
  }
  const mapped = new Set(Object.values(mapping.columns))
  header.forEach((column, i) => {
    if (mapped.has(column) || column === '' || record[i] === '') return
    value['props'] = { ...(value['props'] as object | undefined), [column]: record[i] }
  })
  // An action without a name, on a page, is what most tools write for seeing the page.
  if (
    !mapping.columns['kind'] &&
    value['kind'] === 'action' &&
    value['name'] === undefined &&
    value['url'] !== undefined
  )
    value['kind'] = 'page'
  if (
    typeof value['kind'] === 'string' &&
    !KINDS.includes(value['kind'].toLowerCase() as never) &&
    mapping.columns['kind']
  ) {
    // A foreign kind is somebody's own action.
    value['name'] ??= value['kind']
    value['kind'] = 'action'
  } else if (typeof value['kind'] === 'string') value['kind'] = value['kind'].toLowerCase()
  return readLine(value)
}

function put(
  value: Record<string, unknown>,
  field: string,
  text: string,
  time: (text: string) => number | string,
): void {
  const [outer, inner] = field.split(/\.(.*)/s) as [string, string | undefined]
  const converted =
    field === 't' ? time(text) : NUMBERS.has(field) ? number(text) : FLAGS.has(field) ? flag(text) : text
  if (inner === undefined) value[outer] = converted
  else value[outer] = { ...(value[outer] as object | undefined), [inner]: converted }
}

function number(text: string): number | string {
  return text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : text
}

function flag(text: string): boolean | string {
  if (/^(true|1|yes)$/i.test(text)) return true
  return /^(false|0|no)$/i.test(text) ? false : text
}

function ownTime(text: string): number | string {
  return /^\d+$/.test(text) ? Number(text) : text
}

/** Milliseconds, seconds (up to 11 digits), ISO 8601, or "2026-03-31 12:00:00" as UTC; else the text itself. */
function foreignTime(text: string): number | string {
  const trimmed = text.trim()
  if (/^\d{1,11}(\.\d+)?$/.test(trimmed)) return Math.round(Number(trimmed) * 1000)
  if (/^\d{12,16}$/.test(trimmed)) return Number(trimmed)
  const bare = /^(\d{4}-\d{2}-\d{2})[ T](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)$/.exec(trimmed)
  if (bare) return `${bare[1]}T${bare[2]!.length === 5 ? `${bare[2]}:00` : bare[2]}Z`
  return trimmed.replace(/ (?=\d{2}:)/, 'T')
}
