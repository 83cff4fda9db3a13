import type { Duplex } from 'node:stream'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { createGzip } from 'node:zlib'
import type { Question } from '@dust-trail/api'
import { questionSchema } from '@dust-trail/api'
import type { ListPlace, SessionsAnswer } from '@dust-trail/core'
import { bucketsOf, distribution, lensSpan, sessionIds, sessions, SIGNAL_KINDS } from '@dust-trail/core'
import { stringify } from 'csv-stringify'
import type { Response } from 'express'
import { Router } from 'express'
import { QueryTypes } from 'sequelize'
import type { Sequelize } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { invalid, notFound, ProblemError } from '../problem.ts'
import type { SiteRow } from '../store/models.ts'
import { readRecording } from '../store/recordings.ts'
import { SaidOfSessions } from '../store/said.ts'
import { lineTexts } from '../store/packed-lines.ts'
import { siteOf } from './endpoint-handler.ts'

const SESSIONS_AT_ONCE = 200

/** Lines of the open format as they were taken in: the whole site, or the sessions of a question (`?question=JSON`). */
export function exportRoutes(engines: Engines, sequelize: Sequelize): Router {
  const router = Router()
  router.get('/sites/:site/export.ndjson', async (request, response) => {
    const site = siteOf(engines, request.params)
    const ids = await chosen(site, request.query['question'])
    const zipped = request.query['gzip'] !== undefined
    response.type(zipped ? 'application/gzip' : 'application/x-ndjson')
    response.attachment(`${site.row.key}.ndjson${zipped ? '.gz' : ''}`)
    // Not compressd on the way: a file that is to be small is asked for with ?gzip.
    response.setHeader('cache-control', 'no-store, no-transform')
    const lines = exportLines(sequelize, ids ?? (await allSessions(sequelize, site.row.id)))
    await sent(response, lines, ...(zipped ? [createGzip({ level: 6 })] : []))
  })
  /** All that is kept of one visitor, for whoever asks for their data: one JSON object. */
  router.get('/sites/:site/visitors/:visitor/export.json', async (request, response) => {
    const { row } = siteOf(engines, request.params)
    const { visitor } = request.params
    const ids = await sessionsOfVisitor(sequelize, row.id, visitor)
    if (!ids.length) throw notFound(`visitor “${visitor}” on ${row.name}`)
    response.type('json').attachment('visitor.json').setHeader('cache-control', 'no-store')
    await sent(response, visitorData(sequelize, row, visitor, ids, Date.now()))
  })
  /** Ids of the visitors of a question's sessions, one a line. */
  router.get('/sites/:site/visitors.txt', async (request, response) => {
    const site = siteOf(engines, request.params)
    const question = questionOf(request.query['question'])
    const { values } = await site.engine.ask(distribution, question.lens, {
      selection: question.selection,
      options: { measure: null, by: 'visitor', quantiles: [], bins: 0 },
    })
    response.type('text/plain').attachment(`${site.row.key}-visitors.txt`)
    response.send(values.map(({ value }) => `${value}\n`).join(''))
  })
  /** The sessions of a question as a table, the newest first. */
  router.get('/sites/:site/sessions.csv', async (request, response) => {
    const site = siteOf(engines, request.params)
    const question = questionOf(request.query['question'])
    const gone = new AbortController()
    response.once('close', () => gone.abort())
    response.type('csv').attachment(`${site.row.key}-sessions.csv`)
    await sent(response, sessionRows(site, question, gone.signal), stringify(SESSION_TABLE))
  })
  return router
}

/** What is kept of a visitor, as pieces of one JSON object: a session at a time, so that it needs no room for all. */
async function* visitorData(
  sequelize: Sequelize,
  { id: siteId, key, name }: SiteRow,
  visitor: string,
  ids: readonly number[],
  atMs: number,
): AsyncGenerator<string> {
  const said = new SaidOfSessions(sequelize)
  yield `${JSON.stringify({ site: key, name, visitor, atMs }).slice(0, -1)},"sessions":[`
  for (const [k, id] of ids.entries()) {
    const texts = (await lineTexts(sequelize, [id])).get(id) ?? []
    const { documents } = await readRecording(sequelize, String(id))
    const { notes, tags } = await said.of(siteId, String(id), '', atMs)
    yield `${k ? ',' : ''}\n{"id":"${id}","lines":[${texts.join(',')}],"recordings":${JSON.stringify(documents)},"notes":${JSON.stringify(notes)},"tags":${JSON.stringify(tags)}}`
  }
  yield '\n]}\n'
}

