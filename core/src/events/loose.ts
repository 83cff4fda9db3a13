import type { Device, Line } from './line.ts'
import { DEVICE_CLASSES, EFFECTS, KINDS } from './line.ts'
import type { Channel } from './channel.ts'
import { pagePath } from './page-path.ts'
import type { Dictionaries } from './dictionaries.ts'
import { detectSignals, SIGNAL_KINDS } from '../signals/detect.ts'

/** One session as it comes from storage: who, on what, and its lines in order of time. */
export interface SessionRow {
  /** whole, above 0 */
  id: number
  visitor: string
  returning: boolean
  device: Device
  country?: string | undefined
  channel: Channel
  source?: string | undefined
  campaign?: string | undefined
  lines: readonly Line[]
}

/**
 * Sessions and their events as dense columns, wide enough for anything: what is written and packed; questions are asked
 * of a settled Block. Event i of session s lies at `firstEvent[s] <= i < firstEvent[s + 1]`, in order of time; signals
 * likewise by `firstSignal`. Codes point into the site's {@link Dictionaries}.
 */
export interface LooseBlock {
  sessions: {
    count: number
    id: Float64Array
    visitor: Uint32Array
    returning: Uint8Array
    startMs: Float64Array
    endMs: Float64Array
    /** index into DEVICE_CLASSES + 1, 0 = not known */
    device: Uint8Array
    browser: Uint32Array
    os: Uint32Array
    country: Uint32Array
    channel: Uint32Array
    source: Uint32Array
    campaign: Uint32Array
    width: Uint16Array
    height: Uint16Array
    firstEvent: Uint32Array
    firstSignal: Uint32Array
  }
  events: {
    count: number
    /** index into KINDS */
    kind: Uint8Array
    /** milliseconds since the start of the session */
    atMs: Float64Array
    /** the page on which it happened */
    page: Uint32Array
    target: Uint32Array
    /** text of the target; the variant; the answer */
    text: Uint32Array
    /** action, gesture, signal name; request path; error message; experiment; question */
    name: Uint32Array
    x: Float32Array
    y: Float32Array
    /** share of the target's width and height, NaN = not known */
    rx: Float32Array
    ry: Float32Array
    /** index into EFFECTS + 1, 0 = not known */
    effect: Uint8Array
    /** status of a page or request, depth of a scroll, length of an input, ms of leave and freeze */
    number: Float64Array
    /** ms until a page was there, ms of a request, value of an action; NaN = not known */
    amount: Float32Array
    /** bit set of FRICTION: what the click was part of */
    friction: Uint8Array
    /** properties of event i lie at firstProp[i] <= p < firstProp[i + 1] */
    firstProp: Uint32Array
  }
  /** free properties of events; a search page's results, a site's own values */
  props: {
    count: number
    key: Uint32Array
    /** its text; 0 where it is a number or a truth value */
    text: Uint32Array
    /** its number, 0 or 1 for a truth value; NaN where it is a text */
    number: Float64Array
  }
  signals: {
    count: number
    /** index into SIGNAL_KINDS */
    kind: Uint8Array
    atMs: Float64Array
    page: Uint32Array
    target: Uint32Array
    text: Uint32Array
    name: Uint32Array
    /** how many clicks it took */
    clicks: Uint16Array
  }
}

export const FRICTION = { rage: 1, dead: 2 } as const

/** Number stored for kinds in the events' `kind` column. */
export const KIND = Object.fromEntries(KINDS.map((kind, i) => [kind, i])) as Record<
  (typeof KINDS)[number],
  number
>

type Columns = Record<string, Constructor | readonly [Constructor]>
type Constructor =
  | Uint8ArrayConstructor
  | Uint16ArrayConstructor
  | Uint32ArrayConstructor
  | Float32ArrayConstructor
  | Float64ArrayConstructor

