import { z } from 'zod'
import { LEVELS, tokenReader, Tokens, tokenSchema } from '../../labels/tokens.ts'
import type { Token } from '../../labels/tokens.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { eachToken } from '../../select/pattern-sessions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { differenceShape, countSchema, difference, rate, rateSchema } from '../../stats/rate.ts'
import { benjaminiHochberg, twoProportions } from '../../stats/significance.ts'
import { question } from '../question.ts'
import { closedPatterns, minePatterns } from './prefix-span.ts'

/** More than these are not mined: whoever gets there asks for a higher support. */
const MOST_MINED = 100_000

interface PatternsFound {
  tokens: Token[]
  /** one after the other; a sequence ends where the next begins */
  items: Uint32Array[]
  lengths: Uint32Array[]
  inA: Uint8Array[]
}

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
  asked: z.strictObject({
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
    closed: z
      .boolean()
      .default(true)
      .describe('only those that no longer one with the same sessions contains'),
    order: z
      .enum(['support', 'difference'])
      .default('support')
      .describe('those that most hold first, or those that tell the two apart most'),
    most: z.number().int().min(1).max(5000).default(200),
  }),
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
      tokens: tokens.list,
      items: [...a.items, ...b.items.map((items) => items.map((item) => moved[item]!))],
      lengths: [...a.lengths, ...b.lengths],
      inA: [...a.inA, ...b.inA],
    }
  },

  finish({ tokens, ...found }, { support, shortest, longest, gap, closed, order, most }) {
    // Numbers of tokens follow the order of blocks: names decide instead.
    const byName = tokens.map((_, k) => k).sort((a, b) => (nameOf(tokens[a]!) < nameOf(tokens[b]!) ? -1 : 1))
    const place = new Uint32Array(tokens.length)
    byName.forEach((token, k) => (place[token] = k))
    const lengths = joined(found.lengths, Uint32Array)
    const first = new Uint32Array(lengths.length + 1)
    lengths.forEach((length, k) => (first[k + 1] = first[k]! + length))
    const inA = joined(found.inA, Uint8Array)
    const sessions = inA.reduce((sum, one) => sum + one, 0)
    const against = inA.length - sessions
    const mined = minePatterns(
      { items: joined(found.items, Uint32Array).map((item) => place[item]!), first },
      inA,
      {
        least: [Math.ceil(support * sessions), Math.ceil(support * against)],
        ...{ longest, gap: gap ?? Infinity, most: MOST_MINED },
      },
    )
    const kept = (closed ? closedPatterns(mined.patterns) : mined.patterns).filter(
      ({ items }) => items.length >= shortest,
    )
    const ps = benjaminiHochberg(kept.map(({ a, b }) => twoProportions(a, sessions, b, against)))
    const rows = kept.map(({ items, a, b }, k) => {
      const [selected, others] = [rate(a, sessions), rate(b, against)]
      const own = { tokens: items.map((item) => tokens[byName[item]!]!), selected, against: others }
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
      ...{ sessions, against, complete: mined.complete, patterns: rows.slice(0, most) },
      more: Math.max(0, rows.length - most),
    }
  },

  table: ({ patterns: rows }) =>
    rows.map(({ tokens, ...row }) => ({ pattern: tokens.map(nameOf).join(' > '), ...row })),
})

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
