import { randomBytes } from 'node:crypto'
import {
  createSite,
  deleteSite,
  deleteVisitor,
  findVisitors,
  listRefusals,
  listSites,
  lookAtPage,
  previewRetention,
  saveGoals,
  setCapture,
  setStrainWeights,
  setThresholds,
  updateSite,
} from '@dust-trail/api'
import type { Site } from '@dust-trail/api'
import type { Goal } from '@dust-trail/core'
import { dayOf, distribution, pageGoal, pageOfGoal, TRAFFIC_CLASSES } from '@dust-trail/core'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import { countOfVisitor, countOlder, deleteVisitor as deleteVisitorOf } from '../store/retention.ts'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import type { Looks } from '../ingest/looks.ts'
import type { Refusals } from '../ingest/refusals.ts'
import { askerOf, roleOn } from '../people/guard.ts'
import type { People } from '../people/people.ts'
import { notFound, ProblemError } from '../problem.ts'
import { deleteSite as deleteSiteOf } from '../store/delete-site.ts'
import type { Models } from '../store/models.ts'
import type { Erased } from '../store/erased.ts'
import type { RetentionJob } from '../store/retention.ts'
import { handle, siteOf } from './endpoint-handler.ts'

/** All days that can be asked about. */
const EVER = { from: '1990-01-01', to: '2100-12-31' }
const MOST_VISITORS = 1000

export function siteRoutes({
  engines,
  models,
  sequelize,
  retention,
  ownOrigins,
  refusals,
  people,
  erased,
  looks,
}: {
  engines: Engines
  models: Models
  sequelize: Sequelize
  retention: RetentionJob
  ownOrigins: readonly string[]
  refusals: Refusals
  people: People
  erased: Erased
  looks: Looks
}): Router {
  const router = Router()
  const checked = (addresses: readonly string[]) => {
    const origins = [...new Set(addresses.map((address) => new URL(address).origin))]
    const taken = origins.find((origin) => ownOrigins.includes(origin))
    if (taken)
      throw new ProblemError(
        400,
        'own-origin',
        `${taken} is where Dust Trail itself is served.`,
        'Leave it out: recorded pages must never load anything from here.',
      )
    return origins
  }
  handle(router, listSites, ({ request }) => {
    const asker = askerOf(request)
    return engines
      .all()
      .filter(({ row }) => asker && roleOn(asker, row.id) !== undefined)
      .map(describe)
  })
  handle(router, createSite, async ({ request, body }) => {
    const origins = checked(body.origins)
    const row = await models.sites.create({
      ...body,
      origins,
      key: await freeKey(models, body.name),
      goal: '',
      goals: [],
      retentionDays: null,
      recordingDays: null,
      auditDays: 730,
      pageGroups: [],
      thresholds: {},
      strainWeights: {},
      // Of a page nobody has looked at yet as little as can be.
      capture: { text: 'hidden', consent: 'free', share: 1, drawings: false, pictures: 'kept' },
    })
    const site = row.get({ plain: true })
    const account = askerOf(request)?.account
    if (account) await people.setRole(account.id, site.id, 'owner')
    return describe(engines.add(site))
  })
  handle(router, updateSite, async ({ params, body }) => {
    const site = siteOf(engines, params)
    // Who names a page as the goal means the main one.
    const goals = body.goal === site.row.goal ? site.row.goals : withMainPage(site.row.goals, body.goal)
    const main = body.goal === site.row.goal ? body.goal : pageOfMain(goals)
    const { auditDays = site.row.auditDays } = body
    const changes = { ...body, auditDays, goal: main, goals, origins: checked(body.origins) }
    await models.sites.update(changes, { where: { id: site.row.id } })
    site.row = { ...site.row, ...changes }
    void retention.keep(site)
    return describe(site)
  })
  handle(router, saveGoals, async ({ params, body: { goals } }) => {
    const site = siteOf(engines, params)
    const twice = goals.find(({ name }, k) => goals.findIndex((one) => one.name === name) !== k)
    if (twice)
      throw new ProblemError(
        400,
        'name-taken',
        `Two goals are called “${twice.name}”.`,
        'Give each a name of its own.',
      )
    const changes = { goals, goal: pageOfMain(goals) }
    await models.sites.update(changes, { where: { id: site.row.id } })
    site.row = { ...site.row, ...changes }
    return describe(site)
  })
  handle(router, deleteSite, async ({ params, body, nowMs }) => {
    const site = siteOf(engines, params)
    if (body.name.trim() !== site.row.name)
      throw new ProblemError(
        400,
        'other-name',
        `The site is not called “${body.name}”.`,
        'Write its name as it stands in Setup.',
        { fields: [{ field: 'name', reason: 'is another one' }] },
      )
    const sessions = site.engine.extent()?.sessions ?? 0
    await deleteSiteOf(sequelize, site.row.id)
    engines.remove(site.row.key)
    void retention.clear()
    return { site: site.row.key, sessions, atMs: nowMs }
  })
  handle(router, findVisitors, async ({ params, body, signal }) => {
    const { engine } = siteOf(engines, params)
    const prop = { key: body.property, text: { is: 'equal' as const, to: body.value } }
    const selection = { type: 'where' as const, condition: { type: 'event' as const, event: { prop } } }
    const options = { measure: null, by: 'visitor' as const, quantiles: [], bins: 0 }
    // Programs too: whoever asks for their data may have been taken for one.
    const found = await Promise.all(
      [[], [...TRAFFIC_CLASSES]].map((devices) =>
        engine.ask(distribution, { ...EVER, devices }, { selection, options }, { signal, keep: false }),
      ),
    )
    const visitors = new Set(found.flatMap(({ values }) => values.map(({ value }) => value)))
    visitors.delete('')
    return { visitors: [...visitors].sort().slice(0, MOST_VISITORS) }
  })
  handle(router, setThresholds, async ({ params, body }) => {
    const site = siteOf(engines, params)
    await models.sites.update({ thresholds: body }, { where: { id: site.row.id } })
    site.row = { ...site.row, thresholds: body }
    return describe(site)
  })
  handle(router, setStrainWeights, async ({ params, body }) => {
    const site = siteOf(engines, params)
    await models.sites.update({ strainWeights: body }, { where: { id: site.row.id } })
    site.row = { ...site.row, strainWeights: body }
    return describe(site)
  })
  handle(router, setCapture, async ({ params, body }) => {
    const site = siteOf(engines, params)
    await models.sites.update({ capture: body }, { where: { id: site.row.id } })
    site.row = { ...site.row, capture: body }
    return describe(site)
  })
  handle(router, lookAtPage, ({ params, request, body }) => ({
    left: looks.since(siteOf(engines, params).row.id, request.ip ?? '', body.after),
  }))
  handle(router, listRefusals, ({ params }) => refusals.list(siteOf(engines, params).row.id))
  handle(router, previewRetention, ({ params, body, nowMs }) =>
    countOlder(sequelize, siteOf(engines, params).row.id, body, nowMs),
  )
  handle(router, deleteVisitor, async ({ params, nowMs }) => {
    const { row } = siteOf(engines, params)
    const visitor = params['visitor'] ?? ''
    const gone = await deleteVisitorOf(sequelize, row.id, visitor)
    if (!gone.length) throw notFound(`visitor “${visitor}” on ${row.name}`)
    await erased.add(row.id, visitor)
    engines.changed(row, { changed: [], gone })
    const left = await countOfVisitor(sequelize, row.id, visitor, gone)
    return { visitor, sessions: gone.length, ids: gone.map(String), atMs: nowMs, left }
  })
  return router
}

