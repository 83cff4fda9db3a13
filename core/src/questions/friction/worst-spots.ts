import type { Block } from '../../columns/block.ts'
import { oncePer } from '../../columns/block-cache.ts'
import type { Scan } from '../../columns/scan.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import type { Names } from '../../labels/names.ts'
import { eventMatcher } from '../../select/event-matcher.ts'
import type { Context } from '../question.ts'

/** One kind of signal at one element of one page group. */
export interface Spot {
  /** index into SIGNAL_KINDS; beyond them into the site's own signals */
  kind: number
  page: string
  element: string
}

/** The spots to be told of, and how many others there are. */
export interface WorstSpots {
  listed: Spot[]
  more: number
}

interface Counted {
  /** row by key; undefined once it is packed */
  rows: Map<number, number> | undefined
  /** how many rows there are */
  count: number
  keys: Float64Array
  sessions: Uint32Array
  times: Uint32Array
  /** id of the session that met it last: each counts once */
  last: Float64Array
}

/** Only the worst are answered: a list of thousands is read by nobody. */
const MOST_SPOTS = 500

/**
 * Which spots most sessions met: with thousands of elements there are hundreds of thousands of spots, and what the question
 * tells of a spot is gathered for those alone that it lists.
 */
export const worstSpots: Scan<Context, Counted, WorstSpots> = {
  name: 'friction-spots',
  adds: true,
  scan(block, sessions, { names }, onto) {
    const counted = onto ?? empty(256)
    const keyOf = spotKeys(block, names)
    for (const s of sessions) {
      const id = block.sessions.id[s]!
      eachSignal(block, s, names, (event, kind) => {
        const row = rowOf(counted, keyOf(event, kind))
        counted.times[row]!++
        if (counted.last[row] === id) return
        counted.last[row] = id
        counted.sessions[row]!++
      })
    }
    return counted
  },
  pack: ({ count, keys, sessions, times }) => ({
    ...{ rows: undefined, count, last: new Float64Array(0) },
    ...{ keys: keys.slice(0, count), sessions: sessions.slice(0, count), times: times.slice(0, count) },
  }),
  merge(a, b) {
    const rows = a.rows ?? new Map(Array.from({ length: a.count }, (_, row) => [a.keys[row]!, row]))
    const both = { ...a, rows, last: a.rows ? a.last : new Float64Array(a.keys.length) }
    for (let k = 0; k < b.count; k++) {
      const row = rowOf(both, b.keys[k]!)
      both.sessions[row]! += b.sessions[k]!
      both.times[row]! += b.times[k]!
    }
    return both
  },
  /** The spots that most sessions met, then those met most often, then by name: names are compared of those alone that can be listed. */
  finish({ count, keys, sessions, times }, { names }) {
    const byCount = (a: number, b: number) => sessions[b]! - sessions[a]! || times[b]! - times[a]!
    const rows = Uint32Array.from({ length: count }, (_, row) => row).sort(byCount)
    const last = rows[MOST_SPOTS - 1]
    const first = last === undefined ? [...rows] : [...rows].filter((row) => byCount(row, last) <= 0)
    const spots = first.map((row) => ({ row, spot: spotAt(keys[row]!, names) }))
    spots.sort((a, b) => byCount(a.row, b.row) || byName(a.spot, b.spot, names))
    const listed = spots.slice(0, MOST_SPOTS).map(({ spot }) => spot)
    return { listed, more: count - listed.length }
  },
}

/** Visits the signals of a session: those that were found, then the site's own. */
export function eachSignal(
  block: Block,
  s: number,
  names: Names,
  meets: (event: number, kind: number) => void,
): void {
  const { signals, sessions } = block
  for (let g = sessions.firstSignal[s]!; g < sessions.firstSignal[s + 1]!; g++)
    meets(signals.event[g]!, signals.kind[g]!)
  const own = ownMatchers(block)(names)
  if (own.length)
    for (let i = sessions.firstEvent[s]!; i < sessions.firstEvent[s + 1]!; i++)
      for (let k = 0; k < own.length; k++) if (own[k]!(i)) meets(i, SIGNAL_KINDS.length + k)
}

const ownMatchers = oncePer((block: Block) =>
  oncePer((names: Names) => (names.ownSignals ?? []).map((action) => eventMatcher(block, { action }, names))),
)

/** A number for the spot of a signal, as long as names are the same: for kind, page group and family of elements. */
export function spotKeys({ events }: Block, names: Names): (event: number, kind: number) => number {
  const { groupOf } = names.groups
  const { familyOf, names: elements } = names.families
  const kinds = kindsOf(names)
  return (event, kind) =>
    (groupOf[events.page[event]!]! * elements.length + familyOf[events.target[event]!]!) * kinds + kind
}

/** The keys of some spots; those of which the names are not known any more have none. */
export const keysOfSpots = oncePer((spots: readonly Spot[]) =>
  oncePer((names: Names): ReadonlySet<number> => {
    const places = (all: readonly string[], wanted: Set<string>) => {
      const found = new Map<string, number>()
      all.forEach((name, k) => wanted.has(name) && found.set(name, k))
      return found
    }
    const pages = places(names.groups.names, new Set(spots.map(({ page }) => page)))
    const elements = places(names.families.names, new Set(spots.map(({ element }) => element)))
    const keys = spots.map(({ kind, page, element }) => {
      const place = pages.get(page)! * names.families.names.length + elements.get(element)!
      return place * kindsOf(names) + kind
    })
    return new Set(keys.filter((key) => !Number.isNaN(key)))
  }),
)

function spotAt(key: number, names: Names): Spot {
  const kinds = kindsOf(names)
  const place = Math.floor(key / kinds)
  const { names: elements } = names.families
  return {
    kind: key % kinds,
    page: names.groups.names[Math.floor(place / elements.length)]!,
    element: elements[place % elements.length]!,
  }
}

const kindsOf = ({ ownSignals }: Names) => SIGNAL_KINDS.length + (ownSignals?.length ?? 0)

/** A kind of signal, or a signal of the site's own, by its name. */
export function kindName(kind: number, { ownSignals }: Names): string {
  return SIGNAL_KINDS[kind] ?? ownSignals![kind - SIGNAL_KINDS.length]!
}

/** By kind, page and element, for spots that equally many met. */
export function byName(a: Spot, b: Spot, names: Names): number {
  return (
    kindName(a.kind, names).localeCompare(kindName(b.kind, names)) ||
    a.page.localeCompare(b.page) ||
    a.element.localeCompare(b.element)
  )
}

function empty(room: number): Counted {
  return {
    ...{ rows: new Map(), count: 0, keys: new Float64Array(room), sessions: new Uint32Array(room) },
    ...{ times: new Uint32Array(room), last: new Float64Array(room).fill(NaN) },
  }
}

/** The row of a key; a new one where it has none. */
function rowOf(counted: Counted, key: number): number {
  const rows = counted.rows!
  let row = rows.get(key)
  if (row === undefined) {
    row = counted.count++
    if (row >= counted.keys.length) grow(counted)
    rows.set(key, row)
    counted.keys[row] = key
  }
  return row
}

function grow(counted: Counted): void {
  const room = Math.max(256, 2 * counted.keys.length)
  for (const column of ['keys', 'last'] as const) {
    const more = new Float64Array(room).fill(NaN)
    more.set(counted[column])
    counted[column] = more
  }
  for (const column of ['sessions', 'times'] as const) {
    const more = new Uint32Array(room)
    more.set(counted[column])
    counted[column] = more
  }
}
