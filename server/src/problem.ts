import type { Problem, ProblemField } from '@dust-trail/api'
import { z } from 'zod'

/** An error that is part of the interface: it says what happened and what to do, and reaches whoever asked. */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly hint: string,
    readonly more: {
      fields?: ProblemField[]
      retryAfterS?: number
      /** a budget of this server was met: Setup says so */
      budget?: boolean
    } = {},
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
      ...(this.more.fields && { fields: this.more.fields }),
    }
  }
}

/** Names the first few fields that were wrong, and how; all of them are there for programs. */
export function invalid(error: z.ZodError, what: string): ProblemError {
  const fields = error.issues.flatMap(fieldsOf)
  const places = fields.slice(0, 3).map(({ field, reason }) => `${field || 'the whole'}: ${reason}`)
  return new ProblemError(
    400,
    'invalid-input',
    `${what} cannot be read: ${places.join('; ')}`,
    'Correct the fields named and send it again.',
    { fields },
  )
}

type Issue = z.ZodError['issues'][number]

/** An issue in our words; where several shapes were possible, of the one that was meant. */
function fieldsOf(issue: Issue): ProblemField[] {
  const field = issue.path.join('.')
  switch (issue.code) {
    case 'unrecognized_keys':
      return issue.keys.map((key) => ({
        field: [...issue.path, key].join('.'),
        reason: 'is not a field of this; check how it is spelt',
      }))
    case 'invalid_union': {
      // The shape of which the least is wrong.
      const nearest = [...(issue.errors ?? [])].sort((a, b) => a.length - b.length)[0]
      return nearest?.length
        ? nearest.flatMap((one) => fieldsOf({ ...one, path: [...issue.path, ...one.path] }))
        : [{ field, reason: 'is none of the shapes that are known' }]
    }
    case 'invalid_type':
      return [
        {
          field,
          reason: issue.message.startsWith('Invalid')
            ? `must be ${A[issue.expected] ?? issue.expected}`
            : issue.message,
        },
      ]
    case 'invalid_value':
      return [
        {
          field,
          reason: issue.message.startsWith('Invalid')
            ? `must be ${issue.values.length > 1 ? 'one of: ' : ''}${issue.values.map(String).join(', ')}`
            : issue.message,
        },
      ]
    case 'too_small':
    case 'too_big':
      return [{ field, reason: /^Too /.test(issue.message) ? sizeWords(issue) : issue.message }]
    default:
      return [
        {
          field,
          reason: issue.message.startsWith('Invalid') ? 'is not what is expected here' : issue.message,
        },
      ]
  }
}

const A: Readonly<Record<string, string>> = {
  string: 'text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object',
}

function sizeWords(issue: Extract<Issue, { code: 'too_small' | 'too_big' }>): string {
  const bound = issue.code === 'too_small' ? `at least ${issue.minimum}` : `at most ${issue.maximum}`
  if (issue.origin === 'string') return `must have ${bound} characters`
  if (issue.origin === 'array') return `must have ${bound} entries`
  return `must be ${bound}`
}

export function notFound(what: string): ProblemError {
  return new ProblemError(
    404,
    'not-found',
    `There is no ${what}.`,
    'It may have been deleted; go back to the list.',
  )
}
