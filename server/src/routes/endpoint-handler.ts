import { setMaxListeners } from 'node:events'
import type { Endpoint } from '@dust-trail/api'
import { flat } from '@dust-trail/api'
import { stringify } from 'csv-stringify/sync'
import type { Request, Response, Router } from 'express'
import { z } from 'zod'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { invalid, notFound } from '../problem.ts'

export interface Asked<Body> {
  body: Body
  /** parts of the path, by name */
  params: Record<string, string>
  nowMs: number
  /** aborted where the client goes away before it has its answer */
  signal: AbortSignal
  request: Request
  response: Response
}

/**
 * Answers one endpoint: checks what comes in and what goes out against its schemas.
 * An answer that does not fit is a mistake of ours and ends as an internal error, never as wrong data on a screen.
 */
export function handle<Body extends z.ZodType, Answer extends z.ZodType>(
  router: Router,
  endpoint: Endpoint<Body, Answer>,
  respond: (asked: Asked<z.output<Body>>) => z.input<Answer> | Promise<z.input<Answer>>,
): void {
  // A field that is misspelt is refused by name, not passed over.
  const expected = endpoint.body instanceof z.ZodObject ? endpoint.body.strict() : endpoint.body
  const method = endpoint.method.toLowerCase() as 'get' | 'post' | 'put' | 'delete'
  router[method](endpoint.path, async (request, response) => {
    const sent: unknown = endpoint.method === 'GET' || endpoint.method === 'DELETE' ? undefined : request.body
    const body = expected.safeParse(sent) as z.ZodSafeParseResult<z.output<Body>>
    if (!body.success) throw invalid(body.error, 'The request')
    const params = request.params as Record<string, string>
    const gone = new AbortController()
    // A request may ask the engine many things at once, and each listens.
    setMaxListeners(0, gone.signal)
    response.once('close', () => gone.abort())
    try {
      const result = await respond({
        ...{ body: body.data, params, nowMs: Date.now(), signal: gone.signal },
        ...{ request, response },
      })
      const answer = endpoint.answer.parse(result)
      if (endpoint.table && request.accepts(['json', 'csv']) === 'csv')
        response.type('csv').send(csvOf(endpoint.table(answer)))
      else response.json(answer)
    } catch (error) {
      // Nobody is there to be told.
      if (!gone.signal.aborted) throw error
    }
  })
}

/** Rows of any shape under one header, as RFC 4180 has it. What a spreadsheet would take for a formula stays a text. */
function csvOf(rows: readonly Record<string, unknown>[]): string {
  const cells = rows.map((row) => flat(row))
  const columns = [...new Set(cells.flatMap((row) => Object.keys(row)))]
  return stringify(cells, { header: true, columns, record_delimiter: 'windows', escape_formulas: true })
}

/** The site a request is about. @throws ProblemError 404 */
export function siteOf(engines: Engines, params: Record<string, string>): LoadedSite {
  const site = engines.get(params['site'] ?? '')
  if (!site) throw notFound(`site "${params['site']}"`)
  return site
}

/** The whole number in a path. @throws ProblemError 404 */
export function idOf(params: Record<string, string>, what: string): number {
  const id = Number(params['id'])
  if (!Number.isSafeInteger(id) || id < 1) throw notFound(what)
  return id
}
