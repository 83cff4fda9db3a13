import type { EventCondition } from '../conditions/terms.ts'
import { pageTable, passing } from '../conditions/events.ts'
import type { Block, Codes } from '../events/columns.ts'
import { viewsOf } from '../events/view-index.ts'
import type { Dictionaries } from '../events/dictionaries.ts'
import type { ElementFamilies } from '../labels/element-families.ts'
import type { PageGroups } from '../labels/page-groups.ts'
import { SIGNAL_KINDS, TECHNICAL_KINDS } from '../signals/detect.ts'
import type { LeakKind } from './leak-kinds.ts'
import { LEAK_KINDS } from './leak-kinds.ts'
import type { FunnelOptions } from './options.ts'
import { isPlain } from './options.ts'
import { reachFor } from './reach.ts'
import type { Run } from './runs.ts'
import { lastAtStep, runReader } from './runs.ts'
import type { Step } from './spec.ts'

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

/** Goes through the sessions of a block, one after another. */
export interface FunnelWalk {
  /** how many steps each session reaches, where all are known at once */
  depths?: Uint8Array
  /** how many steps a session reaches; what follows is about this session */
  to: (session: number) => number
  /** event at which it reached a step that it reached */
  event: (step: number) => number
  /** the last time it was at the deepest step it reached */
  last: () => number
}

/** Goes through sessions in the fastest way that the steps and options allow. */
export function funnelWalk(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): FunnelWalk {
  const onlyLimited = options.between === 'anything' && !options.without.length && options.withinMs !== null
  const pages = pageTraces(block, steps, onlyLimited ? { ...options, withinMs: null } : options, names)
  let session = 0
  let depth = 0
  if (pages && onlyLimited) return limitedWalk(block, steps, options, names, pages)
  if (pages)
    return {
      depths: pages.depth,
      to: (s) => (depth = pages.depth[(session = s)]!),
      event: (step) => pages.eventAt(step, session),
      last: () => pages.lastAt(depth - 1, session),
    }
  const read = runReader(block, steps, options, names)
  const reach = reachFor(steps.length, options)
  const chain = new Uint32Array(steps.length)
  let run: Run
  return {
    to: (s) => (depth = reach((run = read(s)), chain)),
    event: (step) => run.events[chain[step]!]!,
    last: () => lastAtStep(run, depth - 1)!,
  }
}

/**
 * With a time limit and nothing else: a limit only takes chains away, so whoever gets as far within it by first chances
 * gets no further by others, and only the rest are looked at event by event.
 */
function limitedWalk(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
  pages: PageTraces,
): FunnelWalk {
  const { atMs } = block.events
  const read = runReader(block, steps, options, names)
  const reach = reachFor(steps.length, options)
  const chain = new Uint32Array(steps.length)
  const limitMs = options.withinMs ?? Infinity
  let session = 0
  let depth = 0
  /** the run of the session, where its chain has been looked for */
  let run: Run | undefined
  const search = () => reach((run = read(session)), chain)
  return {
    to: (s) => {
      session = s
      run = undefined
      depth = pages.depth[s]!
      if (depth < 2 || atMs[pages.eventAt(depth - 1, s)]! - atMs[pages.eventAt(0, s)]! <= limitMs)
        return depth
      return (depth = search())
    },
    event: (step) => {
      if (depth < 2) return pages.eventAt(step, session)
      if (!run) search()
      return run!.events[chain[step]!]!
    },
    last: () => pages.lastAt(depth - 1, session),
  }
}

const NOWHERE = 0xffff_ffff

/** Where all sessions of a block came through the steps; only for steps that are all page views, each at its first chance. */
export interface PageTraces {
  /** how many steps each session reached */
  depth: Uint8Array
  /** event at which it first reached a step that it reached */
  eventAt: (step: number, session: number) => number
  /** the last time it was at a step that it reached */
  lastAt: (step: number, session: number) => number
}

