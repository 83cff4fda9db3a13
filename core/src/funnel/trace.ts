import type { Block } from '../events/columns.ts'
import { KIND } from '../events/columns.ts'
import { viewsOf } from '../events/view-index.ts'
import type { Dictionaries } from '../events/columns.ts'
import type { ElementFamilies } from '../labels/element-families.ts'
import type { PageGroups } from '../labels/page-groups.ts'
import { SIGNAL_KINDS, TECHNICAL_KINDS } from '../signals/detect.ts'
import { eventMatcher } from '../conditions/events.ts'
import type { EventMatcher } from '../conditions/events.ts'
import type { Kind } from '../events/line.ts'
import { KINDS } from '../events/line.ts'
import type { FunnelOptions } from './options.ts'
import { isPlain } from './options.ts'
import { ACT_BIT, FIRST_BIT, firstChances, reachedChain, STEP_BIT, WITHOUT_BIT } from './reach.ts'
import type { Step } from './spec.ts'

/** What the codes of a block mean: needed to turn names in a question into codes. */
export interface Names {
  dictionaries: Dictionaries
  groups: PageGroups
  families: ElementFamilies
}

/** What those who did not go on did instead; the first that applies, in this order. */
export const LEAK_KINDS = ['error', 'back', 'other', 'trouble', 'left'] as const
export type LeakKind = (typeof LEAK_KINDS)[number]

export interface Leak {
  kind: LeakKind
  /** group of the page they went back or on to; 0 where they went nowhere or an error came first */
  toGroup: number
}

export interface Trace {
  /** index of the event at which each reached step was first met, in order; its length is how far the session came */
  reached: number[]
  /** where the session did not reach the last step: the last time it was at its last step, and what came instead */
  lost: { event: number; leak: Leak } | undefined
}

/** Turns steps into tests on the events of a block. A step that names nothing known never matches. */
export function stepMatchers(block: Block, steps: readonly Step[], names: Names): EventMatcher[] {
  const { kind, page, target } = block.events
  const { groupOf } = names.groups
  const { familyOf } = names.families
  return steps.map((step) => {
    if (step.type === 'event') return eventMatcher(block, step.event, names)
    const group = step.page === undefined ? undefined : names.groups.find(step.page)
    if (step.type === 'page') return (i) => kind[i] === KIND.page && groupOf[page[i]!] === group
    const family = names.families.find(step.selector)
    return (i) =>
      kind[i] === KIND.click &&
      familyOf[target[i]!] === family &&
      (group === undefined || groupOf[page[i]!] === group)
  })
}

/** Kinds of what nobody does: they never lie "between" two steps. */
const PASSIVE: readonly Kind[] = ['leave', 'scroll', 'seen', 'hide', 'show', 'out', 'freeze', 'variant']

/** The kinds that steps are about: what may not lie between two of them that follow directly. */
function actKinds(steps: readonly Step[]): Kind[] {
  const kinds = steps.flatMap((step) =>
    step.type === 'page'
      ? ['page' as const]
      : step.type === 'click'
        ? ['click' as const]
        : (step.event.kinds ?? KINDS.filter((kind) => !PASSIVE.includes(kind))),
  )
  return [...new Set(kinds)]
}

/** The events of a session that mean something to a funnel, each with what it means: see reachedChain. */
export interface Run {
  /** index of the event in the block */
  events: number[]
  /** milliseconds since the start of the session */
  atMs: number[]
  masks: number[]
}

/** Reads a session of a block as a funnel sees it. */
export function runReader(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): (session: number) => Run {
  const { kind, atMs } = block.events
  const matchers = stepMatchers(block, steps, names)
  const without = options.without
    .filter(({ after }) => after < steps.length - 1)
    .map(({ after, event }) => ({ bit: WITHOUT_BIT(after), test: eventMatcher(block, event, names) }))
  const acts = new Uint8Array(KINDS.length)
  if (options.between === 'nothing') for (const act of actKinds(steps)) acts[KIND[act]] = 1
  const first = options.entry === 'first'
  return (session) => {
    const run: Run = { events: [], atMs: [], masks: [] }
    let seenPage = !first
    for (let i = block.sessions.firstEvent[session]!; i < block.sessions.firstEvent[session + 1]!; i++) {
      let mask = acts[kind[i]!] ? ACT_BIT : 0
      for (let k = 0; k < matchers.length; k++) if (matchers[k]!(i)) mask |= STEP_BIT(k)
      for (const { bit, test } of without) if (test(i)) mask |= bit
      if (!seenPage && kind[i] === KIND.page) {
        mask |= FIRST_BIT
        seenPage = true
      }
      if (!mask) continue
      run.events.push(i)
      run.atMs.push(atMs[i]!)
      run.masks.push(mask)
    }
    return run
  }
}

/** Positions in a run of the events that take it through the steps. */
export function chainOf(
  { atMs, masks }: Pick<Run, 'atMs' | 'masks'>,
  steps: number,
  options: FunnelOptions,
): number[] {
  const firstOnly = options.entry === 'first'
  if (isPlain(options)) return firstChances(masks, steps, firstOnly)
  return reachedChain(atMs, masks, {
    steps,
    firstOnly,
    directly: options.between === 'nothing',
    withinMs: options.withinMs ?? Infinity,
  })
}

