import { openApi } from '@dust-trail/api'
import compression from 'compression'
import type { ErrorRequestHandler, Express } from 'express'
import express from 'express'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { join } from 'node:path'
import type { Sequelize } from 'sequelize'
import type { Engines } from './engine/engines.ts'
import { Collector } from './ingest/collect.ts'
import { ProblemError } from './problem.ts'
import type { ImportJobs } from './import/jobs.ts'
import { collectRoutes } from './routes/collect.ts'
import { exportRoutes } from './routes/export.ts'
import { fixRoutes } from './routes/fixes.ts'
import { funnelRoutes } from './routes/funnels.ts'
import { importRoutes } from './routes/imports.ts'
import { labelRoutes } from './routes/labels.ts'
import { questionRoutes } from './routes/questions.ts'
import { segmentRoutes } from './routes/segments.ts'
import { sessionRoutes } from './routes/sessions.ts'
import { siteRoutes } from './routes/sites.ts'
import { trailRoutes } from './routes/trails.ts'
import type { Models } from './store/models.ts'
import type { Keeper } from './store/retention.ts'

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
  keeper: Keeper
  /** where uploaded files wait while they are imported */
  folder: string
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
  keeper,
  folder,
}: AppParts): Express {
  const app = express()
  app.disable('x-powered-by')
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
  app.use('/collect', collectRoutes(engines, new Collector(sequelize)))
  app.use(compression())
  const description = JSON.stringify(openApi())
  app.get('/api/openapi.json', (_, response) => {
    response.type('json').send(description)
  })
  const api = express.Router()
  api.use(express.json({ limit: '1mb' }))
  // Answers on a part of the data say so.
  api.use('/sites/:site', (request, response, next) => {
    const loading = engines.get(request.params.site)?.loading
    if (loading) response.setHeader('dust-trail-loaded', `${loading.blocks}/${loading.of} blocks`)
    next()
  })
  api.use(
    importRoutes(engines, jobs, folder),
    exportRoutes(engines, sequelize),
    siteRoutes({ engines, models, sequelize, keeper, ownOrigins }),
    questionRoutes(engines, sequelize),
    sessionRoutes(engines, sequelize),
    funnelRoutes(engines, models),
    labelRoutes(engines, models),
    segmentRoutes(engines, models),
    fixRoutes(engines, models),
    trailRoutes(engines, models),
  )
  api.use(() => {
    throw new ProblemError(404, 'not-found', 'There is nothing at this address.', 'Check the address.')
  })
  app.use('/api/v1', api)
  if (files) serveFiles(app, files)
  app.use(problems(log))
  return app
}

function serveFiles(app: Express, files: string): void {
  app.get('/capture.js', (_, response) => {
    response.setHeader('cross-origin-resource-policy', 'cross-origin')
    response.setHeader('access-control-allow-origin', '*')
    response.sendFile(join(files, 'capture.js'), { maxAge: '1h' })
  })
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

function problems(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error)
      return
    }
    const problem = asProblem(error)
    if (problem.status >= 500) log.error({ err: error, path: request.path }, 'request failed')
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(problem.toProblem()))
  }
}

function asProblem(error: unknown): ProblemError {
  if (error instanceof ProblemError) return error
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
