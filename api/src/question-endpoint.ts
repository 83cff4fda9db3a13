import type { Row } from '@dust-trail/core'
import { lensSchema } from '@dust-trail/core'
import { z } from 'zod'
import type { Endpoint } from './endpoint.ts'

/** What an endpoint takes from the declaration of a question. */
interface Declared<Asked extends z.ZodObject, Answer extends z.ZodType> {
  name: string
  asked: Asked
  answer: Answer
  table?(answer: z.output<Answer>): Row[]
}

/** What is sent to ask a question: the lens, and beside it what the question itself asks. */
export type QuestionBody<Asked extends z.ZodObject> = z.ZodObject<
  Asked['shape'] & { lens: typeof lensSchema }
>

const endpoints = new WeakMap<object, Endpoint>()

/** The endpoint of a question; the same object each time. */
export function endpointOf<Asked extends z.ZodObject, Answer extends z.ZodType>(
  question: Declared<Asked, Answer>,
): Endpoint<QuestionBody<Asked>, Answer> {
  let cached = endpoints.get(question)
  if (!cached) {
    const { name, asked, answer, table } = question
    cached = {
      method: 'POST',
      path: `/sites/:site/${name}`,
      body: z.strictObject({ lens: lensSchema, ...asked.shape }),
      answer,
      ...(table && { table: table }),
    }
    endpoints.set(question, cached)
  }
  return cached as unknown as Endpoint<QuestionBody<Asked>, Answer>
}
