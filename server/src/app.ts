import { mayAs, openApi } from '@dust-trail/api'
import type { AnyQuestion } from '@dust-trail/core'
import compression from 'compression'
import type { ErrorRequestHandler, Express, Request, Response } from 'express'
import express from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import type { Sequelize } from 'sequelize'
import type { BodyLimits } from './body-guard.ts'
import { bodyGuard } from './body-guard.ts'
import type { Engines } from './engine/engines.ts'
import { noThread } from './engine/threads.ts'
import type { ImportJobs } from './import/jobs.ts'
import type { Health } from './health.ts'
import type { CollectBudgets } from './ingest/budgets.ts'
import type { Collector } from './ingest/collect.ts'
import { Looks } from './ingest/looks.ts'
import type { Refusals } from './ingest/refusals.ts'
import { methodsAllowed } from './methods.ts'
import { fromHere, knownHost } from './same-origin.ts'
import { Metrics } from './metrics.ts'
import { ProblemError } from './problem.ts'
import { requestLog } from './request-log.ts'
import type { CollectParts } from './routes/collect.ts'
import { collectRoutes } from './routes/collect.ts'
import { exportRoutes } from './routes/export.ts'
import { fixRoutes } from './routes/fixes.ts'
import { costRoutes } from './routes/costs.ts'
import { funnelRoutes } from './routes/funnels.ts'
import { importRoutes } from './routes/imports.ts'
import { labelRoutes } from './routes/labels.ts'
import { Audit } from './people/audit.ts'
import { guard, isHere, knowAsker, roleOn, whoAsks } from './people/guard.ts'
import type { Mail } from './people/mail.ts'
import { People } from './people/people.ts'
import { pathRoutes } from './routes/paths.ts'
import { peopleRoutes } from './routes/people.ts'
import { questionRoutes } from './routes/questions.ts'
import { segmentRoutes } from './routes/segments.ts'
import { saidRoutes } from './routes/said.ts'
import { sessionRoutes, sharedRoutes } from './routes/sessions.ts'
import { siteRoutes } from './routes/sites.ts'
import { trailRoutes } from './routes/trails.ts'
import { databaseProblem } from './store/database-problem.ts'
import type { Models } from './store/models.ts'
import { Erased } from './store/erased.ts'
import { KeptFiles } from './store/kept-files.ts'
import type { RetentionJob } from './store/retention.ts'

export interface AppParts {
  sequelize: Sequelize
  models: Models
  engines: Engines
  log: Logger
  /** where the built web application and capture script lie; undefined = the API alone */
  files: string | undefined
  /** addresses under which this server is reached */
  ownOrigins: readonly string[]
  jobs: ImportJobs
  retention: RetentionJob
  collector: Collector
  refusals: Refusals
  /** visitors who were deleted; one for all listeners */
  erased?: Erased
  /** pictures and fonts of recordings; one for all listeners */
  kept?: KeptFiles
  /** what owners look at while it comes; one for all listeners */
  looks?: Looks
  /** undefined = nobody asks */
  health?: Health
  budgets?: CollectBudgets
  /** that an uploaded file may have; none where it is missing */
  mostUploadBytes?: number
  /** how deeply nested, and of how many parts, what is asked may be */
  bodies?: BodyLimits
  /** where uploaded files wait while they are imported */
  folder: string
  /** under which people reach it, where that is not this computer alone */
  publicUrl?: string | undefined
  /** under which visitors reach collecting, where that is another address */
  collectUrl?: string | undefined
  /** proxies in front whose word on where a request comes from is taken */
  trustProxy?: string | undefined
  /** true: collecting has a listener of its own, and is not here */
  collectsElsewhere?: boolean
  /** sends invitations and links to new passwords; without it they go nowhere */
  mail?: Mail
  /** those of the product unless others are given */
  questions?: readonly AnyQuestion[]
}

