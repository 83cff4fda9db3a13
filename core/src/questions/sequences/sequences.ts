import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { LEVELS, tokenReader, Tokens, tokenSchema } from '../../labels/tokens.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { momentOf } from '../../select/selected-sessions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { countSchema } from '../../stats/rate.ts'
import { question, selectionNeeds } from '../question.ts'

export const sequenceOptionsSchema = z.strictObject({
  level: z.enum(LEVELS).default('page'),
  most: z.number().int().min(1).max(5000).default(500).describe('how many sessions, the newest first'),
  longest: z
    .number()
    .int()
    .min(1)
    .max(1000)
    .default(200)
    .describe('events a session at most; what follows is counted, not listed'),
})
export type SequenceOptions = z.infer<typeof sequenceOptionsSchema>

const sequenceSchema = z.object({
  id: z.string(),
  startMs: z.number(),
  momentMs: z.number().nullable().describe('the selection’s moment, milliseconds since the start'),
  /** index into tokens, and milliseconds since the start, of each event */
  tokens: z.array(countSchema),
  atMs: z.array(z.number()),
  signals: z
    .array(countSchema)
    .describe('signals that began with each event, or after it and before the next'),
  /** events that are not listed */
  more: countSchema,
})
type RawSequence = z.infer<typeof sequenceSchema>

const answerSchema = z.object({
  total: countSchema,
  tokens: z.array(tokenSchema),
  sequences: z.array(sequenceSchema),
})
export type SequencesAnswer = z.infer<typeof answerSchema>

/** What the sessions of a selection did, event by event: the newest of them, in no other way summed up. */
export const sequences = question({
  name: 'sequences',
  summary: 'the sessions of a selection, event by event, the newest first',
  asked: z.strictObject({
    selection: selectionSchema,
    options: sequenceOptionsSchema.default(sequenceOptionsSchema.parse({})),
  }),
  answer: answerSchema,
  example: { selection: { type: 'everyone' }, options: { most: 20 } },
  needs: selectionNeeds,

  scan(block, among, { selection, names, options: { level, most, longest } }): SequencesAnswer {
    const selected = selectSessions(block, among, selection, names)
    const { startMs, id, firstEvent, firstSignal } = block.sessions
    const newest = [...selected.sessions].sort((a, b) => startMs[b]! - startMs[a]! || id[b]! - id[a]!)
    const tokens = new Tokens()
    const read = tokenReader(block, level, names, tokens)
    const listed = newest.slice(0, most).map((s): RawSequence => {
      const sequence: RawSequence = {
        id: String(id[s]!),
        startMs: startMs[s]!,
        momentMs: null,
        tokens: [],
        atMs: [],
        signals: [],
        more: 0,
      }
      const moment = momentOf(block, selected, s)
      if (!Number.isNaN(moment)) sequence.momentMs = moment
      let signal = firstSignal[s]!
      for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
        const token = read(i)
        if (token < 0) continue
        if (sequence.tokens.length === longest) {
          sequence.more++
          continue
        }
        signal = addSignals(sequence, block, signal, firstSignal[s + 1]!, i)
        sequence.tokens.push(token)
        sequence.atMs.push(block.events.atMs[i]!)
        sequence.signals.push(0)
      }
      if (!sequence.more) addSignals(sequence, block, signal, firstSignal[s + 1]!, Infinity)
      return sequence
    })
    return { total: newest.length, tokens: tokens.list, sequences: listed }
  },

  merge(a, b) {
    const tokens = new Tokens()
    for (const token of a.tokens) tokens.of(token)
    const others = b.tokens.map((token) => tokens.of(token))
    const moved = b.sequences.map((sequence) => ({
      ...sequence,
      tokens: sequence.tokens.map((token) => others[token]!),
    }))
    return { total: a.total + b.total, tokens: tokens.list, sequences: [...a.sequences, ...moved] }
  },

  finish({ total, tokens, sequences: all }, { options: { most } }) {
    const newest = all.sort((a, b) => b.startMs - a.startMs || Number(b.id) - Number(a.id)).slice(0, most)
    const used = [...new Set(newest.flatMap((sequence) => sequence.tokens))].sort((a, b) => a - b)
    const place = new Map(used.map((token, k) => [token, k]))
    return {
      total,
      tokens: used.map((token) => tokens[token]!),
      sequences: newest.map((sequence) => ({
        ...sequence,
        tokens: sequence.tokens.map((token) => place.get(token)!),
      })),
    }
  },

  table: ({ tokens, sequences: listed }) =>
    listed.map(({ id, startMs, tokens: met, more }) => ({
      id,
      startMs,
      sequence: met
        .map((at) => [tokens[at]!.kind, tokens[at]!.page, tokens[at]!.what].filter(Boolean).join(' '))
        .join(' > '),
      more,
    })),
})

/** Counts the signals that begin before an event for the event listed last; returns the first that is left. */
function addSignals(
  { signals: counts }: RawSequence,
  { signals }: Block,
  from: number,
  to: number,
  event: number,
): number {
  let signal = from
  for (; signal < to && signals.event[signal]! < event; signal++)
    if (counts.length) counts[counts.length - 1]!++
  return signal
}
