import { eventMatcher, pageTable, passing, targetTable } from '../conditions/events.ts'
import type { EventMatcher } from '../conditions/events.ts'
import type { EventCondition } from '../conditions/schema.ts'
import type { Block } from '../events/columns.ts'
import type { Kind } from '../events/line.ts'
import { KINDS } from '../events/line.ts'
import { KIND } from '../events/loose.ts'
import type { FunnelOptions } from './options.ts'
import { ACT_BIT, FIRST_BIT, STEP_BIT, WITHOUT_BIT } from './reach.ts'
import type { Step } from './spec.ts'
import type { Names } from './trace.ts'

/** The events of a session that mean something to a funnel, each with what it means: see reachedChain. */
export interface Run {
  /** how many there are; the columns may be longer */
  length: number
  /** index of the event in the block */
  events: Uint32Array
  /** milliseconds since the start of the session */
  atMs: Float64Array
  masks: Uint32Array
}

/** Something that an event may mean to a funnel. */
interface Meaning {
  bit: number
  kinds: readonly Kind[] | undefined
  /** tables by code; an event means it where all of them say 1 */
  page: Uint8Array[]
  target: Uint8Array[]
  text: Uint8Array[]
  name: Uint8Array[]
  /** what no table can say */
  rest: EventCondition | undefined
}

const CODED = ['page', 'target', 'text', 'name'] as const
type Coded = (typeof CODED)[number]

