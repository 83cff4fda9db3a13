import type { Block } from '../columns/block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import type { Names } from '../labels/names.ts'
import type { EventMatcher } from './event-matcher.ts'
import { eventMatcher } from './event-matcher.ts'
import type { PathParts, Place, Walk } from './grammar/walk.ts'
import { PlaceCodes } from './place-codes.ts'
import { NO_EVENT } from './selected-sessions.ts'

/** Reads the place of an event, by its number; -1 where it is no step. */
type Reader = (event: number) => number

/** Walks paths through the sessions of a block, whatever their steps are. Complexity: events from the start on. */
export class Walker {
  readonly #block: Block
  readonly #names: Names
  readonly #walk: Walk
  readonly #step: 1 | -1
  readonly #codes = new PlaceCodes()
  readonly #readers: Reader[]
  readonly #leftOut: EventMatcher | undefined
  readonly #until: EventMatcher | undefined
  readonly #start: EventMatcher | undefined

  constructor(block: Block, names: Names, walk: Walk, direction: 'onward' | 'back') {
    this.#block = block
    this.#names = names
    this.#walk = walk
    this.#step = direction === 'onward' ? 1 : -1
    const modes = walk.ofSteps?.length ? walk.ofSteps : [walk.of]
    const readers = new Map(modes.map((mode) => [mode, this.#reader(mode)]))
    this.#readers = modes.map((mode) => readers.get(mode)!)
    const { leftOut, until, start } = walk
    this.#leftOut = leftOut?.length ? eventMatcher(block, { any: leftOut }, names) : undefined
    this.#until = until && eventMatcher(block, until, names)
    this.#start = start && eventMatcher(block, start, names)
  }

  get places(): readonly Place[] {
    return this.#codes.places
  }

  /** The number of a place; the same for the same place. */
  codeOf(place: Place): number {
    return this.#codes.codeOf(place)
  }

  /** How many readers there are: one for all steps, or one for each, the last for those after it. */
  get readers(): number {
    return this.#readers.length
  }

  /** Whether paths begin with certain events, wherever these are, rather than with a moment that is given. */
  get hasStart(): boolean {
    return this.#start !== undefined
  }

  /** What an event is as a step of a reader; -1 = it is none. */
  placeAt(reader: number, event: number): number {
    return this.#readers[reader]!(event)
  }

  /** Whether an event counts as if it had not happened. */
  leavesOut(event: number): boolean {
    return this.#leftOut?.(event) === true
  }

  /** Whether paths end with an event. */
  endsAt(event: number): boolean {
    return this.#until?.(event) === true
  }

  /** The events at which paths begin in a session; without a start the given one, NO_EVENT being where it begins or ends. */
  starts(s: number, event: number): number[] {
    const start = this.#start
    if (!start) return [event]
    const found: number[] = []
    const { firstEvent } = this.#block.sessions
    for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
      if (!start(i) || this.#leftOut?.(i)) continue
      found.push(i)
      if ((this.#walk.at ?? 'first') === 'first') break
    }
    return this.#walk.at === 'last' ? found.slice(-1) : found
  }

  /**
   * Walks one path from an event, which is no step itself.
   *
   * @param visit  is given each step and its event, and says whether to go on
   * @returns whether the session went on, deeper than was looked
   */
  walk(s: number, start: number, depth: number, visit: (place: number, event: number) => boolean): boolean {
    const { firstEvent } = this.#block.sessions
    const [from, to] = [firstEvent[s]!, firstEvent[s + 1]!]
    const step = this.#step
    let at = step === 1 ? from : to - 1
    let last = -1
    if (start !== NO_EVENT) {
      at = start + step
      last = this.placeOfStart(start)
    }
    for (let walked = 0; at >= from && at < to; at += step) {
      if (this.#leftOut?.(at)) continue
      const isLast = this.#until?.(at) === true
      const place = this.#readers[Math.min(walked, this.#readers.length - 1)]!(at)
      if (place >= 0 && !(this.#walk.fold && place === last)) {
        if (walked === depth) return true
        last = place
        walked++
        if (!visit(place, at)) return true
      }
      if (isLast) return false
    }
    return false
  }

  /** What the start itself would be as a step, so that a step like it can be one with it. */
  placeOfStart(event: number): number {
    const read = this.#readers[0]!(event)
    if (read >= 0) return read
    // What happens on a page stands for its view.
    const mode = this.#walk.ofSteps?.[0] ?? this.#walk.of
    return mode.startsWith('pages') ? this.#pageCode(event) : -1
  }

  #pageCode(event: number): number {
    const { groups } = this.#names
    return this.codeOf({
      kind: 'page',
      page: groups.names[groups.groupOf[this.#block.events.page[event]!]!]!,
    })
  }

  #reader(mode: PathParts): Reader {
    switch (mode) {
      case 'pages':
        return this.#ofKind(KIND_CODE.page, this.#pages())
      case 'addresses': {
        const { page } = this.#block.events
        const { values } = this.#names.dictionaries.page
        return this.#ofKind(
          KIND_CODE.page,
          this.#cached(
            (i) => page[i]!,
            (i) => ({ kind: 'address', page: values[page[i]!]! }),
          ),
        )
      }
      case 'titles': {
        const { text } = this.#block.events
        const { values } = this.#names.dictionaries.text
        return this.#ofKind(
          KIND_CODE.page,
          this.#cached(
            (i) => text[i]!,
            (i) => ({ kind: 'title', page: values[text[i]!]! }),
          ),
        )
      }
      case 'clicks':
        return this.#ofKind(KIND_CODE.click, this.#clicks())
      case 'actions':
        return this.#actions()
      case 'pages and clicks':
        return eitherOf(this.#reader('pages'), this.#reader('clicks'))
      case 'pages and actions':
        return eitherOf(this.#actions(), this.#reader('pages'))
    }
  }

  #ofKind(kind: number, read: Reader): Reader {
    const kinds = this.#block.events.kind
    return (i) => (kinds[i] === kind ? read(i) : -1)
  }

  #cached(keyOf: (event: number) => number, place: (event: number) => Place): Reader {
    const known = new Map<number, number>()
    return (i) => {
      const key = keyOf(i)
      let code = known.get(key)
      if (code === undefined) known.set(key, (code = this.codeOf(place(i))))
      return code
    }
  }

  #pages(): Reader {
    const { page } = this.#block.events
    const { groupOf } = this.#names.groups
    return this.#cached(
      (i) => groupOf[page[i]!]!,
      (i) => this.places[this.#pageCode(i)]!,
    )
  }

  #clicks(): Reader {
    const { page, target } = this.#block.events
    const { groups, families } = this.#names
    return this.#cached(
      (i) => groups.groupOf[page[i]!]! * families.names.length + families.familyOf[target[i]!]!,
      (i) => ({
        kind: 'click',
        page: groups.names[groups.groupOf[page[i]!]!]!,
        selector: families.names[families.familyOf[target[i]!]!]!,
      }),
    )
  }

