import { z } from 'zod'
import type { Selection } from '../closeup/selection.ts'
import { momentOf, selectSessions } from '../closeup/selection.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { Token } from './tokens.ts'
import { LEVELS, tokenReader, Tokens } from './tokens.ts'

export const sequenceOptionsSchema = z.object({
  level: z.enum(LEVELS).default('page'),
  /** how many sessions, the newest first */
  most: z.number().int().min(1).max(5000).default(500),
  /** events a session at most; what follows is counted, not listed */
  longest: z.number().int().min(1).max(1000).default(200),
})
export type SequenceOptions = z.infer<typeof sequenceOptionsSchema>

export interface SequencesSpec extends SequenceOptions {
  selection: Selection
  names: Names
}

export interface RawSequence {
  id: string
  startMs: number
  /** the selection's moment, milliseconds since the start */
  momentMs: number | null
  /** index into tokens, and milliseconds since the start, of each event */
  tokens: number[]
  atMs: number[]
  /** events that are not listed */
  more: number
}

export interface SequencesResult {
  total: number
  tokens: Token[]
  sequences: RawSequence[]
}

/** What the sessions of a selection did, event by event: the newest of them, in no other way summed up. */
export const rawSequences: Analysis<SequencesSpec, SequencesResult, SequencesResult> = {
  scan(block, among, { selection, names, level, most, longest }) {
    const selected = selectSessions(block, among, selection, names)
    const { startMs, id, firstEvent } = block.sessions
    const newest = [...selected.sessions].sort((a, b) => startMs[b]! - startMs[a]! || id[b]! - id[a]!)
    const tokens = new Tokens()
    const read = tokenReader(block, level, names, tokens)
    const sequences = newest.slice(0, most).map((s): RawSequence => {
      const own: RawSequence = {
        id: String(id[s]!),
        startMs: startMs[s]!,
        momentMs: null,
        tokens: [],
        atMs: [],
        more: 0,
      }
      const moment = momentOf(block, selected, s)
      if (!Number.isNaN(moment)) own.momentMs = moment
      for (let i = firstEvent[s]!; i < firstEvent[s + 1]!; i++) {
        const token = read(i)
        if (token < 0) continue
        if (own.tokens.length === longest) {
          own.more++
          continue
        }
        own.tokens.push(token)
        own.atMs.push(block.events.atMs[i]!)
      }
      return own
    })
    return { total: newest.length, tokens: tokens.list, sequences }
  },

  merge(a, b) {
    const tokens = new Tokens()
    for (const token of a.tokens) tokens.of(token)
    const others = b.tokens.map((token) => tokens.of(token))
    const moved = b.sequences.map((own) => ({ ...own, tokens: own.tokens.map((token) => others[token]!) }))
    return { total: a.total + b.total, tokens: tokens.list, sequences: [...a.sequences, ...moved] }
  },

  finish({ total, tokens, sequences }, { most }) {
    const newest = sequences
      .sort((a, b) => b.startMs - a.startMs || Number(b.id) - Number(a.id))
      .slice(0, most)
    const used = [...new Set(newest.flatMap((own) => own.tokens))].sort((a, b) => a - b)
    const place = new Map(used.map((token, k) => [token, k]))
    return {
      total,
      tokens: used.map((token) => tokens[token]!),
      sequences: newest.map((own) => ({ ...own, tokens: own.tokens.map((token) => place.get(token)!) })),
    }
  },
}
