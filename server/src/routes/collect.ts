import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import { captureSettingsSchema, fileHashSchema } from '@dust-trail/api'
import type { Request } from 'express'
import express, { Router } from 'express'
import { isbot } from 'isbot'
import { z } from 'zod'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import type { CollectBudgets } from '../ingest/budgets.ts'
import { COLLECT_BUDGETS, TokenBuckets } from '../ingest/budgets.ts'
import type { Collector } from '../ingest/collect.ts'
import { checkBatch } from '../ingest/collect.ts'
import type { Looks } from '../ingest/looks.ts'
import { partsOf } from '../ingest/looks.ts'
import type { Refusals } from '../ingest/refusals.ts'
import { sha256 } from '../store/compression.ts'
import type { Erased } from '../store/erased.ts'
import type { KeptFiles, Refusal } from '../store/kept-files.ts'
import { LARGEST_FILE } from '../store/kept-files.ts'
import { invalid, notFound, ProblemError } from '../problem.ts'
import { InTurn } from '../turns.ts'

const MOST_BYTES = 8 * 2 ** 20
/** Where a batch names its site: within so many of its first characters. */
const HEAD_LENGTH = 1000

const FILE_REFUSALS: Record<NonNullable<Refusal>, [status: number, reason: string]> = {
  hash: [400, 'a picture or font whose bytes are not those of its hash'],
  type: [415, 'a file that is neither a picture nor a font'],
  size: [413, `a picture or font that is empty or larger than ${LARGEST_FILE / 1e6} MB`],
  room: [507, 'a picture or font for which the site has no room left'],
}
const hashesSchema = z.object({ hashes: z.array(fileHashSchema).max(200) })

/** @throws ProblemError where it is something else */
function hashesIn(sent: Buffer): string[] {
  let json: unknown
  try {
    json = JSON.parse(sent.toString())
  } catch {
    throw new ProblemError(400, 'invalid-input', 'The list of files is not JSON.', 'Send {"hashes": […]}.')
  }
  const read = hashesSchema.safeParse(json)
  if (!read.success) throw invalid(read.error, 'The list of files')
  return read.data.hashes
}

export interface CollectParts {
  engines: Engines
  collector: Collector
  refusals: Refusals
  erased: Erased
  files: KeptFiles
  looks: Looks
  /** whether somebody who is no page of the site, such as its server, may send data for it */
  maySend: (request: Request, siteId: number) => Promise<boolean>
  budgets?: CollectBudgets
}

/**
 * Takes in what capture scripts send. Answers 204 once a batch is durable, a repeat included. Checked in this order: size,
 * site, origin, budgets, then what the batch says.
 */