/**
 * The same as a walk by runs for all sessions of a block, over the views of the steps' pages alone.
 * Complexity: views of the steps' pages, and sessions. What is given is good until the next block is asked about, since
 * columns of sessions are used again and again.
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
  const tests = pageTests(steps, names)
  if (!tests) return undefined
  const { sessions, views } = block
  const { depth, first } = workspace(sessions.count, steps.length)
  for (let k = 0; k < steps.length; k++) {
    const lists = viewsOf(block, (page) => tests[k]![page] === 1)
    const own = first[k]!
    const before = k === 0 ? undefined : first[k - 1]
    if (lists.length === 1) firstViews(lists[0]!, views.session, before, own, depth, k)
    else for (const list of lists) earlierViews(list, views.session, before, own, depth, k)
  }
  return {
    depth,
    eventAt: (step, s) => views.event[first[step]![s]!]!,
    lastAt: (step, s) => {
      let view = sessions.firstView[s + 1]! - 1
      while (tests[step]![views.page[view]!] !== 1) view--
      return views.event[view]!
    },
  }
}

/** For each step by page code whether a view of the page is the step; undefined where a step is about anything else. */
function pageTests(steps: readonly Step[], names: Names): Uint8Array[] | undefined {
  const known = testsOf.get(steps)
  if (known?.names === names) return known.tests
  const { groupOf } = names.groups
  const made = steps.map((step) => {
    if (step.type === 'page') {
      const group = names.groups.find(step.page)
      return Uint8Array.from(groupOf, (own) => (own === group ? 1 : 0))
    }
    if (step.type !== 'event') return undefined
    const { kinds, page, path, ...others } = step.event
    if (
      kinds?.length !== 1 ||
      kinds[0] !== 'page' ||
      Object.values(others).some((part) => part !== undefined)
    )
      return undefined
    const pages = page && pageTable(page, names)
    const paths = path && passing(names.dictionaries.page.values, path)
    return Uint8Array.from(groupOf, (_, code) => ((pages?.[code] ?? 1) && (paths?.[code] ?? 1) ? 1 : 0))
  })
  const tests = made.every((test) => test !== undefined) ? made : undefined
  testsOf.set(steps, { names, tests })
  return tests
}

/** Of the question that is being answered: all blocks share them. */
const testsOf = new WeakMap<readonly Step[], { names: Names; tests: Uint8Array[] | undefined }>()

let space = { depth: new Uint8Array(0), first: [] as Uint32Array[] }

/** Empty columns of sessions, one of depths and one for each step. */
function workspace(sessions: number, steps: number): typeof space {
  if (space.depth.length !== sessions) space = { depth: new Uint8Array(sessions), first: [] }
  while (space.first.length < steps) space.first.push(new Uint32Array(sessions))
  space.depth.fill(0)
  for (let k = 0; k < steps; k++) space.first[k]!.fill(NOWHERE)
  return space
}

/**
 * Takes, for each session, the first view of a list that lies after its view of the step before. From the end, so that
 * the earliest is written last: there is next to nothing to decide, and processors are bad at guessing.
 */
function firstViews(
  list: Uint32Array,
  session: Codes,
  before: Uint32Array | undefined,
  own: Uint32Array,
  depth: Uint8Array,
  step: number,
): void {
  if (before === undefined)
    for (let k = list.length - 1; k >= 0; k--) {
      const view = list[k]!
      const s = session[view]!
      own[s] = view
      depth[s] = 1
    }
  else
    for (let k = list.length - 1; k >= 0; k--) {
      const view = list[k]!
      const s = session[view]!
      if (view > before[s]!) {
        own[s] = view
        depth[s] = step + 1
      }
    }
}

/** The same where other lists were taken before: only what is earlier than what is there. */
function earlierViews(
  list: Uint32Array,
  session: Codes,
  before: Uint32Array | undefined,
  own: Uint32Array,
  depth: Uint8Array,
  step: number,
): void {
  for (let k = 0; k < list.length; k++) {
    const view = list[k]!
    const s = session[view]!
    if (view < own[s]! && (before === undefined || view > before[s]!)) {
      own[s] = view
      depth[s] = step + 1
    }
  }
}

const TECHNICAL = SIGNAL_KINDS.map((kind) => TECHNICAL_KINDS.includes(kind))

/** What came after an event of a session: see LEAK_KINDS. */
export function leakAfter(block: Block, session: number, event: number, names: Names): Leak {
  return leakOf(leakCode(block, session, event, names))
}

/** A leak as a number, so that very many can be counted. */
export function leakCode(block: Block, session: number, event: number, names: Names): number {
  const { events, sessions, signals, views } = block
  const { groupOf } = names.groups
  const group = groupOf[events.page[event]!]!
  const from = sessions.firstView[session]!
  const to = sessions.firstView[session + 1]!
  let next = from
  while (next < to && (views.event[next]! <= event || groupOf[views.page[next]!] === group)) next++
  let met = false
  if (sessions.firstSignal[session] !== sessions.firstSignal[session + 1]) {
    const untilMs = next < to ? events.atMs[views.event[next]!]! : Infinity
    for (const signal of signalsBetween(block, session, events.atMs[event]!, untilMs)) {
      if (TECHNICAL[signals.kind[signal]!]) return LEAK_KINDS.indexOf('error')
      met = true
    }
  }
  if (next === to) return LEAK_KINDS.indexOf(met ? 'trouble' : 'left')
  const toGroup = groupOf[views.page[next]!]!
  let seen = from
  while (views.event[seen]! < event && groupOf[views.page[seen]!] !== toGroup) seen++
  const kind = seen < next && views.event[seen]! < event ? 'back' : 'other'
  return toGroup * LEAK_KINDS.length + LEAK_KINDS.indexOf(kind)
}

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
