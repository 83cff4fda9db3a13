import type { Token } from '../labels/tokens.ts'
import { tokenCondition } from '../labels/tokens.ts'
import type { Condition } from './grammar/conditions.ts'
import type { Step } from './grammar/steps.ts'

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
