import type { Condition } from '../conditions/schema.ts'
import type { Step } from '../funnel/spec.ts'
import type { Token } from './tokens.ts'
import { tokenCondition } from './tokens.ts'

/** Sessions in which a stretch of a sequence occurs, each thing after the one before, directly or later. */
export function patternCondition(pattern: readonly Token[], how: 'directly' | 'later'): Condition {
  return {
    type: 'sequence',
    steps: pattern.map((token) => ({ event: tokenCondition(token), how })),
    anchor: 'anywhere',
  }
}

/** A stretch of a sequence as the steps of a funnel. */
export function patternSteps(pattern: readonly Token[]): Step[] {
  return pattern.map((token) =>
    token.kind === 'page' && token.page
      ? { type: 'page', page: token.page }
      : { type: 'event', name: tokenWords(token), event: tokenCondition(token) },
  )
}

/** A token as people read it. */
export function tokenWords({ kind, page, what }: Token): string {
  if (kind === 'page') return page || 'page'
  return [kind, what, page && `on ${page}`].filter(Boolean).join(' ')
}

/** Neighbours that are the same, with how many they are. */
export function folded(tokens: readonly number[]): { token: number; from: number; count: number }[] {
  const runs: { token: number; from: number; count: number }[] = []
  tokens.forEach((token, i) => {
    const last = runs[runs.length - 1]
    if (last?.token === token) last.count++
    else runs.push({ token, from: i, count: 1 })
  })
  return runs
}

/** A range of a partition: both ends belong to it; null = open. */
export interface Range {
  from: number | null
  to: number | null
}

/**
 * Ranges between breakpoints, for a number that is counted (whole numbers only) or measured: 1, 2, 5 make "below 1", "1",
 * "2 to 4" and "5 or more". Together they hold every number once.
 *
 * @param breaks  lower ends of all ranges but the first, in any order
 */
export function rangesOf(breaks: readonly number[], whole: boolean): Range[] {
  const edges = [...new Set(breaks)].sort((a, b) => a - b)
  if (!edges.length) return []
  const before = (n: number) => (whole ? n - 1 : n)
  return [
    { from: null, to: before(edges[0]!) },
    ...edges.map((from, i) => ({ from, to: i + 1 < edges.length ? before(edges[i + 1]!) : null })),
  ]
}

/** The range in words. */
export function rangeWords({ from, to }: Range, whole: boolean): string {
  if (from === null) return whole ? (to === 0 ? 'none' : `${to} or fewer`) : `below ${to}`
  if (to === null) return `${from} or more`
  if (from === to) return String(from)
  return whole ? `${from} to ${to}` : `${from} to below ${to}`
}
