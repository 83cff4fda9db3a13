import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import type { SessionSet } from '../../columns/session-set.ts'
import { SESSION_CLASSES } from '../../events/traffic.ts'
import type { SignalKind } from '../../events/signal-kinds.ts'
import { SIGNAL_KINDS, TECHNICAL_KINDS } from '../../events/signal-kinds.ts'
import { eventWords } from '../../labels/event-words.ts'
import type { Names } from '../../labels/names.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { NO_EVENT } from '../../select/selected-sessions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { addCounts } from '../../stats/counts.ts'
import type { Rate } from '../../stats/rate.ts'
import { countSchema, difference, differenceShape, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

export const ATTRIBUTES = ['device', 'channel', 'browser', 'system', 'country', 'visit'] as const
export type Attribute = (typeof ATTRIBUTES)[number]

interface CloseUpFound {
  everyone: number
  base: number
  selected: number
  /** "attribute/value" -> sessions, among the selected and among everyone */
  who: { selected: Map<string, number>; everyone: Map<string, number> }
  next: Map<string, number>
  previous: Map<string, number>
  /** JSON of [kind, page, selector] -> sessions that met it */
  troubles: { selected: Map<string, number>; everyone: Map<string, number>; texts: Map<string, string> }
}

/** How common something is among the selected and among everyone, and whether the gap is more than noise. */
const contrastShape = {
  selected: rateSchema,
  everyone: rateSchema,
  /** selected minus the rest of everyone, as shares; null where one of the two is empty */
  ...differenceShape,
}
export type Contrast = z.infer<z.ZodObject<typeof contrastShape>>

const neighbourSchema = z.object({ page: z.string().nullable(), rate: rateSchema })

const answerSchema = z.object({
  size: rateSchema.describe('sessions selected, of those the selection could have picked'),
  everyone: countSchema,
  who: z.array(z.object({ attribute: z.enum(ATTRIBUTES), value: z.string(), ...contrastShape })),
  next: z
    .array(neighbourSchema)
    .describe('pages they went to next and came from; null = they left, or entered there'),
  previous: z.array(neighbourSchema),
  troubles: z.array(
    z.object({
      kind: z.enum(SIGNAL_KINDS),
      technical: z.boolean(),
      page: z.string(),
      selector: z.string(),
      text: z.string(),
      ...contrastShape,
    }),
  ),
})
export type CloseUpAnswer = z.infer<typeof answerSchema>

/** Who the selected are, where they came from and went, and what went wrong: everything but the sessions themselves. */
export const closeUp = question({
  name: 'close-up',
  summary: 'who the sessions of a selection are, where they went and what went wrong',
  asked: z.strictObject({
    selection: selectionSchema,
    against: selectionSchema
      .optional()
      .describe('what the selected are held against; none = everyone in the lens'),
  }),
  answer: answerSchema,
  example: { selection: { type: 'everyone' } },
  needs: async ({ selection, against }, { complete }) => ({
    selection: await complete(selection),
    against: await complete(against),
  }),

  scan(block, among, { selection, against, names }) {
    const { sessions, base, event } = selectSessions(block, among, selection, names)
    const everyone = against ? selectSessions(block, among, against, names).sessions.or(sessions) : among
    const found: CloseUpFound = {
      everyone: everyone.count(),
      base: base.count(),
      selected: sessions.count(),
      who: { selected: attributes(block, sessions, names), everyone: attributes(block, everyone, names) },
      next: new Map(),
      previous: new Map(),
      troubles: { selected: new Map(), everyone: new Map(), texts: new Map() },
    }
    for (const s of sessions) {
      if (event[s] === NO_EVENT) continue
      const { next, previous } = neighbours(block, s, event[s]!, names)
      found.next.set(next, (found.next.get(next) ?? 0) + 1)
      found.previous.set(previous, (found.previous.get(previous) ?? 0) + 1)
    }
    for (const s of everyone) {
      const met = troublesOf(block, s, names, found.troubles.texts)
      for (const key of met) {
        found.troubles.everyone.set(key, (found.troubles.everyone.get(key) ?? 0) + 1)
        if (sessions.has(s)) found.troubles.selected.set(key, (found.troubles.selected.get(key) ?? 0) + 1)
      }
    }
    return found
  },

  merge: (a, b) => ({
    everyone: a.everyone + b.everyone,
    base: a.base + b.base,
    selected: a.selected + b.selected,
    who: {
      selected: addCounts(new Map(a.who.selected), b.who.selected),
      everyone: addCounts(new Map(a.who.everyone), b.who.everyone),
    },
    next: addCounts(new Map(a.next), b.next),
    previous: addCounts(new Map(a.previous), b.previous),
    troubles: {
      selected: addCounts(new Map(a.troubles.selected), b.troubles.selected),
      everyone: addCounts(new Map(a.troubles.everyone), b.troubles.everyone),
      texts: firstTexts(a.troubles.texts, b.troubles.texts),
    },
  }),

  finish(total) {
    const contrast = (selected: number, everyone: number): Contrast => {
      const ofSelected = rate(selected, total.selected)
      const ofRest = rate(everyone - selected, total.everyone - total.selected)
      return {
        selected: ofSelected,
        everyone: rate(everyone, total.everyone),
        ...difference(ofSelected, ofRest),
      }
    }
    const who = [...total.who.everyone].map(([key, n]) => {
      const cut = key.indexOf('/')
      return {
        attribute: key.slice(0, cut) as Attribute,
        value: key.slice(cut + 1),
        ...contrast(total.who.selected.get(key) ?? 0, n),
      }
    })
    const troubles = [...total.troubles.selected].map(([key, n]) => {
      const [kind, page, selector] = JSON.parse(key) as [SignalKind, string, string]
      return {
        kind,
        technical: TECHNICAL_KINDS.includes(kind),
        page,
        selector,
        text: total.troubles.texts.get(key) ?? '',
        ...contrast(n, total.troubles.everyone.get(key) ?? n),
      }
    })
    return {
      size: rate(total.selected, total.base),
      everyone: total.everyone,
      who: who.sort(byDifference((row) => `${row.attribute}/${row.value}`)),
      next: pages(total.next, total.selected),
      previous: pages(total.previous, total.selected),
      troubles: troubles.sort(
        (a, b) =>
          b.selected.hits - a.selected.hits ||
          (b.difference ?? 0) - (a.difference ?? 0) ||
          a.selector.localeCompare(b.selector) ||
          a.kind.localeCompare(b.kind) ||
          a.page.localeCompare(b.page),
      ),
    }
  },

  table: ({ who, next, previous, troubles }) => [
    ...who.map((row) => ({ part: 'who', ...row })),
    ...next.map((row) => ({ part: 'next', ...row })),
    ...previous.map((row) => ({ part: 'previous', ...row })),
    ...troubles.map((row) => ({ part: 'went wrong', ...row })),
  ],
})

/** Largest differences first, whichever their sign; ties by name. */
function byDifference<T extends Contrast>(name: (row: T) => string) {
  return (a: T, b: T) =>
    Math.abs(b.difference ?? 0) - Math.abs(a.difference ?? 0) || name(a).localeCompare(name(b))
}

function pages(counts: ReadonlyMap<string, number>, base: number): { page: string | null; rate: Rate }[] {
  return [...counts]
    .map(([page, n]) => ({ page: page || null, rate: rate(n, base) }))
    .sort((a, b) => b.rate.hits - a.rate.hits || (a.page ?? '').localeCompare(b.page ?? ''))
}

function attributes(block: Block, sessions: SessionSet, names: Names): Map<string, number> {
  const counts = new Map<string, number>()
  const { device, channel, browser, os, country, returning } = block.sessions
  const { dictionaries } = names
  const add = (attribute: Attribute, value: string) => {
    const key = `${attribute}/${value || 'not known'}`
    counts.set(key, (counts.get(key) ?? 0) + 1)
  }
  for (const s of sessions) {
    add('device', SESSION_CLASSES[device[s]! - 1] ?? '')
    add('channel', dictionaries.channel.values[channel[s]!]!)
    add('browser', dictionaries.browser.values[browser[s]!]!)
    add('system', dictionaries.os.values[os[s]!]!)
    add('country', dictionaries.country.values[country[s]!]!)
    add('visit', returning[s] ? 'returning' : 'first')
  }
  return counts
}

/** Names of the nearest pages of another group after and before an event; "" for leaving and for entering there. */
function neighbours(
  { events, sessions, views }: Block,
  session: number,
  event: number,
  { groups }: Names,
): { next: string; previous: string } {
  const { groupOf } = groups
  const from = sessions.firstView[session]!
  const to = sessions.firstView[session + 1]!
  const group = groupOf[events.page[event]!]!
  const elsewhere = (view: number) => groupOf[views.page[view]!] !== group
  let next = from
  while (next < to && (views.event[next]! <= event || !elsewhere(next))) next++
  let previous = to - 1
  while (previous >= from && (views.event[previous]! >= event || !elsewhere(previous))) previous--
  const name = (view: number) => (view >= from && view < to ? groups.names[groupOf[views.page[view]!]!]! : '')
  return { next: name(next), previous: name(previous) }
}

/** Of several texts of one element the first in the alphabet is shown, so that the order of blocks does not matter. */
function noteText(texts: Map<string, string>, key: string, text: string): void {
  const counted = texts.get(key)
  if (!counted || (text !== '' && text < counted)) texts.set(key, text)
}

function firstTexts(a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>): Map<string, string> {
  const all = new Map(a)
  for (const [key, text] of b) noteText(all, key, text)
  return all
}

function troublesOf(block: Block, session: number, names: Names, texts: Map<string, string>): Set<string> {
  const met = new Set<string>()
  const { signals, events } = block
  for (let i = block.sessions.firstSignal[session]!; i < block.sessions.firstSignal[session + 1]!; i++) {
    const kind = SIGNAL_KINDS[signals.kind[i]!]!
    const event = signals.event[i]!
    const page = names.groups.names[names.groups.groupOf[events.page[event]!]!]!
    const key = JSON.stringify([
      kind,
      page,
      names.families.names[names.families.familyOf[events.target[event]!]!]!,
    ])
    noteText(texts, key, eventWords(block, event, names.dictionaries))
    met.add(key)
  }
  return met
}
