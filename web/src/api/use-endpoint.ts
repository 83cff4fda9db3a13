import type { Endpoint } from '@dust-trail/api'
import type { UseQueryResult } from '@tanstack/react-query'
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query'
import type { z } from 'zod'
import { call } from './call.ts'

export interface AskOptions {
  /** false: nothing is asked yet */
  enabled?: boolean
  /**
   * false: nothing is shown of the answer before while the new one is on its way; or whether it may be, by what was asked
   * before and what is asked now
   */
  keep?: boolean | ((before: unknown, now: unknown) => boolean)
  /** how long an answer is taken for current */
  staleMs?: number
  /** fetches ahead of time: the component is not rendered again when the answer is there */
  quiet?: boolean
}

type Params = Record<string, string | number>

/** What stands in for an answer that is on its way: that of the question before, where it may. */
function standIn(
  keep: Exclude<AskOptions['keep'], false | undefined>,
  body: unknown,
): typeof keepPreviousData {
  if (keep === true) return keepPreviousData
  return ((answer: unknown, before?: { queryKey: readonly unknown[] }) =>
    before && keep(before.queryKey[2], body) ? answer : undefined) as typeof keepPreviousData
}

/** What an endpoint answers. */
export function useEndpoint<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  params: Params,
  body: z.input<Body> | undefined,
  { enabled = true, keep = true, staleMs, quiet = false }: AskOptions = {},
): UseQueryResult<z.output<Answer>, Error> {
  return useQuery({
    queryKey: [endpoint.path, params, body],
    queryFn: ({ signal }) => call(endpoint, params, body, signal),
    enabled,
    ...(keep !== false && { placeholderData: standIn(keep, body) }),
    ...(staleMs !== undefined && { staleTime: staleMs }),
    ...(quiet && { notifyOnChangeProps: [] }),
  })
}

/** What an endpoint answers to several bodies. */
export function useEndpointEach<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  params: Params,
  bodies: readonly z.input<Body>[],
): UseQueryResult<z.output<Answer>, Error>[] {
  const answers: unknown = useQueries({
    queries: bodies.map((body) => ({
      queryKey: [endpoint.path, params, body],
      queryFn: ({ signal }: { signal: AbortSignal }) => call(endpoint, params, body, signal),
      placeholderData: keepPreviousData,
    })),
  })
  return answers as UseQueryResult<z.output<Answer>, Error>[]
}
