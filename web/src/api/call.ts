import type { Endpoint, Problem } from '@dust-trail/api'
import type { z } from 'zod'
import { noteAsOf } from './as-of.ts'

/** A question that was not answered, with what to do about it. */
export class CallError extends Error {
  constructor(
    message: string,
    readonly hint: string,
    readonly status: number,
  ) {
    super(message)
    this.name = 'CallError'
  }
}

type Parameters = Record<string, string | number>

/** Asks an endpoint of the server. @throws CallError */
export async function call<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  params: Parameters,
  body?: z.input<Body>,
  signal?: AbortSignal,
): Promise<z.output<Answer>> {
  const response = await respond(endpoint, params, body, 'application/json', signal)
  const answer = endpoint.answer.safeParse(await response.json())
  if (!answer.success)
    throw new CallError(
      'The server’s answer has another form than expected.',
      'Reload the page: it may be of an older version.',
      500,
    )
  return answer.data
}

/** The answer of an endpoint as a table: CSV with a header. @throws CallError */
export async function table<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  params: Parameters,
  body: z.input<Body>,
): Promise<Blob> {
  return (await respond(endpoint, params, body, 'text/csv')).blob()
}

async function respond(
  endpoint: Endpoint,
  params: Parameters,
  body: unknown,
  accept: string,
  signal?: AbortSignal,
): Promise<Response> {
  const path = endpoint.path.replaceAll(/:(\w+)/g, (_, name: string) =>
    encodeURIComponent(String(params[name])),
  )
  let response: Response
  try {
    response = await fetch(`/api/v1${path}`, {
      method: endpoint.method,
      headers: { accept, ...(body !== undefined && { 'content-type': 'application/json' }) },
      ...(body !== undefined && {
        body: JSON.stringify(body),
      }),
      ...(signal && { signal }),
    })
  } catch (error) {
    if (signal?.aborted) throw error
    throw new CallError(
      'The server cannot be reached.',
      'Nothing you entered is lost. Check that it runs (npm start); this page tries again by itself.',
      0,
    )
  }
  if (!response.ok) {
    const problem = (await response.json().catch(() => null)) as Problem | null
    throw new CallError(
      problem?.detail ?? `The server answered ${response.status}.`,
      problem?.hint ?? 'Try again.',
      response.status,
    )
  }
  noteAsOf(String(params['site'] ?? ''), response.headers.get('dust-trail-version'))
  return response
}
