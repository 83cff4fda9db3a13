import type { Block } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import { Scratch } from '../../columns/scratch.ts'
import type { Kind } from '../../events/line.ts'
import { KINDS } from '../../events/line.ts'
import type { EventCondition } from '../../labels/event-condition.ts'
import type { Names } from '../../labels/names.ts'
import { pageTable } from '../code-tables.ts'
import type { EventMatcher } from '../event-matcher.ts'
import { eventMatcher } from '../event-matcher.ts'
import type { FunnelOptions } from '../grammar/funnel-options.ts'
import type { Step } from '../grammar/steps.ts'
import { eventsWhere } from '../matching-events.ts'
import type { Run } from './reach.ts'
import { ACT_BIT, STEP_BIT, WITHOUT_BIT } from './reach.ts'
import { stepCondition } from './step-condition.ts'

/** Kinds of what nobody does: they never lie "between" two steps. */
const PASSIVE: readonly Kind[] = [
  'leave',
  'scroll',
  'seen',
  'hide',
  'show',
  'out',
  'freeze',
  'variant',
  'rest',
]

/**
 * The kinds that steps are about: what may not lie between two of them that follow directly. An action that the site has
 * named is about what its rule is about, so that it does not matter under which name a step is asked for.
 */
function actKinds(steps: readonly Step[], names: Names): Kind[] {
  const kinds = steps.flatMap((step) => kindsOf(stepCondition(step), names))
  return [...new Set(kinds)]
}

function kindsOf(condition: EventCondition, names: Names): readonly Kind[] {
  const { kinds, action, any, all } = condition
  if (kinds) return kinds
  if (action !== undefined) {
    const rule = names.actions?.get(action)
    return rule ? kindsOf(rule, names) : ['action']
  }
  if (any?.length) return any.flatMap((one) => kindsOf(one, names))
  const narrower = all?.find((one) => one.kinds ?? one.action ?? one.any)
  return narrower ? kindsOf(narrower, names) : KINDS.filter((kind) => !PASSIVE.includes(kind))
}

/** What an event can mean to a funnel, with the bit that says so. */
interface Meaning {
  bit: number
  condition: EventCondition
}

/**
 * What events can mean to a funnel, each bit once: readers of a few sessions take a bit away where its condition does not
 * hold. The list is the same object for the same steps and options, since tables are cached by its identity.
 */
function meaningsOf(steps: readonly Step[], options: FunnelOptions, names: Names): readonly Meaning[] {
  const cached = meaningsKnown.get(steps)
  if (cached?.options === options && cached.actions === names.actions) return cached.meanings
  const meanings: Meaning[] = [
    ...steps.map((step, k) => ({ bit: STEP_BIT(k), condition: stepCondition(step) })),
    ...steps.slice(1).flatMap((_, after) => {
      const events = options.without.filter((one) => one.after === after).map(({ event }) => event)
      if (!events.length) return []
      return { bit: WITHOUT_BIT(after), condition: events.length === 1 ? events[0]! : { any: events } }
    }),
    ...(options.between === 'nothing'
      ? [{ bit: ACT_BIT, condition: { kinds: actKinds(steps, names) } }]
      : []),
  ]
  meaningsKnown.set(steps, { options, actions: names.actions, meanings })
  return meanings
}

const meaningsKnown = new WeakMap<
  readonly Step[],
  { options: FunnelOptions; actions: Names['actions']; meanings: readonly Meaning[] }
>()

/** What each event of a block means; one column for readers of all sessions, one for readers of a few. */
const allMasks = new Scratch((events) => ({ masks: new Uint16Array(events) }))
const fewMasks = new Scratch((events) => ({ masks: new Uint16Array(events) }))

/**
 * Reads sessions of a block as a funnel sees them. A run is valid until the next one is read, and all of them until
 * this is called again.
 * Complexity: the events that mean something, found by the index.
 */
export function runReader(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): (session: number) => Run {
  const masks = allMasks.lend(block.events.count).masks.fill(0, 0, block.events.count)
  for (const { bit, condition } of meaningsOf(steps, options, names))
    for (const { event, ranges } of eventsWhere(block, condition, names))
      for (let r = 0; r < ranges.length; r += 2)
        for (let i = ranges[r]!; i < ranges[r + 1]!; i++) masks[event[i]!]! |= bit
  return runOver(block, masks)
}

/**
 * The same for a few sessions of a block.
 * Complexity: the events of each session that is read.
 */
export function fewRunsReader(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): (session: number) => Run {
  const { kind, page } = block.events
  const { firstEvent } = block.sessions
  const { masks } = fewMasks.lend(block.events.count)
  const meanings = meaningsOf(steps, options, names)
  const { byPage, byKind, open } = tablesOf(meanings, names)
  const tests = meanings.map((): EventMatcher | undefined => undefined)
  const run = runOver(block, masks)
  return (session) => {
    for (let i = firstEvent[session]!; i < firstEvent[session + 1]!; i++) {
      let mask = byPage[page[i]!]! & byKind[kind[i]!]!
      if (mask & open)
        for (const [k, { bit, condition }] of meanings.entries()) {
          if (!(mask & open & bit)) continue
          const test = (tests[k] ??= eventMatcher(block, condition, names))
          if (!test(i)) mask &= ~bit
        }
      masks[i] = mask
    }
    return run(session)
  }
}

interface MeaningTables {
  names: Names
  /** what an event can mean by page code and by kind */
  byPage: Uint16Array
  byKind: Uint16Array
  /** meanings that take more than the right page and kind */
  open: number
}

/** Made once for all blocks of a question. */
function tablesOf(meanings: readonly Meaning[], names: Names): MeaningTables {
  const pages = names.dictionaries.page.values.length
  const cached = tablesKnown.get(meanings)
  if (cached?.names === names && cached.byPage.length === pages) return cached
  const made = { names, byPage: new Uint16Array(pages), byKind: new Uint16Array(256), open: 0 }
  for (const { bit, condition } of meanings) {
    const { kinds, page, ...others } = condition
    const table = page && pageTable(page, names)
    for (let code = 0; code < pages; code++) if (!table || table[code] === 1) made.byPage[code]! |= bit
    for (const kind of KINDS) if (!kinds || kinds.includes(kind)) made.byKind[KIND_CODE[kind]]! |= bit
    if (Object.values(others).some((part) => part !== undefined)) made.open |= bit
  }
  tablesKnown.set(meanings, made)
  return made
}

const tablesKnown = new WeakMap<readonly Meaning[], MeaningTables>()

function runOver({ events, sessions, views }: Block, masks: Uint16Array): (session: number) => Run {
  const run: Run = { from: 0, to: 0, atMs: events.atMs, masks, first: -1 }
  return (session) => {
    run.from = sessions.firstEvent[session]!
    run.to = sessions.firstEvent[session + 1]!
    const view = sessions.firstView[session]!
    run.first = view < sessions.firstView[session + 1]! ? views.event[view]! : -1
    return run
  }
}

/** The last event of a run at a step; undefined where it never was there. */
export function lastAtStep({ from, to, masks }: Run, step: number): number | undefined {
  for (let i = to - 1; i >= from; i--) if (masks[i]! & STEP_BIT(step)) return i
  return undefined
}
