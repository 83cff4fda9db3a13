import type { RequestHandler } from 'express'
import { ProblemError } from './problem.ts'

export interface BodyLimits {
  depth: number
  parts: number
}
/** What people ask lies nowhere near these: they keep a body from being read for seconds, or deeper than the stack. */
export const BODY_LIMITS: BodyLimits = { depth: 64, parts: 50_000 }

/** Refuses bodies that are nested too deeply or have too many parts, before anything reads them. */
export const bodyGuard =
  (limits = BODY_LIMITS): RequestHandler =>
  (request, _response, next) => {
    const left: { value: unknown; depth: number }[] = [{ value: request.body as unknown, depth: 0 }]
    let parts = 0
    for (let one = left.pop(); one; one = left.pop()) {
      const { value, depth } = one
      if (typeof value !== 'object' || value === null) continue
      if (depth > limits.depth) throw tooMuch(`is nested more than ${limits.depth} deep`)
      for (const child of Object.values(value)) {
        if (++parts > limits.parts) throw tooMuch(`has more than ${limits.parts} parts`)
        left.push({ value: child, depth: depth + 1 })
      }
    }
    next()
  }

function tooMuch(what: string): ProblemError {
  return new ProblemError(400, 'too-much', `The request ${what}.`, 'Ask for less at once.', { budget: true })
}