export function collectRoutes({
  engines,
  collector,
  refusals,
  erased,
  files,
  looks,
  maySend,
  budgets = COLLECT_BUDGETS,
}: CollectParts): Router {
  const router = Router()
  const reading = new InTurn()
  const requests = {
    address: new TokenBuckets(budgets.requestsPerAddress),
    site: new TokenBuckets(budgets.requestsPerSite),
  }
  const byteBuckets = {
    address: new TokenBuckets(budgets.bytesPerAddress),
    site: new TokenBuckets(budgets.bytesPerSite),
  }
  router.use((request, response, next) => {
    const { origin } = request.headers
    if (origin) response.setHeader('access-control-allow-origin', origin).setHeader('vary', 'origin')
    response.setHeader('cross-origin-resource-policy', 'cross-origin')
    next()
  })
  router.options('/', (_, response) => {
    response
      .setHeader('access-control-allow-headers', 'content-type')
      .setHeader('access-control-max-age', '86400')
    response.sendStatus(204)
  })

  /** @throws ProblemError where it has to wait */
  const withstand = (site: LoadedSite, what: string, wait: number, nowMs: number) => {
    if (!wait) return
    refusals.add(site.row.id, 'budget', `${what}: put off`, nowMs)
    throw new ProblemError(
      429,
      'too-many-requests',
      `More arrives than the budget of ${what} allows.`,
      `Send it again in ${Math.ceil(wait / 1000)} s. The budgets are settings of the server.`,
      { retryAfterS: Math.ceil(wait / 1000) },
    )
  }
  /** @throws ProblemError where so many bytes are more than may come */
  const within = (site: LoadedSite, address: string, key: string, size: number, nowMs: number) => {
    withstand(site, 'bytes from one address', byteBuckets.address.take(address, size, nowMs), nowMs)
    withstand(site, 'bytes for one site', byteBuckets.site.take(key, size, nowMs), nowMs)
  }

  /** @throws ProblemError where the site, the origin or a budget forbids it */
  const admit = async (request: Request, key: string, size: number, nowMs: number): Promise<LoadedSite> => {
    const site = engines.get(key)
    if (!site) throw notFound(`site "${key}"`)
    const { origin } = request.headers
    if (origin && !site.row.origins.includes(origin)) {
      refusals.add(site.row.id, 'batch', `from pages of ${origin.slice(0, 100)}`, nowMs)
      throw new ProblemError(
        403,
        'foreign-origin',
        `Pages of ${origin} are not part of the site "${key}".`,
        'Add the address under Setup if it is.',
      )
    }
    // Browsers always say which page sends: who does not is a program, and anybody can write one.
    if (!origin && !(await maySend(request, site.row.id))) {
      refusals.add(site.row.id, 'batch', 'from a program without a token', nowMs)
      throw new ProblemError(
        403,
        'no-origin',
        'This does not come from a page of the site.',
        'Programs send a token with the role editor, made in Setup, as “Authorization: Bearer …”.',
      )
    }
    const address = request.ip ?? ''
    withstand(site, 'requests from one address', requests.address.take(address, 1, nowMs), nowMs)
    withstand(site, 'requests for one site', requests.site.take(key, 1, nowMs), nowMs)
    within(site, address, key, size, nowMs)
    return site
  }

  // What may leave the pages of a site: asked by the script before it looks at anything.
  router.get('/settings', (request, response) => {
    const key = request.query['site']
    const site = typeof key === 'string' ? engines.get(key) : undefined
    if (!site) throw notFound(`site "${typeof key === 'string' ? key : ''}"`)
    response.setHeader('cache-control', 'public, max-age=60')
    response.json(captureSettingsSchema.parse(site.row.capture))
  })

  // Pictures and fonts that recordings show: first it is asked which are not here yet, then each is sent.
  router.post(
    '/files',
    async (request, response, next) => {
      const key = request.query['site']
      if (typeof key !== 'string') throw notFound('a site without a name')
      const size = Number(request.headers['content-length'] ?? 0)
      response.locals['site'] = await admit(request, key, size, Date.now())
      next()
    },
    express.raw({ type: () => true, limit: LARGEST_FILE }),
    async (request, response) => {
      const nowMs = Date.now()
      const { hash } = request.query
      const sent = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0)
      const { row } = response.locals['site'] as LoadedSite
      if (row.capture.pictures === 'none')
        throw new ProblemError(403, 'not-kept', 'This site keeps no pictures and fonts.', 'Send none.')
      if (hash === undefined) {
        response.json({ lacking: await files.lacking(row.id, hashesIn(sent), nowMs) })
        return
      }
      looks.note(row.id, request.ip ?? '', nowMs, () => [['files', { hash, bytes: sent.length }]])
      // Where a page cannot hash, as without TLS, it is told the hash.
      const isUnnamed = hash === ''
      const name = isUnnamed ? sha256(sent) : typeof hash === 'string' ? hash : ''
      const why = await files.keep(row.id, name, sent, nowMs)
      if (why) {
        const [status, reason] = FILE_REFUSALS[why]
        refusals.add(row.id, why === 'room' ? 'budget' : 'recording', reason, nowMs)
        throw new ProblemError(status, 'file-refused', `Not kept: ${reason}.`, 'Go on without it.')
      }
      if (isUnnamed) response.json({ hash: name })
      else response.sendStatus(204)
    },
  )

  router.post(
    '/',
    async (request, response, next) => {
      // The script says in the address which site it is of: what is not wanted need not be read.
      const key = request.query['site']
      const size = Number(request.headers['content-length'] ?? 0)
      if (size > MOST_BYTES) throw tooLarge()
      if (typeof key === 'string') response.locals['site'] = await admit(request, key, size, Date.now())
      next()
    },
    // Whatever its type: sent as text, browsers ask no leave first and beacons may carry it.
    express.raw({ type: () => true, limit: MOST_BYTES }),
    async (request, response) => {
      const receivedMs = Date.now()
      const sent = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0)
      const bytes = await unpacked(sent)
      const text = bytes.toString()
      const site =
        (response.locals['site'] as LoadedSite | undefined) ??
        (await admit(request, siteIn(text), text.length, receivedMs))
      const { row } = site
      // What is packed is cheap to send and dear to read: the budget is for what it becomes.
      if (bytes !== sent) within(site, request.ip ?? '', row.key, bytes.length - sent.length, receivedMs)
      let batch
      try {
        const robot = isRobot(request)
        // Many come at once: read all in one go, they would keep small requests waiting.
        batch = await reading.do(() =>
          checkBatch(text, receivedMs, { props: budgets.propsPerLine, depth: budgets.treeDepth, robot }),
        )
      } catch (error) {
        if (error instanceof ProblemError) refusals.add(row.id, 'batch', error.message, receivedMs)
        throw error
      }
      // As it came, before anything is made of it.
      looks.note(row.id, request.ip ?? '', receivedMs, () =>
        partsOf(JSON.parse(text) as Record<string, unknown>),
      )
      if (batch.site !== row.key)
        throw new ProblemError(
          400,
          'invalid-input',
          `The batch is for the site "${batch.site}", its address says "${row.key}".`,
          'Name one site.',
        )
      if (await erased.has(row.id, batch.visitor, receivedMs)) {
        refusals.add(row.id, 'batch', 'of a visitor who was deleted', receivedMs)
        throw new ProblemError(
          410,
          'visitor-deleted',
          'This visitor has been deleted.',
          'Forget the name; nothing is taken in under it any more.',
        )
      }
      const collected = await collector.collect(row, batch, receivedMs)
      engines.changed(row, collected)
      if (!collected.repeated)
        for (const { what, reason } of batch.refused) refusals.add(row.id, what, reason, receivedMs)
      if (collected.tooMany)
        refusals.add(
          row.id,
          'budget',
          'lines beyond what one session may have',
          receivedMs,
          collected.tooMany,
        )
      if (collected.tooManySessions)
        refusals.add(
          row.id,
          'budget',
          'sessions that one visitor may begin in an hour',
          receivedMs,
          batch.lines.length,
        )
      response.sendStatus(204)
    },
  )
  return router
}

