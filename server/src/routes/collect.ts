import express, { Router } from 'express'
import type { Engines } from '../engine/engines.ts'
import type { Collector } from '../ingest/collect.ts'
import { checkBatch } from '../ingest/collect.ts'
import { ProblemError, notFound } from '../problem.ts'

/** Takes in what capture scripts send. Answers 204 once a batch is durable, a repeat included. */
export function collectRoutes(engines: Engines, collector: Collector): Router {
  const router = Router()
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
  // Sent as text so that browsers ask no leave first and beacons may carry it.
  router.post('/', express.text({ type: () => true, limit: '8mb' }), async (request, response) => {
    const receivedMs = Date.now()
    const batch = checkBatch(typeof request.body === 'string' ? request.body : '', receivedMs)
    const site = engines.get(batch.site)
    if (!site) throw notFound(`site "${batch.site}"`)
    const { origin } = request.headers
    if (origin && !site.row.origins.includes(origin))
      throw new ProblemError(
        403,
        'foreign-origin',
        `Pages of ${origin} are not part of the site "${batch.site}".`,
        'Add the address under Setup if it is.',
      )
    const collected = await collector.collect(site.row, batch, receivedMs)
    engines.changed(site.row, collected)
    response.sendStatus(204)
  })
  return router
}
