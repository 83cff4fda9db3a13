import type { Row } from '@dust-trail/core'
import type { z } from 'zod'

/** One question or change that the web can ask of the server. Both sides check against the same schemas. */
export interface Endpoint<Body extends z.ZodType = z.ZodType, Answer extends z.ZodType = z.ZodType> {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** below /api/v1; ":name" stands for a part that the caller fills in */
  path: string
  body: Body
  answer: Answer
  /** the answer as a table, where it is one: what `Accept: text/csv` gives */
  table?(answer: z.output<Answer>): Row[]
}

export function endpoint<Body extends z.ZodType, Answer extends z.ZodType>(
  method: Endpoint['method'],
  path: string,
  body: Body,
  answer: Answer,
  table?: (answer: z.output<Answer>) => Row[],
): Endpoint<Body, Answer> {
  return { method, path, body, answer, ...(table && { table }) }
}

/** What goes wrong, for people and programs (RFC 9457). */
export interface Problem {
  type: string
  title: string
  status: number
  /** a stable word for programs */
  code: string
  detail: string
  /** what to do about it */
  hint: string
  /** the fields of what was sent that were wrong */
  fields?: ProblemField[]
}

export interface ProblemField {
  /** where it lies, such as steps.0.page; empty = the whole */
  field: string
  reason: string
}