/** How far sessions come through the steps, and what those did instead who do not reach the last one. */
export function sessionTracer(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): (session: number) => Trace {
  const pages = pageTraces(block, steps, options, names)
  if (pages)
    return (session) => {
      const depth = pages.depth(session)
      const reached = Array.from({ length: depth }, (_, step) => pages.eventAt(step, session))
      if (depth === 0 || depth === steps.length) return { reached, lost: undefined }
      const event = pages.lastAt(depth - 1, session)
      let leak: Leak | undefined
      // Only those who ask what came instead wait for it.
      const lost = {
        event,
        get leak() {
          return (leak ??= leakAfter(block, session, event, names))
        },
      }
      return { reached, lost }
    }
  if (isPlain(options) && options.entry === 'anywhere') {
    const matchers = stepMatchers(block, steps, names)
    return (session) => traceSession(block, session, matchers, names)
  }
  const read = runReader(block, steps, options, names)
  return (session) => {
    const run = read(session)
    const reached = chainOf(run, steps.length, options).map((position) => run.events[position]!)
    if (reached.length === 0 || reached.length === steps.length) return { reached, lost: undefined }
    return { reached, lost: lossAt(block, session, run, reached.length - 1, names) }
  }
}

const NOWHERE = 0xffff_ffff

/** Where many sessions at once came through the steps; only for steps that are all page views, each at its first chance. */
export interface PageTraces {
  /** how many steps a session reached */
  depth: (session: number) => number
  /** event at which it first reached a step that it reached */
  eventAt: (step: number, session: number) => number
  /** the last time it was at a step that it reached */
  lastAt: (step: number, session: number) => number
}

/**
 * The same as traceSession for all sessions of a block, over the views of the steps' pages alone.
 *
 * @returns undefined where steps or options ask for more than page views at their first chance
 */
export function pageTraces(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): PageTraces | undefined {
  if (!isPlain(options) || options.entry !== 'anywhere') return undefined
  const { count } = block.sessions
  const { groupOf } = names.groups
  const first: Uint32Array[] = []
  const last: Uint32Array[] = []
  for (const step of steps) {
    if (step.type !== 'page') return undefined
    const group = names.groups.find(step.page)
    const { event, session } = viewsOf(block, (page) => groupOf[page] === group)
    const before = first[first.length - 1]
    const own = new Uint32Array(count).fill(NOWHERE)
    const latest = new Uint32Array(count)
    for (let k = 0; k < event.length; k++) {
      const s = session[k]!
      latest[s] = event[k]!
      if (own[s] === NOWHERE && (!before || event[k]! > before[s]!)) own[s] = event[k]!
    }
    first.push(own)
    last.push(latest)
  }
  return {
    depth: (s) => {
      let depth = 0
      while (depth < first.length && first[depth]![s] !== NOWHERE) depth++
      return depth
    },
    eventAt: (step, s) => first[step]![s]!,
    lastAt: (step, s) => last[step]![s]!,
  }
}

/** The last time a session was at a step, and what came instead of the next. */
export function lossAt(
  block: Block,
  session: number,
  { events, masks }: Run,
  step: number,
  names: Names,
): { event: number; leak: Leak } | undefined {
  for (let position = events.length - 1; position >= 0; position--)
    if (masks[position]! & STEP_BIT(step)) {
      const event = events[position]!
      return { event, leak: leakAfter(block, session, event, names) }
    }
  return undefined
}

/**
 * How far one session came through the steps, in order, with anything in between, each step by a later event than the
 * one before. Taking each step at its first chance reaches the most steps, as there is no time limit.
 */
export function traceSession(
  block: Block,
  session: number,
  matchers: readonly EventMatcher[],
  names: Names,
): Trace {
  const from = block.sessions.firstEvent[session]!
  const to = block.sessions.firstEvent[session + 1]!
  const reached: number[] = []
  for (let i = from; i < to && reached.length < matchers.length; i++)
    if (matchers[reached.length]!(i)) reached.push(i)
  if (reached.length === 0 || reached.length === matchers.length) return { reached, lost: undefined }
  const atStep = matchers[reached.length - 1]!
  let event = reached[reached.length - 1]!
  for (let i = to - 1; i > event; i--)
    if (atStep(i)) {
      event = i
      break
    }
  return { reached, lost: { event, leak: leakAfter(block, session, event, names) } }
}

const TECHNICAL = new Set(TECHNICAL_KINDS.map((kind) => SIGNAL_KINDS.indexOf(kind)))

export function leakAfter(block: Block, session: number, event: number, names: Names): Leak {
  const { kind, page, atMs } = block.events
  const { groupOf } = names.groups
  const group = groupOf[page[event]!]!
  const end = block.sessions.firstEvent[session + 1]!
  let next = event + 1
  while (next < end && !(kind[next] === KIND.page && groupOf[page[next]!] !== group)) next++
  const toGroup = next < end ? groupOf[page[next]!]! : 0
  const untilMs = next < end ? atMs[next]! : Infinity
  const met = signalsBetween(block, session, atMs[event]!, untilMs)
  if (met.some((signal) => TECHNICAL.has(block.signals.kind[signal]!))) return { kind: 'error', toGroup: 0 }
  if (next < end)
    return { kind: seenBefore(block, session, event, toGroup, names) ? 'back' : 'other', toGroup }
  return { kind: met.length ? 'trouble' : 'left', toGroup: 0 }
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

function seenBefore(block: Block, session: number, event: number, group: number, names: Names): boolean {
  for (let i = block.sessions.firstEvent[session]!; i < event; i++)
    if (block.events.kind[i] === KIND.page && names.groups.groupOf[block.events.page[i]!] === group)
      return true
  return false
}