/** The HTTP side: the API, collecting, and the built files. */
export function createApp({
  sequelize,
  models,
  engines,
  log,
  files,
  ownOrigins,
  jobs,
  retention,
  folder,
  questions,
  collector,
  refusals,
  health,
  budgets,
  mostUploadBytes,
  bodies,
  publicUrl,
  collectUrl,
  trustProxy,
  collectsElsewhere = false,
  mail = { send: () => Promise.resolve() },
  erased = new Erased(sequelize),
  kept = new KeptFiles(sequelize),
  looks = new Looks(),
}: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
  trust(app, trustProxy)
  app.use(requestLog(log))
  const metrics = new Metrics(engines, refusals)
  const people = new People(sequelize)
  engines.answersFull = (siteId) =>
    refusals.add(siteId, 'budget', 'answers kept for who asks again: the oldest had to go', Date.now())
  app.use(metrics.watch)
  // Before what is for people: nobody reads these answers, and there are many.
  if (!collectsElsewhere)
    app.use(
      '/collect',
      collectRoutes({
        ...{ engines, collector, refusals, erased, files: kept, looks, maySend: maySend(people) },
        ...(budgets && { budgets }),
      }),
    )
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          connectSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'", 'data:'],
          // Recorded pages show the site's own pictures; their frame narrows this down to the site's addresses.
          imgSrc: ["'self'", 'data:', 'http:', 'https:'],
          frameSrc: ["'self'"],
          formAction: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.get('/health/live', (_, response) => void response.json({ status: 'ok' }))
  if (health) {
    const look = async (_: Request, response: Response) => {
      const found = await health.look()
      response.status(found.status === 'ok' ? 200 : 503).json(found)
    }
    app.get('/health', look)
    app.get('/health/ready', look)
  }
  app.get('/metrics', async (_, response) => {
    response.type('text/plain; version=0.0.4').send(await metrics.text())
  })
  // What follows is for the people of this server, not for visitors of the sites it watches.
  app.use('/api', knownHost(publicUrl), fromHere(publicUrl))
  app.use(compression())
  // It was written when the product was built; here it is made only where nothing is built, or for other questions.
  const written = files && !questions ? join(files, 'openapi.json') : undefined
  app.get('/api/openapi.json', (_, response) => {
    if (written && existsSync(written)) response.sendFile(written)
    else response.type('json').send(JSON.stringify(openApi(questions)))
  })
  const api = express.Router()
  const audit = new Audit(sequelize, (error) => log.error({ err: error }, 'what was done could not be noted'))
  // Before anything is read or done: who asks, and whether they may.
  api.use(knowAsker(people), guard(engines, audit, questions))
  api.use((_request, _response, next) => {
    if (engines.answering) next()
    else throw noThread()
  })
  api.use(express.json({ limit: '1mb' }), bodyGuard(bodies))
  // Answers on a part of the data say so.
  api.use('/sites/:site', (request, response, next) => {
    const site = engines.get(request.params.site)
    // As of when an answer is: whatever was in the data by then is in it.
    if (site) response.setHeader('dust-trail-version', String(site.version))
    const loading = site?.loading
    if (loading) response.setHeader('dust-trail-loaded', `${loading.blocks}/${loading.of} blocks`)
    next()
  })
  api.use(
    peopleRoutes({ people, audit, mail, engines, publicUrl, collectUrl }),
    importRoutes(engines, jobs, folder, mostUploadBytes),
    exportRoutes(engines, sequelize),
    siteRoutes({ engines, models, sequelize, retention, ownOrigins, refusals, people, erased, looks }),
    questionRoutes(engines, sequelize, questions),
    sessionRoutes(engines, sequelize, kept),
    saidRoutes(engines, sequelize),
    funnelRoutes(engines, models),
    pathRoutes(engines, models),
    costRoutes(engines, sequelize, models),
    labelRoutes(engines, models),
    segmentRoutes(engines, models),
    fixRoutes(engines, models),
    trailRoutes(engines, models),
  )
  api.use(methodsAllowed(api))
  // Never the application's page in place of an answer.
  app.use('/api/v1', api)
  app.use('/api', () => {
    throw new ProblemError(404, 'not-found', 'There is nothing at this address.', 'Check the address.')
  })
  // Who has the link needs no account.
  app.use('/shared', sharedRoutes(engines, sequelize, kept))
  if (files) serveFiles(app, files)
  app.use(
    problems(log, ({ path }, message) => {
      const site = engines.get(/\/sites\/([^/]+)/.exec(path)?.[1] ?? '')
      if (site) refusals.add(site.row.id, 'budget', message, Date.now())
    }),
  )
  return app
}