async function sessionsOfVisitor(sequelize: Sequelize, siteId: number, visitor: string): Promise<number[]> {
  const rows = await sequelize.query<{ id: number }>(
    'SELECT id FROM sessions WHERE site_id = ? AND visitor = ? ORDER BY start_ms, id',
    { replacements: [siteId, visitor], type: QueryTypes.SELECT },
  )
  return rows.map(({ id }) => Number(id))
}

/** Sends what comes piece by piece. */
async function sent(response: Response, rows: AsyncIterable<unknown>, ...through: Duplex[]): Promise<void> {
  try {
    await pipeline([Readable.from(rows), ...through, response])
  } catch (error) {
    // The client has gone, or the response has begun and can only be cut off.
    if (!response.headersSent) throw error
    response.destroy()
  }
}

const SESSION_COLUMNS = [
  ...['id', 'visitor', 'started', 'durationMs', 'device', 'browser', 'system', 'country', 'channel'],
  ...['returning', 'pages', 'clicks', 'entry', 'exit', 'momentMs', ...SIGNAL_KINDS],
]
/** What a spreadsheet would take for a formula stays a text. */
const SESSION_TABLE = {
  header: true,
  columns: SESSION_COLUMNS,
  record_delimiter: 'windows',
  escape_formulas: true,
} as const

/** Sessions asked for at once: a larger answer from the threads would block the event loop. */
const ROWS_AT_ONCE = 2000

/** A question's sessions, page by page within each day, so that no page looks through more than a day. */
async function* sessionRows(
  { engine, row }: LoadedSite,
  { lens, selection }: Question,
  signal: AbortSignal,
): AsyncGenerator<Record<string, unknown>> {
  const { fromMs, toMs } = lensSpan(lens, row.timeZone)
  const extent = engine.extent()
  if (!extent) return
  const [first, end] = [Math.max(fromMs, extent.firstMs), Math.min(toMs, extent.lastMs + 1)]
  for (const { startMs, endMs } of bucketsOf(first, end, 'day', row.timeZone).reverse()) {
    const within = { fromMs: startMs, toMs: endMs }
    let next: string | null = null
    do {
      const cursor: ListPlace | undefined =
        next === null ? undefined : sessions.asked.shape.cursor.parse(next)
      const page: SessionsAnswer = await engine.ask(
        sessions,
        lens,
        { selection, order: 'newest', offset: 0, limit: ROWS_AT_ONCE, cursor, within },
        { signal, keep: false },
      )
      for (const { signals, startMs: began, ...session } of page.sessions)
        yield {
          ...session,
          started: new Date(began).toISOString(),
          ...Object.fromEntries(signals.map(({ kind, count }) => [kind, count])),
        }
      next = page.next
    } while (next)
  }
}

/** Text of the lines of these sessions, some sessions at a time, each session's in order of time. */
export async function* exportLines(sequelize: Sequelize, ids: readonly number[]): AsyncGenerator<string> {
  for (let from = 0; from < ids.length; from += SESSIONS_AT_ONCE) {
    const some = ids.slice(from, from + SESSIONS_AT_ONCE)
    const texts = await lineTexts(sequelize, some)
    yield some.flatMap((id) => (texts.get(id) ?? []).map((text) => `${text}\n`)).join('')
  }
}

export async function allSessions(sequelize: Sequelize, siteId: number): Promise<number[]> {
  const rows = await sequelize.query<{ id: number }>(
    'SELECT id FROM sessions WHERE site_id = ? ORDER BY start_ms, id',
    {
      type: QueryTypes.SELECT,
      replacements: [siteId],
    },
  )
  return rows.map(({ id }) => Number(id))
}

async function chosen({ engine }: LoadedSite, question: unknown): Promise<number[] | undefined> {
  if (question === undefined) return undefined
  const { lens, selection } = questionOf(question)
  const { ids } = await engine.ask(sessionIds, lens, { selection }, { keep: false })
  return ids
}

/** @throws ProblemError 400 */
function questionOf(question: unknown): Question {
  let json: unknown
  try {
    json = JSON.parse(typeof question === 'string' ? question : '')
  } catch {
    throw new ProblemError(400, 'invalid-input', 'The question is not JSON.', 'Copy the address again.')
  }
  const read = questionSchema.safeParse(json)
  if (!read.success) throw invalid(read.error, 'The question')
  return read.data
}
