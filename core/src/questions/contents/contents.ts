import { z } from 'zod'
import type { Token } from '../../labels/tokens.ts'
import { LEVELS, tokenReader, Tokens, tokenSchema } from '../../labels/tokens.ts'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { selectSessions } from '../../select/sessions.ts'
import { countSchema, difference, differenceShape, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

interface Counted {
  token: Token
  sessions: number
  events: number
  against: number
}

interface ContentsFound {
  sessions: number
  against: number
  counted: Counted[]
}

/** What happens in the sessions of a selection, and in how many of them, beside others: largest differences first. */
export const contents = question({
  name: 'contents',
  summary: 'what happens in the sessions of a selection, beside others',
  asked: z.strictObject({
    selection: selectionSchema,
    against: selectionSchema.optional().describe('what it is held against: none = everyone in the lens'),
    level: z.enum(LEVELS).default('page'),
  }),
  answer: z.object({
    sessions: countSchema,
    against: countSchema,
    contents: z.array(
      tokenSchema.extend({
        events: countSchema,
        selected: rateSchema,
        against: rateSchema,
        /** selected minus those of the others that are not selected, as shares; null where one of the two is empty */
        ...differenceShape,
      }),
    ),
  }),
  example: { selection: { type: 'everyone' } },
  needs: async ({ selection, against }, { complete }) => ({
    selection: await complete(selection),
    against: await complete(against),
  }),

  scan(block, among, { selection, against, level, names }): ContentsFound {
    const { sessions } = selectSessions(block, among, selection, names)
    const others = (against ? selectSessions(block, among, against, names).sessions : among).without(sessions)
    const tokens = new Tokens()
    const read = tokenReader(block, level, names, tokens)
    const counted: Counted[] = []
    const last: number[] = []
    const visit = (s: number, selected: boolean) => {
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        const token = read(i)
        if (token < 0) continue
        const entry = (counted[token] ??= { token: tokens.list[token]!, sessions: 0, events: 0, against: 0 })
        if (selected) entry.events++
        if (last[token] === s) continue
        last[token] = s
        if (selected) entry.sessions++
        else entry.against++
      }
    }
    sessions.forEach((s) => visit(s, true))
    others.forEach((s) => visit(s, false))
    return { sessions: sessions.count(), against: others.count(), counted: counted.filter(Boolean) }
  },

  merge(a, b) {
    const tokens = new Tokens()
    const merged: Counted[] = []
    for (const one of [...a.counted, ...b.counted]) {
      const at = tokens.of(one.token)
      const ofA = merged[at]
      if (!ofA) merged[at] = { ...one }
      else {
        ofA.sessions += one.sessions
        ofA.events += one.events
        ofA.against += one.against
      }
    }
    return { sessions: a.sessions + b.sessions, against: a.against + b.against, counted: merged }
  },

  finish({ sessions, against, counted }) {
    return {
      sessions,
      against,
      contents: counted
        .map(({ token, sessions: n, events, against: m }) => {
          const [selected, others] = [rate(n, sessions), rate(m, against)]
          return { ...token, events, selected, against: others, ...difference(selected, others) }
        })
        .sort(
          (a, b) =>
            Math.abs(b.difference ?? 0) - Math.abs(a.difference ?? 0) ||
            b.selected.hits - a.selected.hits ||
            `${a.kind}${a.page}${a.what}`.localeCompare(`${b.kind}${b.page}${b.what}`),
        ),
    }
  },

  table: ({ contents: rows }) => rows,
})
