import { z } from 'zod'
import { eventMatcher } from '../conditions/events.ts'
import { eventConditionSchema } from '../conditions/terms.ts'
import type { Block } from '../events/columns.ts'
import { rowOf, settle } from '../events/columns.ts'
import { looseBytes, viewLoose } from '../events/loose.ts'
import type { Names } from '../funnel/trace.ts'
import { firstAtLeast } from '../sets/ascending.ts'

/** What is not to be counted as having happened. */
export const noiseSchema = z.discriminatedUnion('type', [
  /** events like the one before them in the session: same kind, page, element and name; `withinMs` after it at most */
  z.object({
    type: z.literal('repeats'),
    withinMs: z.number().min(0).nullable().default(null),
    event: eventConditionSchema.optional(),
  }),
  /** all events that a condition names */
  z.object({ type: z.literal('events'), event: eventConditionSchema }),
])
export type Noise = z.infer<typeof noiseSchema>

const known = new WeakMap<Block, Map<string, { names: Names; block: Block }>>()
/** Ways of cleaning of which a block keeps what was left. */
const MOST_KEPT = 3

/**
 * A block without noise, as if it had never been captured; its sessions stay, even those with nothing left. What is left
 * of a run of repeats is its first event. Signals stay as they were found.
 * Made once for each way of cleaning. Complexity: events.
 */
export function cleaned(block: Block, noise: readonly Noise[], names: Names): Block {
  if (!noise.length) return block
  let ways = known.get(block)
  if (!ways) known.set(block, (ways = new Map<string, { names: Names; block: Block }>()))
  const key = JSON.stringify(noise)
  const held = ways.get(key)
  if (held?.names === names) return held.block
  const made = without(block, noise, names)
  if (ways.size >= MOST_KEPT) ways.delete(ways.keys().next().value!)
  ways.set(key, { names, block: made })
  return made
}

/** What cleaned blocks were made from, and which of its events each of theirs is, in ascending order. */
const sources = new WeakMap<Block, { block: Block; events: Uint32Array }>()

/** The block as it was captured, of which a cleaned one was made; one that is not cleaned itself. */
export function uncleaned(block: Block): Block {
  return sources.get(block)?.block ?? block
}

/**
 * Finds the events of one way of cleaning a block in another: the event itself, or where that is noise there, what came
 * next in its session, or else what came last.
 *
 * @returns for an event of `from` and the session it is of the event of `to`; undefined where the session has none there
 */
export function sameEvent(from: Block, to: Block): (event: number, session: number) => number | undefined {
  const captured = sources.get(from)?.events
  const left = sources.get(to)?.events
  const { firstEvent } = to.sessions
  return (event, session) => {
    const at = captured ? captured[event]! : event
    const [first, end] = [firstEvent[session]!, firstEvent[session + 1]!]
    if (first === end) return undefined
    return Math.min(left ? Math.max(first, firstAtLeast(left, at)) : at, end - 1)
  }
}

function without(block: Block, noise: readonly Noise[], names: Names): Block {
  const { sessions, events, points, measures, propped, props, signals } = block
  const tests = noise.map((one) => ({
    ...one,
    test: one.event ? eventMatcher(block, one.event, names) : () => true,
  }))
  const { atMs, kind, page, target, text, name } = events
  const kept: number[] = []
  const firstEvent = new Uint32Array(sessions.count + 1)
  let properties = 0
  const propsOf = (i: number): [number, number] => {
    const row = rowOf(events.hasProps, events.propsBefore, i)
    return row < 0 ? [0, 0] : [propped.first[row]!, propped.first[row + 1]!]
  }
  const alike = (a: number, b: number) =>
    kind[a] === kind[b] &&
    page[a] === page[b] &&
    target[a] === target[b] &&
    text[a] === text[b] &&
    name[a] === name[b]
  for (let s = 0; s < sessions.count; s++) {
    firstEvent[s] = kept.length
    const from = sessions.firstEvent[s]!
    for (let i = from; i < sessions.firstEvent[s + 1]!; i++) {
      const noisy = tests.some(
        (one) =>
          one.test(i) &&
          (one.type === 'events' ||
            (i > from && alike(i, i - 1) && atMs[i]! - atMs[i - 1]! <= (one.withinMs ?? Infinity))),
      )
      if (noisy) continue
      kept.push(i)
      const [first, last] = propsOf(i)
      properties += last - first
    }
  }
  firstEvent[sessions.count] = kept.length
  const counts = {
    sessions: sessions.count,
    events: kept.length,
    props: properties,
    signals: signals.count,
  }
  const loose = viewLoose(counts, new ArrayBuffer(looseBytes(counts)))
  copyAll(sessions, loose.sessions)
  copyAll(signals, loose.signals)
  loose.sessions.firstEvent.set(firstEvent)
  let p = 0
  kept.forEach((i, e) => {
    const to = loose.events
    to.kind[e] = kind[i]!
    to.atMs[e] = atMs[i]!
    to.page[e] = page[i]!
    to.target[e] = target[i]!
    to.text[e] = text[i]!
    to.name[e] = name[i]!
    to.effect[e] = events.effect[i]!
    to.friction[e] = events.friction[i]!
    const point = rowOf(events.hasPoint, events.pointsBefore, i)
    to.x[e] = point < 0 ? NaN : points.x[point]!
    to.y[e] = point < 0 ? NaN : points.y[point]!
    to.rx[e] = point < 0 ? NaN : points.rx[point]!
    to.ry[e] = point < 0 ? NaN : points.ry[point]!
    const measure = rowOf(events.hasMeasure, events.measuresBefore, i)
    to.number[e] = measure < 0 ? NaN : measures.number[measure]!
    to.amount[e] = measure < 0 ? NaN : measures.amount[measure]!
    to.firstProp[e] = p
    const [first, last] = propsOf(i)
    for (let q = first; q < last; q++) {
      loose.props.key[p] = props.key[q]!
      loose.props.text[p] = props.text[q]!
      loose.props.number[p++] = props.number[q]!
    }
  })
  loose.events.firstProp[kept.length] = p
  const clean = settle(loose)
  sources.set(clean, { block, events: Uint32Array.from(kept) })
  return clean
}

/** Copies the columns that two tables share. */
function copyAll(from: object, to: object): void {
  for (const [column, values] of Object.entries(to) as [string, Uint32Array | number][]) {
    const own = (from as Record<string, ArrayLike<number> | number | undefined>)[column]
    if (typeof values !== 'number' && typeof own === 'object') values.set(own)
  }
}
