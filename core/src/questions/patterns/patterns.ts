import { z } from 'zod'
import { LEVELS, tokenReader, Tokens, tokenSchema } from '../../labels/tokens.ts'
import type { Token } from '../../labels/tokens.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { eachToken } from '../../select/pattern-sessions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { differenceShape, countSchema, difference, rate, rateSchema } from '../../stats/rate.ts'
import { benjaminiHochberg, twoProportions } from '../../stats/significance.ts'
import type { SpecOf } from '../question.ts'
import { question } from '../question.ts'
import type { MinedPattern } from './prefix-span.ts'
import { closedPatterns, minePatterns } from './prefix-span.ts'

/** More than these are not mined: whoever gets there asks for a higher support. */
const MOST_MINED = 100_000

/** So many sessions are mined by several threads. */
const WORTH_CUTTING = 2000

interface PatternsFound {
  tokens: Token[]
  /** one after the other; a sequence ends where the next begins */
  items: Uint32Array[]
  lengths: Uint32Array[]
  inA: Uint8Array[]
  /** the part of the patterns that is to be mined of all these, once the work is divided */
  part?: { k: number; of: number } | undefined
  /** in place of the sequences, once they are mined: items are places in the tokens by name */
  mined?: Mined | undefined
}

interface Mined {
  sessions: number
  against: number
  patterns: MinedPattern[]
  complete: boolean
}

const asked = z.strictObject({
  selection: selectionSchema,
  against: selectionSchema
    .optional()
    .describe('what it is held against, without those of the selection; left out: all others in the lens'),
  level: z.enum(LEVELS).default('page').describe('how finely events are told apart'),
  support: z
    .number()
    .min(0.001)
    .max(1)
    .default(0.05)
    .describe('share of the sessions of one of the two sets that hold a pattern'),
  shortest: z.number().int().min(1).max(10).default(2).describe('things in a pattern at least'),
  longest: z.number().int().min(1).max(10).default(6).describe('things in a pattern at most'),
  gap: z
    .number()
    .int()
    .min(0)
    .max(100)
    .nullable()
    .default(null)
    .describe('other things that may lie between one and the next; null = any number'),
  closed: z.boolean().default(true).describe('only those that no longer one with the same sessions contains'),
  order: z
    .enum(['support', 'difference'])
    .default('support')
    .describe('those that most hold first, or those that tell the two apart most'),
  most: z.number().int().min(1).max(5000).default(200),
})

const answerSchema = z.object({
  sessions: countSchema,
  against: countSchema,
  complete: z.boolean().describe('false: there are more than could be looked at; ask for a higher support'),
  patterns: z.array(
    z.object({
      tokens: z.array(tokenSchema).describe('one after the other'),
      selected: rateSchema.describe('sessions of the selection that hold it'),
      against: rateSchema.describe('of the others'),
      ...differenceShape,
      p: z.number().nullable().describe('two-sided, corrected for all patterns (Benjamini and Hochberg)'),
    }),
  ),
  more: countSchema.describe('patterns that are not listed'),
})
export type PatternsAnswer = z.infer<typeof answerSchema>
export type PatternRow = PatternsAnswer['patterns'][number]

