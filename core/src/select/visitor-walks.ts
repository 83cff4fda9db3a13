import type { Block } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Place, Walk } from './grammar/walk.ts'
import { PlaceCodes } from './place-codes.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { NO_EVENT } from './selected-sessions.ts'
import type { Walker } from './walker.ts'

/*
 * Paths that go on from one session of a visitor to the next. A visitor's sessions may lie in several blocks, so that steps are
 * gathered first, and walked once all are there.
 */

/** Flags of a row. */
const STARTS = 1
const ENDS = 2

/** Flags of a session: paths begin where it begins or ends; its visitor is meant. */
const OPEN = 1
const SELECTED = 2

/** Steps of sessions: a row for each event that is one, or where paths begin or end. */
export interface VisitorSteps {
  /** by session: whose it is, its id, when it began, its first row, and flags */
  visitor: Uint32Array
  session: Float64Array
  startMs: Float64Array
  first: Uint32Array
  traits: Uint8Array
  /** by row: the number of the event in its session, from 0, and flags */
  event: Uint32Array
  flags: Uint8Array
  /** what a path that begins there would have as its first step; of rows where none begins −1 */
  startPlace: Int32Array
  /** by row and reader what the event is as a step, an index into places; −1 = it is none */
  place: Int32Array
  places: Place[]
}

