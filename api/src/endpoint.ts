import type { z } from 'zod'

/** One question or change that the web can ask of the server. Both sides check against the same schemas. */
export interface Endpoint<Body extends z.ZodType = z.ZodType, Answer extends z.ZodType = z.ZodType> {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** below /api/v1; ":name" stands for a part that the caller fills in */
  path: string
  body: Body
  answer: Answer
}

export function endpoint<Body extends z.ZodType, Answer extends z.ZodType>(
  method: Endpoint['method'],
  path: string,
  body: Body,
  answer: Answer,
): Endpoint<Body, Answer> {
  return { method, path, body, answer }
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
}
