import { BlockCache } from '../columns/block-cache.ts'
import type { Block, SignalTables } from '../columns/block.ts'
import { joinSignals, propsRange, rowOf } from '../columns/block.ts'
import { compactColumns } from '../columns/compact.ts'
import { denseBlock } from '../columns/dense-block.ts'
import { copyColumns } from '../columns/layout.ts'
import type { Names } from '../labels/names.ts'
import { lowerBound } from '../stats/lower-bound.ts'
import { eventMatcher } from './event-matcher.ts'
import type { Noise } from './grammar/noise.ts'

/** A block keeps what was left of it by so many ways of leaving noise out. */
const cache = new BlockCache<Block>(3)

/**
 * A block without noise, as if it had never been captured: when sessions begin and end, and what went wrong, is told by
 * what is left. Sessions stay, even those with nothing left, which keep their times. What is left of a run of repeats is
 * its first event; a signal is left where the event with which it begins is. Made once for each way of leaving noise out.
 * Complexity: events.
 */
export function withoutNoise(block: Block, noise: readonly Noise[], names: Names): Block {
  if (!noise.length) return block
  return cache.remember(block, JSON.stringify(noise), names, () => without(block, noise, names))
}

/** By block without noise the block it was made of, and which of that one's events its own are, ascending. */
const sources = new WeakMap<Block, { block: Block; events: Uint32Array }>()

/** The block as it was captured, of which one without noise was made; any other block itself. */
export function withNoise(block: Block): Block {
  return sources.get(block)?.block ?? block
}

/**
 * Finds the events of one form of a block in another form of it, with or without noise: the event itself; where it is
 * noise there, what comes next in its session; where nothing does, what came last.
 *
 * @returns takes an event of `from` and its session, gives the event of `to`; undefined where the session has none there
 */
export function sameEvent(from: Block, to: Block): (event: number, session: number) => number | undefined {
  const captured = sources.get(from)?.events
  const left = sources.get(to)?.events
  const { firstEvent } = to.sessions
  return (event, session) => {
    const at = captured ? captured[event]! : event
    const [first, end] = [firstEvent[session]!, firstEvent[session + 1]!]
    if (first === end) return undefined
    return Math.min(left ? Math.max(first, lowerBound(left, at)) : at, end - 1)
  }
}

function without(block: Block, noise: readonly Noise[], names: Names): Block {
  const { sessions, events, points, measures, props } = block
  const tests = noise.map((one) => ({
    ...one,
    test: one.event ? eventMatcher(block, one.event, names) : () => true,
  }))
  const { atMs, kind, page, target, text, name } = events
  const kept: number[] = []
  const firstEvent = new Uint32Array(sessions.count + 1)
  let properties = 0
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
      const [first, last] = propsRange(block, i)
      properties += last - first
    }
  }
  firstEvent[sessions.count] = kept.length
  const counts = { sessions: sessions.count, events: kept.length, props: properties }
  const dense = denseBlock(counts)
  copyColumns(sessions, dense.sessions)
  dense.sessions.firstEvent.set(firstEvent)
  /** by session how much later than before it begins */
  const laterMs = new Float64Array(sessions.count)
  for (let s = 0; s < sessions.count; s++) {
    const [first, end] = [firstEvent[s]!, firstEvent[s + 1]!]
    if (first === end) continue
    laterMs[s] = atMs[kept[first]!]!
    dense.sessions.startMs[s] = sessions.startMs[s]! + laterMs[s]!
    dense.sessions.endMs[s] = sessions.startMs[s]! + atMs[kept[end - 1]!]!
  }
  let session = 0
  let p = 0
  kept.forEach((i, e) => {
    const to = dense.events
    to.kind[e] = kind[i]!
    while (firstEvent[session + 1]! <= e) session++
    to.atMs[e] = atMs[i]! - laterMs[session]!
    to.page[e] = page[i]!
    to.target[e] = target[i]!
    to.text[e] = text[i]!
    to.name[e] = name[i]!
    to.effect[e] = events.effect[i]!
    to.traits[e] = events.traits[i]!
    const point = rowOf(events.hasPoint, events.pointsBefore, i)
    to.x[e] = point < 0 ? NaN : points.x[point]!
    to.y[e] = point < 0 ? NaN : points.y[point]!
    to.rx[e] = point < 0 ? NaN : points.rx[point]!
    to.ry[e] = point < 0 ? NaN : points.ry[point]!
    to.w[e] = point < 0 ? NaN : points.w[point]!
    to.h[e] = point < 0 ? NaN : points.h[point]!
    const measure = rowOf(events.hasMeasure, events.measuresBefore, i)
    to.number[e] = measure < 0 ? NaN : measures.number[measure]!
    to.amount[e] = measure < 0 ? NaN : measures.amount[measure]!
    to.detail[e] = measure < 0 ? NaN : measures.detail[measure]!
    to.currency[e] = measure < 0 ? 0 : measures.currency[measure]!
    to.firstProp[e] = p
    const [first, last] = propsRange(block, i)
    for (let q = first; q < last; q++) {
      dense.props.key[p] = props.key[q]!
      dense.props.text[p] = props.text[q]!
      dense.props.number[p++] = props.number[q]!
    }
  })
  dense.events.firstProp[kept.length] = p
  const clean = joinSignals(compactColumns(dense), signalsLeft(block, kept))
  sources.set(clean, { block, events: Uint32Array.from(kept) })
  return clean
}

/** The signals that begin with an event that is left, and the friction of those events. */
function signalsLeft({ sessions, events, signals }: Block, kept: readonly number[]): SignalTables {
  const placeOf = new Int32Array(events.count).fill(-1)
  kept.forEach((i, e) => (placeOf[i] = e))
  const left: number[] = []
  const firstSignal = new Uint32Array(sessions.count + 1)
  for (let s = 0; s < sessions.count; s++) {
    for (let g = sessions.firstSignal[s]!; g < sessions.firstSignal[s + 1]!; g++)
      if (placeOf[signals.event[g]!]! >= 0) left.push(g)
    firstSignal[s + 1] = left.length
  }
  return {
    signals: {
      count: left.length,
      event: Uint32Array.from(left, (g) => placeOf[signals.event[g]!]!),
      events: Uint16Array.from(left, (g) => signals.events[g]!),
      kind: Uint8Array.from(left, (g) => signals.kind[g]!),
    },
    ofSessions: { count: sessions.count, firstSignal },
    ofEvents: { count: kept.length, friction: Uint8Array.from(kept, (i) => events.friction[i]!) },
  }
}