/** How each column is held, in the order in which they lie in memory; in brackets: one entry more than there are rows. */
export const LOOSE = {
  sessions: {
    id: Float64Array,
    startMs: Float64Array,
    endMs: Float64Array,
    visitor: Uint32Array,
    firstEvent: [Uint32Array],
    firstSignal: [Uint32Array],
    browser: Uint32Array,
    os: Uint32Array,
    country: Uint32Array,
    channel: Uint32Array,
    source: Uint32Array,
    campaign: Uint32Array,
    width: Uint16Array,
    height: Uint16Array,
    returning: Uint8Array,
    device: Uint8Array,
  },
  events: {
    atMs: Float64Array,
    number: Float64Array,
    page: Uint32Array,
    target: Uint32Array,
    text: Uint32Array,
    name: Uint32Array,
    firstProp: [Uint32Array],
    x: Float32Array,
    y: Float32Array,
    rx: Float32Array,
    ry: Float32Array,
    amount: Float32Array,
    kind: Uint8Array,
    effect: Uint8Array,
    friction: Uint8Array,
  },
  props: { number: Float64Array, key: Uint32Array, text: Uint32Array },
  signals: {
    atMs: Float64Array,
    page: Uint32Array,
    target: Uint32Array,
    text: Uint32Array,
    name: Uint32Array,
    clicks: Uint16Array,
    kind: Uint8Array,
  },
} as const satisfies Record<string, Columns>

export type Table = keyof typeof LOOSE
export const TABLES = Object.keys(LOOSE) as Table[]
export type Counts = Record<Table, number>

const ALIGN = 8

/** Bytes that a block of so many rows takes. */
export function looseBytes(counts: Counts): number {
  let bytes = 0
  eachLoose(
    counts,
    (_, __, constructor, length) => (bytes += aligned(length * constructor.BYTES_PER_ELEMENT)),
  )
  return bytes
}

/** Columns over one piece of memory, which threads can share. @throws RangeError where it is too small */
export function viewLoose(counts: Counts, buffer: ArrayBufferLike): LooseBlock {
  const block: Record<string, Record<string, unknown>> = {}
  for (const table of TABLES) block[table] = { count: counts[table] }
  let at = 0
  eachLoose(counts, (table, column, constructor, length) => {
    block[table]![column] = new constructor(buffer as ArrayBuffer, at, length)
    at += aligned(length * constructor.BYTES_PER_ELEMENT)
  })
  return block as unknown as LooseBlock
}

export function looseCounts(block: LooseBlock): Counts {
  return Object.fromEntries(TABLES.map((table) => [table, block[table].count])) as Counts
}

/** Visits the columns of a block in the order in which they lie in memory. */
export function eachLoose(
  counts: Counts,
  visit: (table: Table, column: string, constructor: Constructor, length: number) => void,
): void {
  for (const table of TABLES)
    for (const [column, held] of Object.entries(LOOSE[table] as Columns)) {
      const more = Array.isArray(held)
      visit(
        table,
        column,
        (more ? (held as readonly [Constructor])[0] : held) as Constructor,
        counts[table] + (more ? 1 : 0),
      )
    }
}

function aligned(bytes: number): number {
  return Math.ceil(bytes / ALIGN) * ALIGN
}

interface FoundSignal {
  kind: number
  event: number
  clicks: number
}

/**
 * Writes sessions as dense columns, in the order given. Detects their signals on the way.
 *
 * @param rows  each with at least one line, lines ascending in time
 * @throws RangeError where a session has no lines or they are out of order
 */
