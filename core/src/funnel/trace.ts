import type { EventCondition } from '../conditions/terms.ts'
import { eventsWhere } from '../conditions/found.ts'
import type { Block } from '../events/columns.ts'
import { isView, viewsBefore } from '../events/columns.ts'
import type { Dictionaries } from '../events/dictionaries.ts'
import type { ElementFamilies } from '../labels/element-families.ts'
import type { PageGroups } from '../labels/page-groups.ts'
import { isFew, SessionSet } from '../sets/session-set.ts'
import { SIGNAL_KINDS, TECHNICAL_KINDS } from '../signals/detect.ts'
import type { LeakKind } from './leak-kinds.ts'
import { LEAK_KINDS } from './leak-kinds.ts'
import type { FunnelOptions } from './options.ts'
import { isPlain } from './options.ts'
import type { FirstChances } from './chances.ts'
import { firstChancesOf } from './chances.ts'
import { reachFor } from './reach.ts'
import { fewRunsReader, runReader } from './runs.ts'
import type { Step } from './spec.ts'
import { stepCondition } from './steps.ts'

/** What the codes of a block mean: needed to turn names in a question into codes. */
export interface Names {
  dictionaries: Dictionaries
  groups: PageGroups
  families: ElementFamilies
  /** actions that the site has named, and what events they are */
  actions?: ReadonlyMap<string, EventCondition> | undefined
}

export interface Leak {
  kind: LeakKind
  /** group of the page they went back or on to; 0 where they went nowhere or an error came first */
  toGroup: number
}

/** How the sessions of a block come through the steps. It is good until another walk is made. */
export interface FunnelWalk {
  /** how many steps each session reaches */
  depths: Uint8Array
  /** event at which a session reached a step that it reached */
  event: (session: number, step: number) => number
  /** for each session the last time it was at a step, where it reached that */
  lasts: (step: number) => Int32Array
  /** for each session the event at which it reached a step that it reached; where they are known for all at once */
  events?: (step: number) => Int32Array
}

/**
 * Goes through sessions in the fastest way that the options allow.
 *
 * @param among  those asked about; of others nothing is said
 */
export function funnelWalk(
  block: Block,
  among: SessionSet,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): FunnelWalk {
  const chances = firstChancesOf(block, among, steps, options, names)
  const lasts = lastReader(block, steps, names)
  if (!isPlain(options)) return limitedWalk(block, steps, options, names, chances, lasts)
  const { depth, first } = chances
  return { depths: depth, event: (s, step) => first[step]![s]!, lasts, events: (step) => first[step]! }
}

/**
 * Limits and exclusions only take chains away: who does not enter, or gets no further by first chances, needs no search
 * for them. And with a time limit alone whoever gets as far within it by first chances gets no further by others.
 */
function limitedWalk(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
  chances: FirstChances,
  lasts: FunnelWalk['lasts'],
): FunnelWalk {
  const { first } = chances
  const depths = limitedDepths(block, steps, options, names, chances)
  const reach = reachFor(steps.length, options)
  const chain = new Uint32Array(steps.length)
  let read: ReturnType<typeof runReader> | undefined
  /** whose chain it is */
  let session = -1
  return {
    depths,
    event: (s, step) => {
      if (depths[s]! < 2) return first[step]![s]!
      read ??= runReader(block, steps, options, names)
      if (session !== s) reach(read((session = s)), chain, depths[s])
      return chain[step]!
    },
    lasts,
  }
}

/** Of all sessions at most this share are few: to read one after the other is faster than to find all that happened. */
const FEW = 1 / 8

function limitedDepths(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
  { depth, first }: FirstChances,
): Uint8Array {
  const open = undecided(block, depth, first, options)
  if (!open.length) return depth
  const reach = reachFor(steps.length, options)
  const chain = new Uint32Array(steps.length)
  const few = open.length < FEW * depth.length
  const read = (few ? fewRunsReader : runReader)(block, steps, options, names)
  for (const s of open) depth[s] = reach(read(s), chain, depth[s])
  return depth
}

/** The sessions of which first chances do not tell how far they come. */
function undecided(
  { events: { atMs }, sessions: { count, startMs, endMs } }: Block,
  most: Uint8Array,
  first: readonly Int32Array[],
  { between, without, withinMs }: FunnelOptions,
): number[] {
  const open: number[] = []
  const limitMs = between === 'nothing' || without.length ? -1 : (withinMs ?? Infinity)
  for (let s = 0; s < count; s++) {
    // Most sessions are shorter than the limit as a whole.
    if (endMs[s]! - startMs[s]! <= limitMs) continue
    const depth = most[s]!
    if (depth > 1 && atMs[first[depth - 1]![s]!]! - atMs[first[0]![s]!]! > limitMs) open.push(s)
  }
  return open
}