  /** What the site reports by itself, and what it calls an action by its rules; of several the first by name. */
  #actions(): Reader {
    const { kind, name, page } = this.#block.events
    const { groups, dictionaries, actions } = this.#names
    const rules = [...(actions ?? [])]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([action, rule]) => ({ action, matches: eventMatcher(this.#block, rule, this.#names) }))
    const placeOf = (action: string, i: number) =>
      this.codeOf({ kind: 'action', page: groups.names[groups.groupOf[page[i]!]!]!, name: action })
    return (i) => {
      const rule = rules.find(({ matches }) => matches(i))
      if (rule) return placeOf(rule.action, i)
      return kind[i] === KIND_CODE.action ? placeOf(dictionaries.name.values[name[i]!]!, i) : -1
    }
  }
}

function eitherOf(first: Reader, second: Reader): Reader {
  return (i) => {
    const place = first(i)
    return place >= 0 ? place : second(i)
  }
}

/** Whether a walk is the plain one: page groups from the first moment on, equal ones as one, nothing left out. */
export function isPlain({ of, ofSteps, fold, leftOut, start, at, until, per }: Walk): boolean {
  return (
    per !== 'visitor' &&
    of === 'pages' &&
    fold &&
    !ofSteps?.length &&
    !leftOut?.length &&
    !start &&
    (at ?? 'first') === 'first' &&
    !until
  )
}
