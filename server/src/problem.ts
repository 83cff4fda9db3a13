import type { Problem } from '@dust-trail/api'
import { z } from 'zod'

/** An error that is part of the interface: it says what happened and what to do, and reaches whoever asked. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly hint: string,
  ) {
    super(message)
    this.name = 'ProblemError'
  }

  toProblem(): Problem {
    return {
      type: `urn:dust-trail:problem:${this.code}`,
      title: this.code.replaceAll('-', ' '),
      status: this.status,
      code: this.code,
      detail: this.message,
      hint: this.hint,
    }
  }
}

/** Names the first few fields that were wrong, and how. */
export function invalid(error: z.ZodError, what: string): ProblemError {
  const places = error.issues
    .slice(0, 3)
    .map((issue) => `${issue.path.length ? issue.path.join('.') : 'the whole'}: ${issue.message}`)
  return new ProblemError(
    400,
    'invalid-input',
    `${what} cannot be read: ${places.join('; ')}`,
    'Correct the fields named and send it again.',
  )
}

export function notFound(what: string): ProblemError {
  return new ProblemError(
    404,
    'not-found',
    `There is no ${what}.`,
    'It may have been deleted; go back to the list.',
  )
}
