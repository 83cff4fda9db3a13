import { z } from 'zod'
import type { Block } from '../events/columns.ts'
import { FRICTION, KIND } from '../events/columns.ts'
import { viewsOf } from '../events/view-index.ts'
import { DEFAULT_OPTIONS, funnelOptionsSchema } from '../funnel/options.ts'
import { LEAK_KINDS, sessionTracer } from '../funnel/trace.ts'
import type { Names } from '../funnel/trace.ts'
import { stepsSchema } from '../funnel/spec.ts'
import { SIGNAL_KINDS } from '../signals/detect.ts'
import { SessionSet } from '../sets/session-set.ts'

export const CLICK_SORTS = ['all', 'rage', 'dead'] as const
export type ClickSort = (typeof CLICK_SORTS)[number]

/** Anything on a screen that can be opened: a condition that picks sessions and, in each, a moment. */
export const selectionSchema = z.discriminatedUnion('type', [
  z.object({
    type: z.literal('funnel'),
    steps: stepsSchema,
    options: funnelOptionsSchema.optional(),
    step: z.number().int().min(0),
    side: z.enum(['reached', 'continued', 'dropped']),
    leak: z.enum(LEAK_KINDS).optional(),
    /** only those who went to this page instead; null: to none */
    page: z.string().nullable().optional(),
  }),
  z.object({
    type: z.literal('clicks'),
    page: z.string(),
    which: z.enum(CLICK_SORTS),
    selector: z.string().optional(),
    text: z.string().optional(),
  }),
  z.object({
    type: z.literal('signal'),
    kind: z.enum(SIGNAL_KINDS),
    page: z.string(),
    selector: z.string(),
    text: z.string().optional(),
  }),
  z.object({ type: z.literal('page'), page: z.string() }),
  z.object({ type: z.literal('everyone') }),
])
export type Selection = z.infer<typeof selectionSchema>

export interface SelectedSessions {
  sessions: SessionSet
  /** what the selection is a share of */
  base: SessionSet
  /** the moment in each selected session, in milliseconds since its start; NaN where there is none */
  momentMs: Float64Array
}

/** Picks, among the given sessions of a block, those that a selection means. */
export function selectSessions(
  block: Block,
  among: SessionSet,
  selection: Selection,
  names: Names,
): SelectedSessions {
  switch (selection.type) {
    case 'funnel':
      return selectFunnel(block, among, selection, names)
    case 'clicks':
      return selectClicks(block, among, selection, names)
    case 'signal':
      return selectSignal(block, among, selection, names)
    case 'page': {
      const viewed = viewers(block, among, selection.page, names)
      return { ...viewed, base: among }
    }
    case 'everyone':
      return { sessions: among, base: among, momentMs: noMoments(block) }
  }
}

function selectFunnel(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'funnel' }>,
  names: Names,
): SelectedSessions {
  const { steps, options = DEFAULT_OPTIONS, step, side, leak, page } = selection
  const traceOf = sessionTracer(block, steps, options, names)
  const chosen = empty(block)
  const toGroup = page === undefined ? undefined : page === null ? 0 : names.groups.find(page)
  for (const s of among) {
    const trace = traceOf(s)
    if (trace.reached.length <= step) continue
    chosen.base.add(s)
    const dropped = trace.reached.length === step + 1 ? trace.lost : undefined
    let event = trace.reached[step]!
    if (side === 'continued' && trace.reached.length < step + 2) continue
    if (side === 'dropped') {
      if (!dropped) continue
      if (leak !== undefined && dropped.leak.kind !== leak) continue
      if (toGroup !== undefined && dropped.leak.toGroup !== toGroup) continue
      event = dropped.event
    }
    chosen.sessions.add(s)
    chosen.momentMs[s] = block.events.atMs[event]!
  }
  return chosen
}

function selectClicks(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'clicks' }>,
  names: Names,
): SelectedSessions {
  const group = names.groups.find(selection.page)
  const family = selection.selector === undefined ? undefined : names.families.find(selection.selector)
  const chosen = empty(block)
  chosen.base = viewers(block, among, selection.page, names).sessions
  const { kind, page, target, friction, atMs } = block.events
  const bit = selection.which === 'all' ? 0 : FRICTION[selection.which]
  for (const s of among)
    for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
      if (kind[i] !== KIND.click || names.groups.groupOf[page[i]!] !== group) continue
      if (family !== undefined && names.families.familyOf[target[i]!] !== family) continue
      if (bit && !(friction[i]! & bit)) continue
      chosen.sessions.add(s)
      chosen.base.add(s)
      chosen.momentMs[s] = atMs[i]!
      break
    }
  return chosen
}

function selectSignal(
  block: Block,
  among: SessionSet,
  selection: Extract<Selection, { type: 'signal' }>,
  names: Names,
): SelectedSessions {
  const group = names.groups.find(selection.page)
  const family = names.families.find(selection.selector)
  const kind = SIGNAL_KINDS.indexOf(selection.kind)
  const chosen = empty(block)
  chosen.base = viewers(block, among, selection.page, names).sessions
  const { signals } = block
  for (const s of among)
    for (let i = block.sessions.firstSignal[s]!; i < block.sessions.firstSignal[s + 1]!; i++)
      if (
        signals.kind[i] === kind &&
        names.families.familyOf[signals.target[i]!] === family &&
        names.groups.groupOf[signals.page[i]!] === group
      ) {
        chosen.sessions.add(s)
        chosen.base.add(s)
        chosen.momentMs[s] = signals.atMs[i]!
        break
      }
  return chosen
}

/** Sessions with a view of the page, the moment being the first of them. */
function viewers(block: Block, among: SessionSet, pageName: string, names: Names): SelectedSessions {
  const group = names.groups.find(pageName)
  const chosen = empty(block)
  const { atMs } = block.events
  const { event, session } = viewsOf(block, (page) => names.groups.groupOf[page] === group)
  for (let k = 0; k < event.length; k++) {
    const s = session[k]!
    if (!among.has(s) || chosen.sessions.has(s)) continue
    chosen.sessions.add(s)
    chosen.momentMs[s] = atMs[event[k]!]!
  }
  return chosen
}

function empty(block: Block): SelectedSessions {
  const { count } = block.sessions
  return { sessions: new SessionSet(count), base: new SessionSet(count), momentMs: noMoments(block) }
}

function noMoments(block: Block): Float64Array {
  return new Float64Array(block.sessions.count).fill(NaN)
}
