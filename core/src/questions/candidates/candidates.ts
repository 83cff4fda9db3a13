import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { KIND_CODE } from '../../columns/event-codes.ts'
import type { Steps } from '../../columns/scan.ts'
import { atOnce } from '../../columns/scan.ts'
import { firstText } from '../../labels/first-text.ts'
import { fromParts, toParts } from '../../labels/money.ts'
import { sessionCount } from '../../select/session-count.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { goalAmounts, goalEvents, goalGroup, goalMs, mainGoal } from '../../select/goal-times.ts'
import { amountReader } from '../../select/amounts.ts'
import { eValue } from '../../stats/e-value.ts'
import { countSchema } from '../../stats/rate.ts'
import type { Context } from '../question.ts'
import { question } from '../question.ts'
import { CAUSES } from './cases.ts'
import type { Priced } from './designs.ts'
import { DESIGNS } from './designs.ts'
import type { Growing, Journeys } from './journeys.ts'
import { addJourney, inOrder, joinJourneys, noJourneys, packJourneys } from './journeys.ts'
import type { Estimate } from './estimate.ts'
import { priceInSteps } from './price-all.ts'
import type { Ranked } from './rank.ts'
import { WIDTH } from './rank.ts'
import { HOW_MUCH, inWords, sessionsThatDidNot, sessionsThatMet, WHETHER } from './words.ts'

/** With more sessions, those of some visitors stand for all: prices get no better, and a million take minutes. */
const MOST_SESSIONS = 100_000
const MOST_LISTED = 50
const MOST_UNPRICED = 10
const PER_DAYS = 30
const DAY_MS = 86_400_000

interface CandidatesFound {
  growing: Growing | undefined
  packed: Journeys | undefined
  /** by family the first text of its elements */
  texts: Map<number, string>
  /** what actions of sessions that converted were worth, in parts: see labels/money.ts */
  parts: number
  valued: number
}

const priceSchema = z.object({ value: z.number(), low: z.number(), high: z.number() })

const answerSchema = z.object({
  sessions: countSchema,
  looked: countSchema.describe('sessions that were looked at: all, or all of some visitors'),
  conversions: countSchema.describe('of the sessions that were looked at'),
  days: z.number().describe('over which they lie, by the middle 99 % of them: a few stray ones tell nothing'),
  considered: countSchema.describe('candidates that enough sessions met'),
  unpriced: z
    .array(
      z.object({
        page: z.string(),
        selector: z.string(),
        text: z.string(),
        kind: z.enum(CAUSES),
        name: z.string(),
        sessions: countSchema.describe('that met it, of those that were looked at'),
        met: selectionSchema,
      }),
    )
    .describe('what befalls everybody alike: reach without a price, since there is nobody to compare with'),
  candidates: z.array(
    z.object({
      rank: countSchema,
      page: z.string(),
      pattern: z.string().describe('path pattern of the page group'),
      selector: z.string().describe('"" where it befalls the page'),
      text: z.string(),
      kind: z.enum(CAUSES),
      near: z.boolean().describe('clicks just beside a control that was used as well'),
      name: z
        .string()
        .describe(
          'words of an error or signal that has no element; of a shuttle without a link, where it leads',
        ),
      technical: z.boolean(),
      price: priceSchema.describe('conversions lost per 30 days, with its 95 % interval'),
      money: priceSchema
        .nullable()
        .describe(
          'the same in the currency of the site, at what a conversion is worth on average; null where that is not known',
        ),
      likely: z
        .number()
        .describe(
          'best guess per 30 days, given that most candidates cost nothing: what the list is ranked by',
        ),
      sure: z.number().describe('chance that it costs anything'),
      confident: z.boolean(),
      met: selectionSchema.describe('the sessions that met it, as near as conditions come'),
      others: selectionSchema.describe('the sessions that viewed the page and did not'),
      whether: z.enum(WHETHER).describe('how sure it is that it costs anything'),
      howMuch: z.enum(HOW_MUCH).describe('how well the price is known'),
      design: z.enum(DESIGNS),
      compared: z.string().describe('what was compared with what'),
      exposed: countSchema.describe('sessions that met it, of those that were looked at'),
      controls: countSchema.describe('what they were compared with'),
      expected: z.number().describe('share that would have carried on without it'),
      carriedOn: z.number().describe('share that did'),
      worth: z.number().describe('conversions that carrying on is worth'),
      plain: priceSchema.describe('the same price by conversions alone, whatever carrying on says'),
      agree: z.boolean().describe('whether both prices agree within chance'),
      eValue: z
        .number()
        .nullable()
        .describe('how much a hidden cause would have to do to explain it: VanderWeele and Ding 2017'),
      moreSessions: z
        .number()
        .nullable()
        .describe('sessions more in the lens until it could be told; null where it can be'),
    }),
  ),
})
export type CandidatesAnswer = z.output<typeof answerSchema>
export type Candidate = CandidatesAnswer['candidates'][number]