/** The page whose view is the main goal; "" where it is something else or none is set. */
const pageOfMain = ([main]: readonly Goal[]): string => (main && pageOfGoal(main)) ?? ''

/** Goals with the view of a page as the main one, in place of a page that was it; none in its place where it is "". */
function withMainPage(goals: readonly Goal[], page: string): Goal[] {
  const others = pageOfMain(goals) ? goals.slice(1) : [...goals]
  return page ? [pageGoal(page), ...others.filter(({ name }) => name !== page)] : others
}

/** A key from a site's name that no other site has. */
async function freeKey(models: Models, name: string): Promise<string> {
  const words = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 20)
  for (;;) {
    const key = `${words || 'site'}-${randomBytes(6).toString('hex')}`
    if (!(await models.sites.count({ where: { key } }))) return key
  }
}

/** What there is to say about a site. */
export function describe(site: LoadedSite): Site {
  const { id: _, ...row } = site.row
  const extent = site.engine.extent()
  return {
    ...row,
    sessions: extent?.sessions ?? 0,
    days: extent
      ? { from: dayOf(extent.firstMs, row.timeZone), to: dayOf(extent.lastMs, row.timeZone) }
      : null,
    lastMs: extent?.lastMs ?? null,
    damaged: site.damaged,
    loading: site.loading,
    full: site.engine.fullDictionaries(),
    streamed: site.engine.size().streamed,
  }
}
