import { BlockCache } from '../columns/block-cache.ts'
import type { Block } from '../columns/block.ts'
import { propsRange, rowOf } from '../columns/block.ts'
import { compactBlock } from '../columns/compact.ts'
import { denseBlock } from '../columns/dense-block.ts'
import { KIND_CODE } from '../columns/event-codes.ts'
import { copyColumns } from '../columns/layout.ts'
import { SIGNAL_KINDS, signalTraits } from '../events/signal-kinds.ts'
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
  const { sessions, events, points, measures, props, signals } = block
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
  const leftSignals = signalsOf(block, kept, firstEvent)
  const counts = {
    sessions: sessions.count,
    events: kept.length,
    props: properties,
    signals: leftSignals.signals.length,
  }
  const dense = denseBlock(counts)
  copyColumns(sessions, dense.sessions)
  dense.sessions.firstEvent.set(firstEvent)
  dense.sessions.firstSignal.set(leftSignals.first)
  for (const column of ['atMs', 'page', 'target', 'text', 'name', 'clicks', 'kind'] as const)
    leftSignals.signals.forEach((signal, g) => (dense.signals[column][g] = signals[column][signal]!))
  /** by session how much later than before it begins */
  const laterMs = new Float64Array(sessions.count)
  for (let s = 0; s < sessions.count; s++) {
    const [first, end] = [firstEvent[s]!, firstEvent[s + 1]!]
    if (first === end) continue
    laterMs[s] = atMs[kept[first]!]!
    dense.sessions.startMs[s] = sessions.startMs[s]! + laterMs[s]!
    dense.sessions.endMs[s] = sessions.startMs[s]! + atMs[kept[end - 1]!]!
    for (let g = leftSignals.first[s]!; g < leftSignals.first[s + 1]!; g++)
      dense.signals.atMs[g]! -= laterMs[s]!
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
    to.friction[e] = events.friction[i]!
    const point = rowOf(events.hasPoint, events.pointsBefore, i)
    to.x[e] = point < 0 ? NaN : points.x[point]!
    to.y[e] = point < 0 ? NaN : points.y[point]!
    to.rx[e] = point < 0 ? NaN : points.rx[point]!
    to.ry[e] = point < 0 ? NaN : points.ry[point]!
    const measure = rowOf(events.hasMeasure, events.measuresBefore, i)
    to.number[e] = measure < 0 ? NaN : measures.number[measure]!
    to.amount[e] = measure < 0 ? NaN : measures.amount[measure]!
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
  const clean = compactBlock(dense)
  sources.set(clean, { block, events: Uint32Array.from(kept) })
  return clean
}

/** Which signals are left: those that begin with an event that is left; in order, and by session where they begin. */
function signalsOf(block: Block, kept: readonly number[], firstEvent: Uint32Array) {
  const { sessions, events, signals } = block
  const first = new Uint32Array(sessions.count + 1)
  const left: number[] = []
  for (let s = 0; s < sessions.count; s++) {
    first[s] = left.length
    const [from, to] = [sessions.firstSignal[s]!, sessions.firstSignal[s + 1]!]
    if (from === to) continue
    const isKept = new Set(kept.slice(firstEvent[s], firstEvent[s + 1]))
    /** by kind of signal the event after that with which the last one began: two may begin at one instant */
    const next = new Uint32Array(SIGNAL_KINDS.length).fill(sessions.firstEvent[s]!)
    for (let g = from; g < to; g++) {
      const kind = signals.kind[g]!
      for (let i = next[kind]!; i < sessions.firstEvent[s + 1]!; i++) {
        if (
          events.kind[i] !== BEGINS_WITH[kind] ||
          events.atMs[i] !== signals.atMs[g] ||
          events.target[i] !== signals.target[g]
        )
          continue
        next[kind] = i + 1
        if (isKept.has(i)) left.push(g)
        break
      }
    }
  }
  first[sessions.count] = left.length
  return { signals: left, first }
}

/** By kind of signal the kind of event that it begins with. */
const BEGINS_WITH = SIGNAL_KINDS.map((kind) => KIND_CODE[signalTraits(kind).begins])