/** What many of a set do in the same order, and by which of it two sets can be told apart. See prefix-span.ts. */
export const patterns = question({
  name: 'patterns',
  summary: 'what many sessions do in the same order, and what tells two sets of sessions apart',
  asked,
  answer: answerSchema,
  example: { selection: { type: 'everyone' }, support: 0.2 },
  needs: async ({ selection, against }, { complete }) => ({
    selection: await complete(selection),
    against: await complete(against),
  }),

  scan(block, among, { selection, against, level, names }): PatternsFound {
    const { sessions } = selectSessions(block, among, selection, names)
    const others = (against ? selectSessions(block, among, against, names).sessions : among).without(sessions)
    const tokens = new Tokens()
    const read = tokenReader(block, level, names, tokens)
    const items: number[] = []
    const lengths: number[] = []
    const inA: number[] = []
    const add = (s: number, selected: number) => {
      const before = items.length
      eachToken(block, s, read, (token) => items.push(token))
      lengths.push(items.length - before)
      inA.push(selected)
    }
    sessions.forEach((s) => add(s, 1))
    others.forEach((s) => add(s, 0))
    return {
      tokens: tokens.list,
      items: [Uint32Array.from(items)],
      lengths: [Uint32Array.from(lengths)],
      inA: [Uint8Array.from(inA)],
    }
  },

  merge(a, b) {
    const tokens = new Tokens()
    for (const token of a.tokens) tokens.of(token)
    const moved = b.tokens.map((token) => tokens.of(token))
    return {
      ...a,
      tokens: tokens.list,
      items: [...a.items, ...b.items.map((items) => items.map((item) => moved[item]!))],
      lengths: [...a.lengths, ...b.lengths],
      inA: [...a.inA, ...b.inA],
    }
  },

  // Each thread mines the patterns that begin with some of the items, in the sequences of all: lists of columns are copied
  // on their way, so that all parts may hold the same ones.
  parts: {
    cuts({ lengths }, count) {
      const sequences = lengths.reduce((sum, { length }) => sum + length, 0)
      return sequences < WORTH_CUTTING ? undefined : Array.from({ length: count - 1 }, (_, k) => k + 1)
    },
    split: (found, cuts) => [0, ...cuts].map((k) => ({ ...found, part: { k, of: cuts.length + 1 } })),
    finishPart: (found, spec) => ({
      ...{ tokens: found.tokens, items: [], lengths: [], inA: [] },
      mined: mined(found, spec),
    }),
    join(parts) {
      const patterns = parts.flatMap((part) => part.mined!.patterns).sort(byItems)
      return {
        ...parts[0]!,
        mined: {
          ...parts[0]!.mined!,
          patterns: patterns.slice(0, MOST_MINED),
          complete: patterns.length <= MOST_MINED && parts.every((part) => part.mined!.complete),
        },
      }
    },
  },

  finish(found, spec) {
    const { shortest, closed, order, most } = spec
    const { sessions, against, patterns: all, complete } = found.mined ?? mined(found, spec)
    const tokens = byName(found.tokens).map((token) => found.tokens[token]!)
    const kept = (closed ? closedPatterns(all) : all).filter(({ items }) => items.length >= shortest)
    const ps = benjaminiHochberg(kept.map(({ a, b }) => twoProportions(a, sessions, b, against)))
    const rows = kept.map(({ items, a, b }, k) => {
      const [selected, others] = [rate(a, sessions), rate(b, against)]
      const own = { tokens: items.map((item) => tokens[item]!), selected, against: others }
      return { ...own, ...difference(selected, others), p: ps[k]! }
    })
    const size = ({ difference: apart }: { difference: number | null }) => Math.abs(apart ?? 0)
    rows.sort(
      (a, b) =>
        (order === 'difference' ? size(b) - size(a) : 0) ||
        b.selected.hits - a.selected.hits ||
        b.tokens.length - a.tokens.length ||
        (a.tokens.map(nameOf).join() < b.tokens.map(nameOf).join() ? -1 : 1),
    )
    return {
      ...{ sessions, against, complete, patterns: rows.slice(0, most) },
      more: Math.max(0, rows.length - most),
    }
  },

  table: ({ patterns: rows }) =>
    rows.map(({ tokens, ...row }) => ({ pattern: tokens.map(nameOf).join(' > '), ...row })),
})

/** Numbers of tokens follow the order of blocks, which is another one in each thread: what they are decides instead. */
function byName(tokens: readonly Token[]): number[] {
  const names = tokens.map(({ kind, page, what }) => [kind, page, what].join('\n'))
  return tokens.map((_, k) => k).sort((a, b) => (names[a]! < names[b]! ? -1 : 1))
}

/** The frequent patterns of what was found, or of one part of them. */
function mined(
  { tokens, part, ...found }: PatternsFound,
  { support, longest, gap }: Pick<SpecOf<typeof asked>, 'support' | 'longest' | 'gap'>,
): Mined {
  const place = new Uint32Array(tokens.length)
  byName(tokens).forEach((token, k) => (place[token] = k))
  const lengths = joined(found.lengths, Uint32Array)
  const first = new Uint32Array(lengths.length + 1)
  lengths.forEach((length, k) => (first[k + 1] = first[k]! + length))
  const inA = joined(found.inA, Uint8Array)
  const sessions = inA.reduce((sum, one) => sum + one, 0)
  const against = inA.length - sessions
  const items = joined(found.items, Uint32Array).map((item) => place[item]!)
  const { patterns, complete } = minePatterns({ items, first }, inA, {
    least: [Math.ceil(support * sessions), Math.ceil(support * against)],
    ...{ longest, gap: gap ?? Infinity, most: MOST_MINED, part },
  })
  return { sessions, against, patterns, complete }
}

/** In the order in which they are mined: one that begins like a longer one comes before it. */
function byItems(one: MinedPattern, other: MinedPattern): number {
  for (let k = 0; k < one.items.length && k < other.items.length; k++)
    if (one.items[k] !== other.items[k]) return one.items[k]! - other.items[k]!
  return one.items.length - other.items.length
}

function nameOf({ kind, page, what }: Token): string {
  return [kind, page, what].filter(Boolean).join(' ')
}

function joined<T extends Uint32Array | Uint8Array>(parts: readonly T[], Kind: new (length: number) => T): T {
  const all = new Kind(parts.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const part of parts) {
    all.set(part, at)
    at += part.length
  }
  return all
}