export function buildLoose(rows: readonly SessionRow[], dictionaries: Dictionaries): LooseBlock {
  const signals = rows.map((row) => detectSignals(row.lines))
  const counts: Counts = { sessions: rows.length, events: 0, props: 0, signals: 0 }
  rows.forEach((row, s) => {
    counts.events += row.lines.length
    counts.signals += signals[s]!.length
    for (const line of row.lines) counts.props += propsOf(line).length
  })
  const block = viewLoose(counts, new ArrayBuffer(looseBytes(counts)))
  const { sessions, events } = block
  let e = 0
  let p = 0
  let g = 0
  rows.forEach((row, s) => {
    const first = row.lines[0]
    if (!first) throw new RangeError(`session ${row.id} has no lines`)
    const startMs = first.t
    writeSession(sessions, s, row, dictionaries)
    sessions.firstEvent[s] = e
    sessions.firstSignal[s] = g
    const fromEvent = e
    let page = 0
    let before = startMs
    for (const line of row.lines) {
      if (line.t < before) throw new RangeError(`lines of session ${row.id} are not in order of time`)
      before = line.t
      if (line.url !== undefined) page = dictionaries.page.code(pagePath(line.url))
      events.firstProp[e] = p
      for (const [key, value] of propsOf(line)) {
        block.props.key[p] = dictionaries.propKey.code(key)
        block.props.text[p] = typeof value === 'string' ? dictionaries.propText.code(value) : 0
        block.props.number[p++] = typeof value === 'string' ? NaN : Number(value)
      }
      writeEvent(events, e++, line, startMs, page, dictionaries)
    }
    for (const signal of signals[s]!) {
      if (signal.kind === 'rage click' || signal.kind === 'dead click') {
        const bit = signal.kind === 'rage click' ? FRICTION.rage : FRICTION.dead
        for (const i of signal.lines) events.friction[fromEvent + i]! |= bit
      }
      writeSignal(block, g++, {
        kind: SIGNAL_KINDS.indexOf(signal.kind),
        event: fromEvent + signal.first,
        clicks: signal.lines.length,
      })
    }
  })
  sessions.firstEvent[rows.length] = e
  sessions.firstSignal[rows.length] = g
  events.firstProp[e] = p
  return block
}

/** A line's free properties, and how many results a search page found, which is asked for like one. */
function propsOf(line: Line): [string, string | number | boolean][] {
  if (!line.props && line.results === undefined) return NO_PROPS
  const props = Object.entries(line.props ?? {})
  return line.results === undefined ? props : [...props, ['results', line.results]]
}

const NO_PROPS: [string, string | number | boolean][] = []

function writeSession(
  sessions: LooseBlock['sessions'],
  s: number,
  row: SessionRow,
  dictionaries: Dictionaries,
): void {
  sessions.id[s] = row.id
  sessions.visitor[s] = dictionaries.visitor.code(row.visitor)
  sessions.returning[s] = row.returning ? 1 : 0
  sessions.startMs[s] = row.lines[0]!.t
  sessions.endMs[s] = row.lines[row.lines.length - 1]!.t
  sessions.device[s] = row.device.class ? DEVICE_CLASSES.indexOf(row.device.class) + 1 : 0
  sessions.browser[s] = dictionaries.browser.code(row.device.browser)
  sessions.os[s] = dictionaries.os.code(row.device.os)
  sessions.country[s] = dictionaries.country.code(row.country)
  sessions.channel[s] = dictionaries.channel.code(row.channel)
  sessions.source[s] = dictionaries.source.code(row.source)
  sessions.campaign[s] = dictionaries.campaign.code(row.campaign)
  sessions.width[s] = row.device.width ?? 0
  sessions.height[s] = row.device.height ?? 0
}

function writeEvent(
  events: LooseBlock['events'],
  i: number,
  line: Line,
  startMs: number,
  page: number,
  dictionaries: Dictionaries,
): void {
  events.kind[i] = KIND[line.kind]
  events.atMs[i] = line.t - startMs
  events.page[i] = page
  events.target[i] = dictionaries.target.code(line.target?.selector)
  events.text[i] = dictionaries.text.code(line.target?.text ?? line.variant ?? line.text)
  events.name[i] = dictionaries.name.code(
    line.name ?? line.path ?? line.message ?? line.experiment ?? line.question,
  )
  events.x[i] = line.x ?? NaN
  events.y[i] = line.y ?? NaN
  events.rx[i] = line.rx ?? NaN
  events.ry[i] = line.ry ?? NaN
  events.effect[i] = line.effect ? EFFECTS.indexOf(line.effect) + 1 : 0
  events.number[i] =
    line.status ??
    line.depth ??
    line.length ??
    line.score ??
    (line.kind === 'action' ? NaN : (line.ms ?? NaN))
  events.amount[i] = line.load ?? line.value ?? (line.kind === 'request' ? (line.ms ?? NaN) : NaN)
}

function writeSignal({ signals, events }: LooseBlock, g: number, { kind, event, clicks }: FoundSignal): void {
  signals.kind[g] = kind
  signals.atMs[g] = events.atMs[event]!
  signals.page[g] = events.page[event]!
  signals.target[g] = events.target[event]!
  signals.text[g] = events.text[event]!
  signals.name[g] = events.name[event]!
  signals.clicks[g] = clicks
}
