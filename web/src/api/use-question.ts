import { endpointOf } from '@dust-trail/api'
import type { AskableQuestion, Lens } from '@dust-trail/core'
import type { UseQueryResult } from '@tanstack/react-query'
import type { z } from 'zod'
import { useSite } from '../app/lens.ts'
import type { AskOptions } from './use-endpoint.ts'
import { useEndpoint, useEndpointEach } from './use-endpoint.ts'

/** What is sent to ask a question, besides the lens. */
type Asked<A extends z.ZodObject> = NoInfer<z.input<A>>

/**
 * The answer to a question about the site on screen.
 *
 * @param lens  null: nothing is asked yet
 */
export function useQuestion<A extends z.ZodObject, Answer extends z.ZodType>(
  question: AskableQuestion<A, Answer>,
  lens: Lens | null,
  asked: Asked<A>,
  options: AskOptions = {},
): UseQueryResult<z.output<Answer>, Error> {
  const site = useSite().key
  const enabled = lens !== null && options.enabled !== false
  const body = { lens, ...asked } as never
  return useEndpoint(endpointOf(question), { site }, body, { ...options, enabled })
}

/** The answers to the same question through several lenses. */
export function useQuestionThrough<A extends z.ZodObject, Answer extends z.ZodType>(
  question: AskableQuestion<A, Answer>,
  lenses: readonly Lens[],
  asked: Asked<A>,
): UseQueryResult<z.output<Answer>, Error>[] {
  const site = useSite().key
  return useEndpointEach(
    endpointOf(question),
    { site },
    lenses.map((lens) => ({ lens, ...asked }) as never),
  )
}
