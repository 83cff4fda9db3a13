import type { Selection, Token } from '@dust-trail/core'

/** Those who did one thing. */
export function patternOf({ kind, page, what }: Token): Selection {
  return { type: 'pattern', level: 'element', tokens: [{ kind, page, what }], gap: null }
}