/** Steps while they are gathered. */
export class VisitorStepsFound {
  readonly #rows = { event: [] as number[], flags: [] as number[], startPlace: [] as number[] }
  readonly #place: number[] = []
  readonly #sessions = {
    ...{ visitor: [] as number[], session: [] as number[], startMs: [] as number[] },
    ...{ first: [] as number[], traits: [] as number[] },
  }
  readonly #places = new PlaceCodes()

  /** Takes in the sessions of a block; in those that are selected paths begin. */
  add(block: Block, among: SessionSet, { sessions, event }: SelectedSessions, walker: Walker): void {
    const { firstEvent, visitor, id, startMs } = block.sessions
    /** by code of the walker the code here */
    const coded: number[] = []
    const codeOf = (own: number) => (own < 0 ? -1 : (coded[own] ??= this.#places.codeOf(walker.places[own]!)))
    for (const s of among) {
      const from = firstEvent[s]!
      const isSelected = sessions.has(s)
      // Who is meant by one session begins where paths begin in any of theirs.
      const starts = isSelected || walker.hasStart ? walker.starts(s, event[s]!) : []
      this.#sessions.visitor.push(visitor[s]!)
      this.#sessions.session.push(id[s]!)
      this.#sessions.startMs.push(startMs[s]!)
      this.#sessions.first.push(this.#rows.event.length)
      this.#sessions.traits.push((starts.includes(NO_EVENT) ? OPEN : 0) | (isSelected ? SELECTED : 0))
      let k = 0
      for (let i = from; i < firstEvent[s + 1]!; i++) {
        const isStart = starts[k] === i
        if (isStart) k++
        if (!isStart && walker.leavesOut(i)) continue
        const flags = (isStart ? STARTS : 0) | (walker.endsAt(i) ? ENDS : 0)
        const at = this.#place.length
        let isStep = false
        for (let reader = 0; reader < walker.readers; reader++) {
          const place = walker.leavesOut(i) ? -1 : codeOf(walker.placeAt(reader, i))
          isStep ||= place >= 0
          this.#place.push(place)
        }
        if (!isStep && !flags) {
          this.#place.length = at
          continue
        }
        this.#rows.event.push(i - from)
        this.#rows.flags.push(flags)
        this.#rows.startPlace.push(isStart ? codeOf(walker.placeOfStart(i)) : -1)
      }
    }
  }

  steps(): VisitorSteps {
    const { visitor, session, startMs, first, traits } = this.#sessions
    const { event, flags, startPlace } = this.#rows
    return {
      ...{ visitor: Uint32Array.from(visitor), session: Float64Array.from(session) },
      ...{ startMs: Float64Array.from(startMs), first: Uint32Array.from([...first, event.length]) },
      ...{ traits: Uint8Array.from(traits), event: Uint32Array.from(event), flags: Uint8Array.from(flags) },
      ...{ startPlace: Int32Array.from(startPlace), place: Int32Array.from(this.#place) },
      places: this.#places.places,
    }
  }
}

/** The steps of both. */
export function joinSteps(a: VisitorSteps, b: VisitorSteps): VisitorSteps {
  const codes = new PlaceCodes(a.places)
  const moved = b.places.map((place) => codes.codeOf(place))
  const recoded = (column: Int32Array) => column.map((code) => (code < 0 ? -1 : moved[code]!))
  const rows = a.event.length
  return {
    visitor: joined(a.visitor, b.visitor),
    session: joined(a.session, b.session),
    startMs: joined(a.startMs, b.startMs),
    first: joined(
      a.first.subarray(0, a.first.length - 1),
      b.first.map((row) => row + rows),
    ),
    traits: joined(a.traits, b.traits),
    event: joined(a.event, b.event),
    flags: joined(a.flags, b.flags),
    startPlace: joined(a.startPlace, recoded(b.startPlace)),
    place: joined(a.place, recoded(b.place)),
    places: codes.places,
  }
}

/** One path of a visitor: where it begins and how it is walked. */
export interface VisitorPath {
  /** index of the session in which it begins */
  session: number
  /**
   * Walks it.
   *
   * @param visit  is given each step, the index of its session and the number of its event there, and says whether to go on
   * @returns whether it goes on, deeper than was looked
   */
  walk: (visit: (place: number, session: number, event: number) => boolean) => boolean
}

/**
 * Visits the paths of all visitors, each one's sessions in order of time as one. Complexity: sessions sorted, then the rows that
 * are walked.
 */
export function eachVisitorPath(
  steps: VisitorSteps,
  { fold, at = 'first' }: Pick<Walk, 'fold' | 'at'>,
  direction: 'onward' | 'back',
  depth: number,
  visit: (path: VisitorPath, isFirst: boolean) => void,
): void {
  const { visitor, session, startMs, first, traits, event, flags, startPlace, place } = steps
  const readers = event.length ? place.length / event.length : 1
  const order = Uint32Array.from(visitor, (_, k) => k)
  order.sort((a, b) => visitor[a]! - visitor[b]! || startMs[a]! - startMs[b]! || session[a]! - session[b]!)
  const step = direction === 'onward' ? 1 : -1
  for (let from = 0; from < order.length;) {
    let to = from + 1
    while (to < order.length && visitor[order[to]!] === visitor[order[from]!]) to++
    const own = order.subarray(from, to)
    from = to
    if (!own.some((s) => traits[s]! & SELECTED)) continue
    /** of each start its session, by its place among the visitor's, and its row; a row of -1: where the session begins or ends */
    const starts: [k: number, row: number][] = []
    own.forEach((s, k) => {
      if (traits[s]! & OPEN) starts.push([k, -1])
      for (let row = first[s]!; row < first[s + 1]!; row++) if (flags[row]! & STARTS) starts.push([k, row])
    })
    // Where paths begin with sessions, looking back begins with the last one.
    const isOpen = starts.length > 0 && starts.every(([, row]) => row < 0)
    const begins =
      at === 'every'
        ? starts
        : at === 'last' || (isOpen && step === -1)
          ? starts.slice(-1)
          : starts.slice(0, 1)
    begins.forEach(([k, row], n) => {
      const walk: VisitorPath['walk'] = (visitStep) => {
        let walked = 0
        let last = row < 0 ? -1 : startPlace[row]!
        for (let at = k; at >= 0 && at < own.length; at += step) {
          const s = own[at]!
          const [low, high] = [first[s]!, first[s + 1]!]
          let r = step === 1 ? low : high - 1
          if (at === k && row >= 0) r = row + step
          for (; r >= low && r < high; r += step) {
            const code = place[r * readers + Math.min(walked, readers - 1)]!
            if (code >= 0 && !(fold && code === last)) {
              if (walked === depth) return true
              last = code
              walked++
              if (!visitStep(code, s, event[r]!)) return true
            }
            if (flags[r]! & ENDS) return false
          }
        }
        return false
      }
      visit({ session: own[k]!, walk }, n === 0)
    })
  }
}

function joined<T extends Uint8Array | Uint32Array | Int32Array | Float64Array>(a: T, b: T): T {
  const both = new (a.constructor as new (length: number) => T)(a.length + b.length)
  both.set(a)
  both.set(b, a.length)
  return both
}
