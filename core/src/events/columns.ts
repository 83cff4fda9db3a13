import type { Device, Line } from './line.ts'
import { DEVICE_CLASSES, EFFECTS, KINDS } from './line.ts'
import type { Channel } from './channel.ts'
import { pagePath } from './page-path.ts'
import { Dictionary } from './dictionary.ts'
import { detectSignals, SIGNAL_KINDS } from '../signals/detect.ts'

/** The dictionaries of one site; every block of the site is coded with the same ones. */
export class Dictionaries {
  readonly page = new Dictionary()
  readonly target = new Dictionary()
  readonly text = new Dictionary()
  readonly name = new Dictionary()
  readonly visitor = new Dictionary()
  readonly browser = new Dictionary()
  readonly os = new Dictionary()
  readonly country = new Dictionary()
  readonly channel = new Dictionary()
  readonly source = new Dictionary()
  readonly campaign = new Dictionary()
}

/** One session as it comes from storage: who, on what, and its lines in order of time. */
export interface SessionRow {
  id: string
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
 * Sessions and their events as columns. Event i of session s lies at `firstEvent[s] <= i < firstEvent[s + 1]`, in
 * order of time; signals likewise by `firstSignal`. Codes point into the site's {@link Dictionaries}.
 */
export interface Block {
  sessions: {
    count: number
    id: string[]
    visitor: Uint32Array
    returning: Uint8Array
    startMs: Float64Array
    endMs: Float64Array
    /** index into DEVICE_CLASSES + 1, 0 = not known */
    device: Uint8Array
    browser: Uint16Array
    os: Uint16Array
    country: Uint16Array
    channel: Uint16Array
    source: Uint16Array
    campaign: Uint16Array
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
    /** text of the target */
    text: Uint32Array
    /** action, gesture, signal name; request path; error message */
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
    /** bit set of FRICTION: what the click was part of */
    friction: Uint8Array
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

/**
 * Packs sessions into columns, in the order given. Detects their signals on the way.
 *
 * @param rows  each with at least one line, lines ascending in time
 * @throws RangeError where a session has no lines or they are out of order
 */
export function buildBlock(rows: readonly SessionRow[], dictionaries: Dictionaries): Block {
  const eventCount = rows.reduce((sum, row) => sum + row.lines.length, 0)
  const block = emptyBlock(rows.length, eventCount)
  const { sessions, events } = block
  const found: {
    kind: number
    atMs: number
    page: number
    target: number
    text: number
    name: number
    clicks: number
  }[] = []
  let e = 0
  rows.forEach((row, s) => {
    const first = row.lines[0]
    if (!first) throw new RangeError(`session ${row.id} has no lines`)
    const startMs = first.t
    sessions.id[s] = row.id
    sessions.visitor[s] = dictionaries.visitor.code(row.visitor)
    sessions.returning[s] = row.returning ? 1 : 0
    sessions.startMs[s] = startMs
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
    sessions.firstEvent[s] = e
    sessions.firstSignal[s] = found.length
    const fromEvent = e
    let page = 0
    let before = startMs
    for (const line of row.lines) {
      if (line.t < before) throw new RangeError(`lines of session ${row.id} are not in order of time`)
      before = line.t
      if (line.url !== undefined) page = dictionaries.page.code(pagePath(line.url))
      writeEvent(events, e++, line, startMs, page, dictionaries)
    }
    for (const signal of detectSignals(row.lines)) {
      const event = fromEvent + signal.first
      if (signal.kind === 'rage click' || signal.kind === 'dead click') {
        const bit = signal.kind === 'rage click' ? FRICTION.rage : FRICTION.dead
        for (const i of signal.lines) events.friction[fromEvent + i]! |= bit
      }
      found.push({
        kind: SIGNAL_KINDS.indexOf(signal.kind),
        atMs: events.atMs[event]!,
        page: events.page[event]!,
        target: events.target[event]!,
        text: events.text[event]!,
        name: events.name[event]!,
        clicks: signal.lines.length,
      })
    }
  })
  sessions.firstEvent[rows.length] = e
  sessions.firstSignal[rows.length] = found.length
  block.signals = {
    count: found.length,
    kind: Uint8Array.from(found, (f) => f.kind),
    atMs: Float64Array.from(found, (f) => f.atMs),
    page: Uint32Array.from(found, (f) => f.page),
    target: Uint32Array.from(found, (f) => f.target),
    text: Uint32Array.from(found, (f) => f.text),
    name: Uint32Array.from(found, (f) => f.name),
    clicks: Uint16Array.from(found, (f) => f.clicks),
  }
  return block
}

function writeEvent(
  events: Block['events'],
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
  events.text[i] = dictionaries.text.code(line.target?.text)
  events.name[i] = dictionaries.name.code(line.name ?? line.path ?? line.message)
  events.x[i] = line.x ?? NaN
  events.y[i] = line.y ?? NaN
  events.rx[i] = line.rx ?? NaN
  events.ry[i] = line.ry ?? NaN
  events.effect[i] = line.effect ? EFFECTS.indexOf(line.effect) + 1 : 0
  events.number[i] = line.status ?? line.depth ?? line.length ?? line.ms ?? line.value ?? NaN
}

function emptyBlock(sessionCount: number, eventCount: number): Block {
  return {
    sessions: {
      count: sessionCount,
      id: new Array<string>(sessionCount),
      visitor: new Uint32Array(sessionCount),
      returning: new Uint8Array(sessionCount),
      startMs: new Float64Array(sessionCount),
      endMs: new Float64Array(sessionCount),
      device: new Uint8Array(sessionCount),
      browser: new Uint16Array(sessionCount),
      os: new Uint16Array(sessionCount),
      country: new Uint16Array(sessionCount),
      channel: new Uint16Array(sessionCount),
      source: new Uint16Array(sessionCount),
      campaign: new Uint16Array(sessionCount),
      width: new Uint16Array(sessionCount),
      height: new Uint16Array(sessionCount),
      firstEvent: new Uint32Array(sessionCount + 1),
      firstSignal: new Uint32Array(sessionCount + 1),
    },
    events: {
      count: eventCount,
      kind: new Uint8Array(eventCount),
      atMs: new Float64Array(eventCount),
      page: new Uint32Array(eventCount),
      target: new Uint32Array(eventCount),
      text: new Uint32Array(eventCount),
      name: new Uint32Array(eventCount),
      x: new Float32Array(eventCount),
      y: new Float32Array(eventCount),
      rx: new Float32Array(eventCount),
      ry: new Float32Array(eventCount),
      effect: new Uint8Array(eventCount),
      number: new Float64Array(eventCount),
      friction: new Uint8Array(eventCount),
    },
    signals: {
      count: 0,
      kind: new Uint8Array(0),
      atMs: new Float64Array(0),
      page: new Uint32Array(0),
      target: new Uint32Array(0),
      text: new Uint32Array(0),
      name: new Uint32Array(0),
      clicks: new Uint16Array(0),
    },
  }
}