function lastReader(block: Block, steps: readonly Step[], names: Names): FunnelWalk['lasts'] {
  const last: Int32Array[] = []
  return (step) => {
    if (last[step]) return last[step]
    const own = (last[step] = new Int32Array(block.sessions.count))
    for (const { event, session, ranges } of eventsWhere(block, stepCondition(steps[step]!), names))
      for (let r = 0; r < ranges.length; r += 2)
        for (let i = ranges[r]!; i < ranges[r + 1]!; i++) {
          const s = session[i]!
          const at = event[i]!
          if (at > own[s]!) own[s] = at
        }
    return own
  }
}

interface KeptDepths {
  names: Names
  /** of whom they tell */
  among: SessionSet
  depth: Uint8Array
}

/**
 * How many steps each session reaches, kept for the next questions about the same steps and the same sessions or some of
 * them: another filter or another breakdown only counts them again, and of several who ask at once the first does the
 * work for all.
 *
 * @param among  those asked about; of others nothing is said
 */
export function depthsOf(
  block: Block,
  among: SessionSet,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): Uint8Array {
  const key = keyOf(steps, options)
  let held = kept.get(block)
  if (!held) kept.set(block, (held = new Map<string, KeptDepths>()))
  const known = held.get(key)
  if (known?.names === names && among.isIn(known.among)) {
    // Those that are looked at most recently are the last to go.
    held.delete(key)
    held.set(key, known)
    return known.depth
  }
  // Of many it takes as long to tell as of all, and then it is known for whoever asks next.
  const told = isFew(among) ? among : SessionSet.all(among.size)
  const chances = firstChancesOf(block, told, steps, options, names)
  const depth = isPlain(options) ? chances.depth : limitedDepths(block, steps, options, names, chances)
  if (held.size >= MOST_KEPT) held.delete(held.keys().next().value!)
  held.set(key, { names, among: told, depth: depth.slice() })
  return depth
}

function keyOf(steps: readonly Step[], options: FunnelOptions): string {
  const known = keys.get(steps)
  if (known?.options === options) return known.key
  const { between, entry, withinMs, without } = options
  const key = JSON.stringify({ steps, between, entry, withinMs, without })
  keys.set(steps, { options, key })
  return key
}

/** Of how many funnels a block keeps the depths: a byte a session each. */
const MOST_KEPT = 8
const kept = new WeakMap<Block, Map<string, KeptDepths>>()
const keys = new WeakMap<readonly Step[], { options: FunnelOptions; key: string }>()

const TECHNICAL = SIGNAL_KINDS.map((kind) => TECHNICAL_KINDS.includes(kind))

/** What came after an event of a session: see LEAK_KINDS. */
export function leakAfter(block: Block, session: number, event: number, names: Names): Leak {
  return leakOf(leakReader(block, names)(session, event))
}

/** Tells of a session's event what came after it, as a number, so that very many can be counted: see leakOf. */
export function leakReader(block: Block, names: Names): (session: number, event: number) => number {
  const { events, views } = block
  const { page, atMs } = events
  const { firstView, firstSignal } = block.sessions
  const { event: eventOf, page: viewed } = views
  const { groupOf } = names.groups
  return (session, event) => {
    const group = groupOf[page[event]!]!
    const to = firstView[session + 1]!
    // Views up to this event, it included.
    const after = viewsBefore(events, event) + (isView(events, event) ? 1 : 0)
    let next = after
    while (next < to && groupOf[viewed[next]!] === group) next++
    let met = false
    if (firstSignal[session] !== firstSignal[session + 1]) {
      const untilMs = next < to ? atMs[eventOf[next]!]! : Infinity
      for (const signal of signalsBetween(block, session, atMs[event]!, untilMs)) {
        if (TECHNICAL[block.signals.kind[signal]!]) return ERROR
        met = true
      }
    }
    if (next === to) return met ? TROUBLE : LEFT
    const toGroup = groupOf[viewed[next]!]!
    let seen = firstView[session]!
    while (seen < after && groupOf[viewed[seen]!] !== toGroup) seen++
    return toGroup * LEAK_KINDS.length + (seen < after ? BACK : OTHER)
  }
}

const [ERROR, BACK, OTHER, TROUBLE, LEFT] = LEAK_KINDS.map((_, kind) => kind) as [
  number,
  number,
  number,
  number,
  number,
]

export function leakOf(code: number): Leak {
  return {
    kind: LEAK_KINDS[code % LEAK_KINDS.length]!,
    toGroup: Math.floor(code / LEAK_KINDS.length),
  }
}

/** Signals of a session that begin at or after one moment and before another. */
export function signalsBetween(block: Block, session: number, fromMs: number, toMs: number): number[] {
  const found: number[] = []
  for (let i = block.sessions.firstSignal[session]!; i < block.sessions.firstSignal[session + 1]!; i++) {
    const at = block.signals.atMs[i]!
    if (at >= fromMs && at < toMs) found.push(i)
  }
  return found
}