/** All meanings at once: what an event can mean by its kind, and by each of its codes. */
interface Tables {
  /** bits that an event of the kind may have; those of `always` it has in any case */
  kinds: Uint32Array
  always: Uint32Array
  columns: Partial<Record<Coded, Uint32Array>>
  rest: { bit: number; condition: EventCondition }[]
  viewsOnly: boolean
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

function stepMeaning(step: Step, bit: number, names: Names): Meaning {
  if (step.type === 'event') return meaningOf(step.event, bit, names)
  const meaning = meaningOf({ kinds: [step.type] }, bit, names)
  const { groups, families } = names
  if (step.page !== undefined) meaning.page.push(equalTo(groups.groupOf, groups.find(step.page)))
  if (step.type === 'click') meaning.target.push(equalTo(families.familyOf, families.find(step.selector)))
  return meaning
}

function equalTo(of: Uint32Array, wanted: number): Uint8Array {
  return Uint8Array.from(of, (value) => (value === wanted ? 1 : 0))
}

function meaningOf(condition: EventCondition, bit: number, names: Names): Meaning {
  const { kinds, page, path, element, text, name, ...others } = condition
  const { dictionaries } = names
  return {
    bit,
    kinds,
    page: [
      ...(page ? [pageTable(page, names)] : []),
      ...(path ? [passing(dictionaries.page.values, path)] : []),
    ],
    target: element ? [targetTable(element, names)] : [],
    text: text ? [passing(dictionaries.text.values, text)] : [],
    name: name ? [passing(dictionaries.name.values, name)] : [],
    rest: Object.values(others).some((part) => part !== undefined) ? others : undefined,
  }
}

function tablesOf(steps: readonly Step[], options: FunnelOptions, names: Names): Tables {
  const meanings = [
    ...steps.map((step, k) => stepMeaning(step, STEP_BIT(k), names)),
    ...steps.slice(0, -1).flatMap((_, after) => {
      const events = options.without.filter((one) => one.after === after).map(({ event }) => event)
      if (!events.length) return []
      return [meaningOf(events.length === 1 ? events[0]! : { any: events }, WITHOUT_BIT(after), names)]
    }),
  ]
  const kinds = new Uint32Array(256)
  const always = new Uint32Array(256)
  for (const { bit, kinds: own = KINDS } of meanings) for (const kind of own) kinds[KIND[kind]]! |= bit
  if (options.between === 'nothing') for (const kind of actKinds(steps)) always[KIND[kind]]! |= ACT_BIT
  if (options.entry === 'first') always[KIND.page]! |= FIRST_BIT
  const columns: Tables['columns'] = {}
  for (const column of CODED) {
    const size = names.dictionaries[column].size
    for (const meaning of meanings)
      for (const table of meaning[column]) {
        const bits = (columns[column] ??= new Uint32Array(size).fill(0xffff_ffff))
        for (let code = 0; code < size; code++) if (table[code] !== 1) bits[code]! &= ~meaning.bit
      }
  }
  return {
    kinds,
    always,
    columns,
    rest: meanings.flatMap(({ bit, rest }) => (rest ? [{ bit, condition: rest }] : [])),
    viewsOnly: KINDS.every((kind) => kind === 'page' || (!kinds[KIND[kind]] && !always[KIND[kind]])),
  }
}

/** Tables of the question that is being answered: all blocks share them. */
const known = new WeakMap<
  readonly Step[],
  { options: FunnelOptions; names: Names; sizes: string; tables: Tables }
>()

function sharedTables(steps: readonly Step[], options: FunnelOptions, names: Names): Tables {
  const sizes = CODED.map((column) => names.dictionaries[column].size).join()
  let held = known.get(steps)
  if (held?.options !== options || held.names !== names || held.sizes !== sizes)
    known.set(steps, (held = { options, names, sizes, tables: tablesOf(steps, options, names) }))
  return held.tables
}

/**
 * Reads sessions of a block as a funnel sees them. Each run is good until the next one is read.
 * Complexity: events of the session, or page views where steps and options are about these alone.
 */
export function runReader(
  block: Block,
  steps: readonly Step[],
  options: FunnelOptions,
  names: Names,
): (session: number) => Run {
  const { kinds, always, columns, rest, viewsOnly } = sharedTables(steps, options, names)
  const { events, sessions, views } = block
  const { kind, atMs } = events
  const tests = rest.map(({ bit, condition }): { bit: number; test: EventMatcher } => ({
    bit,
    test: eventMatcher(block, condition, names),
  }))
  const tested = tests.reduce((bits, { bit }) => bits | bit, 0)
  const coded = CODED.flatMap((column) => {
    const table = columns[column]
    return table && column !== 'page' ? [{ codes: events[column], table }] : []
  })
  const pages = columns.page
  const run: Run = {
    length: 0,
    events: new Uint32Array(64),
    atMs: new Float64Array(64),
    masks: new Uint32Array(64),
  }

  /** What an event means, besides being the first page view. */
  const maskOf = (i: number): number => {
    const of = kind[i]!
    let may = kinds[of]!
    if (may !== 0 && pages) may &= pages[events.page[i]!]!
    for (let c = 0; may !== 0 && c < coded.length; c++) may &= coded[c]!.table[coded[c]!.codes[i]!]!
    if (may & tested) for (const { bit, test } of tests) if (may & bit && !test(i)) may &= ~bit
    return may | always[of]!
  }

  if (viewsOnly && !coded.length)
    return (session) => {
      run.length = 0
      const from = sessions.firstView[session]!
      const to = sessions.firstView[session + 1]!
      const may = kinds[KIND.page]!
      const must = always[KIND.page]!
      for (let v = from; v < to; v++) {
        let mask = pages ? may & pages[views.page[v]!]! : may
        if (mask & tested)
          for (const { bit, test } of tests) if (mask & bit && !test(views.event[v]!)) mask &= ~bit
        mask |= v === from ? must : must & ~FIRST_BIT
        if (mask !== 0) put(run, views.event[v]!, atMs[views.event[v]!]!, mask)
      }
      return run
    }
  return (session) => {
    run.length = 0
    let seenPage = false
    const to = sessions.firstEvent[session + 1]!
    for (let i = sessions.firstEvent[session]!; i < to; i++) {
      if (kinds[kind[i]!]! === 0 && always[kind[i]!]! === 0) continue
      let mask = maskOf(i)
      if (kind[i] === KIND.page) {
        if (seenPage) mask &= ~FIRST_BIT
        seenPage = true
      }
      if (mask !== 0) put(run, i, atMs[i]!, mask)
    }
    return run
  }
}

function put(run: Run, event: number, ms: number, mask: number): void {
  const at = run.length++
  if (at === run.events.length) {
    const events = new Uint32Array(2 * at)
    events.set(run.events)
    const atMs = new Float64Array(2 * at)
    atMs.set(run.atMs)
    const masks = new Uint32Array(2 * at)
    masks.set(run.masks)
    Object.assign(run, { events, atMs, masks })
  }
  run.events[at] = event
  run.atMs[at] = ms
  run.masks[at] = mask
}

/** The last event of a run at a step; undefined where it never was there. */
export function lastAtStep({ length, events, masks }: Run, step: number): number | undefined {
  for (let position = length - 1; position >= 0; position--)
    if (masks[position]! & STEP_BIT(step)) return events[position]!
  return undefined
}
