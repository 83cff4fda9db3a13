import {
  addMark,
  createTrail,
  deleteMark,
  deleteTrail,
  drawMark,
  listTrails,
  orderMarks,
  renameTrail,
  updateMark,
} from '@dust-trail/api'
import type { Question, Shown, Trail } from '@dust-trail/api'
import type { Rate } from '@dust-trail/core'
import { rate, size } from '@dust-trail/core'
import type { Request } from 'express'
import { Router } from 'express'
import { Op } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound, ProblemError } from '../problem.ts'
import type { MarkRow, Models, TrailRow } from '../store/models.ts'
import { whyDead } from './dead-marks.ts'
import { askerOf } from '../people/guard.ts'
import type { Asked } from './endpoint-handler.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'
import { pictureOf } from './pictures.ts'

export function trailRoutes(engines: Engines, { trails, marks }: Models): Router {
  const router = Router()

  const whole = async (site: LoadedSite, trail: TrailRow): Promise<Trail> => {
    const rows = await marks.findAll({ where: { trailId: trail.id }, order: ['position', 'id'] })
    const marked = await Promise.all(rows.map((row) => shown(site, row.get({ plain: true }))))
    return { id: trail.id, name: trail.name, own: trail.accountId !== null, marks: marked }
  }
  /** Those that whoever asks may see: everybody's, and their own. */
  const seenBy = (site: LoadedSite, request: Request) => ({
    siteId: site.row.id,
    accountId: { [Op.or]: [null, askerOf(request)?.account?.id ?? null] },
  })
  const find = async (site: LoadedSite, { params, request }: Pick<Asked<unknown>, 'params' | 'request'>) => {
    const row = await trails.findOne({
      where: { id: idOf(params, 'such trail'), ...seenBy(site, request) },
    })
    if (!row) throw notFound('such trail')
    return row
  }
  const findMark = async (
    site: LoadedSite,
    { params, request }: Pick<Asked<unknown>, 'params' | 'request'>,
  ) => {
    const row = await marks.findByPk(idOf(params, 'such mark'))
    const trail =
      row && (await trails.findOne({ where: { id: row.get('trailId') as number, ...seenBy(site, request) } }))
    if (!row || !trail) throw notFound('such mark')
    return row
  }

  handle(router, listTrails, async ({ params, request }) => {
    const site = siteOf(engines, params)
    const rows = await trails.findAll({ where: seenBy(site, request), order: ['id'] })
    return Promise.all(rows.map((row) => whole(site, row.get({ plain: true }))))
  })
  handle(router, createTrail, async ({ params, request, body: { name, own } }) => {
    const site = siteOf(engines, params)
    const accountId = own ? (askerOf(request)?.account?.id ?? null) : null
    if (own && accountId === null)
      throw new ProblemError(
        400,
        'no-account',
        'Nobody is signed in whose own it could be.',
        'Leave out “own”: as long as there is no account, everything is seen on this computer alone.',
      )
    return whole(site, (await trails.create({ siteId: site.row.id, name, accountId })).get({ plain: true }))
  })
  handle(router, renameTrail, async (asked) => {
    const site = siteOf(engines, asked.params)
    const row = await (await find(site, asked)).update({ name: asked.body.name })
    return whole(site, row.get({ plain: true }))
  })
  handle(router, deleteTrail, async (asked) => {
    await (await find(siteOf(engines, asked.params), asked)).destroy()
    return { done: true as const }
  })
  handle(router, addMark, async ({ params, request, body, nowMs }) => {
    const site = siteOf(engines, params)
    const trail = (await find(site, { params, request })).get({ plain: true })
    const last = await marks.count({ where: { trailId: trail.id } })
    const row = await marks.create({
      trailId: trail.id,
      position: last + 1,
      ...body,
      then: await measure(site, body.question),
      picture: await pictureOf(site, body.question, body.shows),
      createdMs: nowMs,
    })
    return shown(site, row.get({ plain: true }))
  })
  handle(router, updateMark, async (asked) => {
    const site = siteOf(engines, asked.params)
    return shown(site, (await (await findMark(site, asked)).update(asked.body)).get({ plain: true }))
  })
  handle(router, drawMark, async ({ params, request, body: { lens } }) => {
    const site = siteOf(engines, params)
    const { question, shows } = (await findMark(site, { params, request })).get({ plain: true })
    return pictureOf(site, lens ? { ...question, lens } : question, shows ?? FIGURE)
  })
  handle(router, deleteMark, async (asked) => {
    await (await findMark(siteOf(engines, asked.params), asked)).destroy()
    return { done: true as const }
  })
  handle(router, orderMarks, async ({ params, request, body }) => {
    const site = siteOf(engines, params)
    const trail = (await find(site, { params, request })).get({ plain: true })
    const rows = await marks.findAll({ where: { trailId: trail.id } })
    const ids = rows.map((row) => row.get('id') as number)
    if (ids.length !== body.marks.length || !ids.every((id) => body.marks.includes(id)))
      throw new ProblemError(
        409,
        'marks-changed',
        'The trail has other marks by now.',
        'Reload the trail and order it again.',
      )
    await marks.sequelize!.transaction(async (transaction) => {
      for (const row of rows)
        await row.update({ position: body.marks.indexOf(row.get('id') as number) + 1 }, { transaction })
    })
    return whole(site, trail)
  })
  return router
}

/** What marks show that were set before there was anything else. */
const FIGURE: Shown = { form: 'figure' }

/** The numbers of a mark: the selection's sessions, of those it could have picked. */
function measure({ engine }: LoadedSite, { lens, selection }: Question): Promise<Rate> {
  return engine.ask(size, lens, { selection })
}

/** One whose question cannot be answered any more stays, with the reason: the others of its trail are not lost over it. */
async function shown(site: LoadedSite, row: MarkRow) {
  const { question, then } = row
  const mark = { ...row, shows: row.shows ?? FIGURE, createdMs: Number(row.createdMs) }
  try {
    const now = await measure(site, question)
    return { ...mark, now, dead: await whyDead(site, question, then, now, Date.now()) }
  } catch (error) {
    if (!(error instanceof ProblemError) || error.status >= 500) throw error
    return { ...mark, now: rate(0, 0), dead: `It can no longer be asked: ${error.message}` }
  }
}
