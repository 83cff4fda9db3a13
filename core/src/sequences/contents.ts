import type { Selection } from '../closeup/selection.ts'
import { selectSessions } from '../closeup/selection.ts'
import type { Rate } from '../funnel/funnel.ts'
import { rate } from '../funnel/funnel.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import type { Interval } from '../stats/interval.ts'
import { newcombe } from '../stats/interval.ts'
import type { Level, Token } from './tokens.ts'
import { tokenReader, Tokens } from './tokens.ts'

export interface ContentsSpec {
  selection: Selection
  /** what it is held against: none = everyone in the lens */
  against?: Selection | undefined
  level: Level
  names: Names
}

interface Counted {
  token: Token
  sessions: number
  events: number
  against: number
}

export interface ContentsPartial {
  sessions: number
  against: number
  counted: Counted[]
}

/** How many of the selected sessions hold something, how often, and how many of those they are held against. */
export interface Content extends Token {
  events: number
  selected: Rate
  against: Rate
  /** selected minus those of the others that are not selected, as shares; null where one of the two is empty */
  difference: number | null
  interval: Interval
}

export interface ContentsResult {
  sessions: number
  against: number
  contents: Content[]
}

/** What happens in the sessions of a selection, and in how many of them, beside others: largest differences first. */
export const contents: Analysis<ContentsSpec, ContentsPartial, ContentsResult> = {
  scan(block, among, { selection, against, level, names }) {
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
        const own = (counted[token] ??= { token: tokens.list[token]!, sessions: 0, events: 0, against: 0 })
        if (selected) own.events++
        if (last[token] === s) continue
        last[token] = s
        if (selected) own.sessions++
        else own.against++
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
      const own = merged[at]
      if (!own) merged[at] = { ...one }
      else {
        own.sessions += one.sessions
        own.events += one.events
        own.against += one.against
      }
    }
    return { sessions: a.sessions + b.sessions, against: a.against + b.against, counted: merged }
  },

  finish({ sessions, against, counted }) {
    return {
      sessions,
      against,
      contents: counted
        .map(({ token, sessions: n, events, against: m }) => ({
          ...token,
          events,
          selected: rate(n, sessions),
          against: rate(m, against),
          ...newcombe(n, sessions, m, against),
        }))
        .sort(
          (a, b) =>
            Math.abs(b.difference ?? 0) - Math.abs(a.difference ?? 0) ||
            b.selected.hits - a.selected.hits ||
            `${a.kind}${a.page}${a.what}`.localeCompare(`${b.kind}${b.page}${b.what}`),
        ),
    }
  },
}