/** What calls itself a robot, wherever it runs. */
const CALLS_ITSELF = /bot\b|crawl|spider/i
const LOOPBACK = /^(127\.|::1$|::ffff:127\.)/

/**
 * Whether a program rather than a person is behind a request, by what it says of itself: the list of the package isbot. On this
 * computer only what calls itself so: there sites are tried out by programs that stand for people. Where no page is named, a
 * server or an app of the site sends for others, and says nothing of itself.
 */
function isRobot({ headers, ip = '' }: Request): boolean {
  const agent = headers['user-agent'] ?? ''
  return headers.origin !== undefined && (LOOPBACK.test(ip) ? CALLS_ITSELF.test(agent) : isbot(agent))
}

const gunzipped = promisify(gunzip) as (
  bytes: Buffer,
  options: { maxOutputLength: number },
) => Promise<Buffer>

/**
 * What came, unpacked where it is packed with gzip: that shows in its first two bytes (RFC 1952). A header that said so would
 * make browsers ask first.
 *
 * @throws ProblemError where it is damaged, or larger than what may come
 */
async function unpacked(sent: Buffer): Promise<Buffer> {
  if (sent[0] !== 0x1f || sent[1] !== 0x8b) return sent
  try {
    return await gunzipped(sent, { maxOutputLength: MOST_BYTES })
  } catch (error) {
    if ((error as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE') throw tooLarge()
    throw new ProblemError(
      400,
      'invalid-input',
      'The batch is packed and cannot be unpacked.',
      'Send JSON, or JSON packed with gzip.',
    )
  }
}

function tooLarge(): ProblemError {
  return new ProblemError(413, 'too-large', 'The request is too large.', 'Send less at once.')
}

/** The site that a batch names, without reading all of it. */
function siteIn(text: string): string {
  const named = /"site"\s*:\s*"([^"]{1,40})"/.exec(text.slice(0, HEAD_LENGTH))
  if (named) return named[1]!
  // It may come later, or be missing: what is wrong with the batch is then said of the whole.
  return checkBatch(text, 0).site
}