/** Which problems cost conversions, and how many: found in the data of the lens and priced. @see docs/pricing.md */
export const candidates = question({
  name: 'candidates',
  summary:
    'what to repair first: problems found in the data, with what each costs per 30 days, and how sure that is',
  asked: z.strictObject({}),
  answer: answerSchema,
  example: {},
  needs: async (_asked, { ask }) => ({
    sessions: await ask(sessionCount, {}),
  }),

  adds: true,
  scan(block, sessions, spec, onto): CandidatesFound {
    const { names, sessions: all } = spec
    const found: CandidatesFound = onto ?? {
      ...{ growing: noJourneys(), packed: undefined, texts: new Map<number, string>() },
      ...{ parts: 0, valued: 0 },
    }
    const wonFirst = goalMs(block, spec, 'first')
    const worth = goalWorth(block, spec)
    const { familyOf } = names.families
    const { values } = names.dictionaries.text
    const amount = amountReader(block, names)
    const { events } = block
    const kept = MOST_SESSIONS / all
    for (const s of sessions) {
      if (kept < 1 && shareOf(block.sessions.visitor[s]!) >= kept) continue
      const wonMs = wonFirst(s)
      addJourney(block, s, names, wonMs, found.growing!)
      const won = !Number.isNaN(wonMs)
      let parts = won && worth ? worth(s) : 0
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        const kind = events.kind[i]!
        if (won && !worth && kind === KIND_CODE.action) parts += toParts(amount(i)) || 0
        if (kind !== KIND_CODE.click && kind !== KIND_CODE.input) continue
        const family = familyOf[events.target[i]!]!
        found.texts.set(family, firstText(found.texts.get(family) ?? '', values[events.text[i]!]!))
      }
      if (parts > 0) {
        found.parts += parts
        found.valued++
      }
    }
    return found
  },

  pack: (found) => ({ ...found, growing: undefined, packed: packedOf(found) }),

  merge(a, b) {
    for (const [family, text] of b.texts) a.texts.set(family, firstText(a.texts.get(family) ?? '', text))
    return {
      ...{ growing: undefined, packed: joinJourneys(packedOf(a), packedOf(b)), texts: a.texts },
      parts: a.parts + b.parts,
      valued: a.valued + b.valued,
    }
  },

  finish: (found, spec) => atOnce(inSteps(found, spec)),
  finishInSteps: inSteps,

  table: ({ candidates: rows }) => rows.map(({ met: _met, others: _others, ...row }) => row),
})

/** What a session that reached the main goal is worth by its value, in parts; undefined where the goal names none. */
function goalWorth(block: Block, spec: Context): ((session: number) => number) | undefined {
  const goal = mainGoal(spec)
  if (goal?.value === undefined || goal.value === null) return undefined
  const { value } = goal
  if (value !== 'event') return () => toParts(value)
  const amount = goalAmounts(block, spec.names)
  const events = goalEvents(block, goal, spec.names)
  return (s) => {
    let parts = 0
    events(s, (event) => (parts += toParts(amount(event)) || 0))
    return parts
  }
}