/** What may face the world: taking in what visitors' browsers send, and the script that does. Nothing can be read here. */
export function createCollectApp({
  sequelize,
  engines,
  log,
  files,
  collector,
  refusals,
  budgets,
  trustProxy,
  erased = new Erased(sequelize),
  kept = new KeptFiles(sequelize),
  looks = new Looks(),
}: Pick<
  AppParts,
  | 'sequelize'
  | 'engines'
  | 'log'
  | 'files'
  | 'collector'
  | 'refusals'
  | 'budgets'
  | 'trustProxy'
  | 'erased'
  | 'kept'
  | 'looks'
>): Express {
  const app = express()
  app.disable('x-powered-by')
  trust(app, trustProxy)
  app.use(requestLog(log))
  app.use(
    '/collect',
    collectRoutes({
      ...{
        engines,
        collector,
        refusals,
        erased,
        files: kept,
        looks,
        maySend: maySend(new People(sequelize)),
      },
      ...(budgets && { budgets }),
    }),
  )
  if (files) serveScript(app, files)
  app.use(() => {
    throw new ProblemError(
      404,
      'not-found',
      'Only collecting is here.',
      'The application is on another port.',
    )
  })
  app.use(
    problems(log, () => {
      // What arrives beyond a budget is noted where it is taken in.
    }),
  )
  return app
}

/** An account that another program makes counts after so long. */
const NONE_MS = 1000

/** Editors of a site may send data for it from anywhere, and on a computer without accounts whoever sits there. */
function maySend(people: People): CollectParts['maySend'] {
  /** until when it is known that there is no account: programs send often */
  let noneUntilMs = 0
  return async (request, siteId) => {
    if (Date.now() < noneUntilMs && isHere(request)) return true
    const asker = await whoAsks(people, request)
    if (asker?.roles === null) noneUntilMs = Date.now() + NONE_MS
    const role = asker && roleOn(asker, siteId)
    return role !== undefined && mayAs(role, 'editor')
  }
}

function trust(app: Express, proxies: string | undefined): void {
  if (proxies === undefined) return
  app.set(
    'trust proxy',
    /^\d+$/.test(proxies) ? Number(proxies) : proxies.split(',').map((one) => one.trim()),
  )
}

function serveScript(app: Express, files: string): void {
  for (const name of ['capture.js', 'capture-more.js'])
    app.get(`/${name}`, (_, response) => {
      response.setHeader('cross-origin-resource-policy', 'cross-origin')
      response.setHeader('access-control-allow-origin', '*')
      response.sendFile(join(files, name), { maxAge: '1h' })
    })
}

function serveFiles(app: Express, files: string): void {
  serveScript(app, files)
  app.use(
    '/assets',
    express.static(join(files, 'web/assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  )
  app.use(express.static(join(files, 'web'), { index: false }))
  app.get('/{*path}', (_, response) => {
    response.setHeader('cache-control', 'no-cache')
    response.sendFile(join(files, 'web/index.html'))
  })
}

function problems(log: Logger, metBudget: (request: Request, message: string) => void): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error)
      return
    }
    const problem = asProblem(error)
    if (problem.status >= 500) log.error({ err: error, path: request.path }, 'request failed')
    if (problem.more.budget) metBudget(request, problem.message)
    const after = problem.more.retryAfterS ?? (problem.status === 503 ? 1 : 0)
    if (after) response.setHeader('retry-after', String(after))
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem.toProblem()))
  }
}

function asProblem(error: unknown): ProblemError {
  if (error instanceof ProblemError) return error
  const ofDatabase = databaseProblem(error)
  if (ofDatabase) return ofDatabase
  const status = (error as { status?: number } | null)?.status
  if (status === 413)
    return new ProblemError(413, 'too-large', 'The request is too large.', 'Send less at once.')
  if (status !== undefined && status >= 400 && status < 500)
    return new ProblemError(
      status,
      'bad-request',
      'The request cannot be read.',
      'Check the address and that the body is JSON.',
    )
  return new ProblemError(
    500,
    'internal',
    'Something went wrong on the server. Nothing that was acknowledged is lost.',
    'Try again; if it goes on, look at the server’s log.',
  )
}