function* inSteps(
  found: CandidatesFound,
  spec: Context & { sessions: number },
): Steps<z.input<typeof answerSchema>> {
  const { names, sessions: all } = spec
  const { groups, families, dictionaries } = names
  const journeys = inOrder(packedOf(found))
  const looked = journeys.sessions.id.length
  const { ranked, conversions, considered, unpriced, nameOf, membersOf } = yield* priceInSteps(journeys, {
    groups: groups.names.length,
    goalGroup: goalGroup(spec),
    families: families.names,
  })
  const days = daysOf(journeys.sessions.startMs)
  const scale = looked ? ((PER_DAYS / days) * all) / looked : 0
  const each = found.valued ? fromParts(found.parts) / found.valued : null
  const placeOf = ({ cause, group, family, name, to }: Priced['trouble']) => {
    const page = groups.names[group]!
    const selector = nameOf(family)
    const members = [...membersOf(family)].map((one) => families.names[one]!)
    const sentTo = to === undefined ? undefined : groups.names[to]!
    return {
      ...{ page, selector, met: sessionsThatMet(cause, page, selector, members, sentTo) },
      name: sentTo ?? dictionaries.name.values[name]!,
    }
  }
  const textOf = (family: number) => {
    for (const member of membersOf(family)) if (found.texts.get(member)) return found.texts.get(member)!
    return ''
  }
  return {
    ...{ sessions: all, looked, conversions, days, considered },
    unpriced: unpriced.slice(0, MOST_UNPRICED).map((one) => ({
      ...placeOf(one),
      ...{ text: textOf(one.family), kind: one.cause, sessions: one.sessions },
    })),
    candidates: ranked.slice(0, MOST_LISTED).map((one, i) => {
      const price = scaled(one.price, scale, one.beyond)
      const { page, selector, name, met } = placeOf(one.trouble)
      return {
        rank: i + 1,
        page,
        pattern: groups.patterns[one.trouble.group]!,
        selector,
        text: textOf(one.trouble.family),
        kind: one.trouble.cause,
        near: one.near,
        name,
        price,
        money: each === null ? null : scaled(one.price, scale * each, one.beyond),
        likely: one.likely * scale,
        ...{ sure: one.sure, confident: one.confident, design: one.design, agree: one.agree },
        ...{ met, others: sessionsThatDidNot(met, page), exposed: one.exposed, controls: one.controls },
        ...{ expected: one.expected, carriedOn: one.carriedOn },
        worth: one.worth,
        plain: scaled(one.missing, scale),
        eValue: evidence(one),
        moreSessions: one.sure > 0.95 ? null : moreNeeded(one, all),
        ...inWords(one),
      }
    }),
  }
}

function packedOf({ growing, packed }: CandidatesFound): Journeys {
  return packed ?? packJourneys(growing!)
}

/** From 0 to below 1 by visitor, spread evenly. */
function shareOf(visitor: number): number {
  let h = Math.imul(visitor + 1, 0x9e3779b1)
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b)
  return ((h ^ (h >>> 13)) >>> 0) / 4_294_967_296
}

/** Days over which sessions lie; at least one. */
function daysOf(startMs: Float64Array): number {
  const n = startMs.length
  if (!n) return 0
  const [first, last] = [startMs[Math.floor(STRAY * n)]!, startMs[Math.ceil((1 - STRAY) * n) - 1]!]
  return Math.max(1, (last - first) / (1 - 2 * STRAY) / DAY_MS)
}
/** Of the sessions at each end: an old file that was imported must not make the period long. */
const STRAY = 0.005

/** @param beyond  how far it may lie above all that, for another reason */
function scaled({ value, sd }: Estimate, by: number, beyond = 0) {
  const half = Number.isFinite(sd) ? WIDTH * sd : Math.abs(value)
  return { value: value * by, low: (value - half) * by, high: (value + Math.hypot(half, beyond)) * by }
}

/** Of the chance not to carry on; null where the trouble does not raise it. */
function evidence({ expected, carriedOn }: Ranked): number | null {
  const [without, withIt] = [1 - expected, 1 - carriedOn]
  return withIt > without && without > 0 ? eValue(withIt / without) : null
}

/** Until the price stands two deviations above nothing, if it stays as it is. */
function moreNeeded({ price }: Ranked, sessions: number): number | null {
  if (price.value <= 0) return null
  return Math.max(0, Math.ceil(sessions * (((2 * price.sd) / price.value) ** 2 - 1)))
}
