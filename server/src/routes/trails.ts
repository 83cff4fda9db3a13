import {
  addMark,
  createTrail,
  deleteMark,
  deleteTrail,
  listTrails,
  orderMarks,
  renameTrail,
  updateMark,
} from '@dust-trail/api'
import type { Question, Trail } from '@dust-trail/api'
import type { Rate } from '@dust-trail/core'
import { rate, size } from '@dust-trail/core'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound, ProblemError } from '../problem.ts'
import type { MarkRow, Models, TrailRow } from '../store/models.ts'
import { whyDead } from './dead-marks.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'

export function trailRoutes(engines: Engines, { trails, marks }: Models): Router {
  const router = Router()

  const whole = async (site: LoadedSite, trail: TrailRow): Promise<Trail> => {
    const rows = await marks.findAll({ where: { trailId: trail.id }, order: ['position', 'id'] })
    const marked = await Promise.all(rows.map((row) => shown(site, row.get({ plain: true }))))
    return { id: trail.id, name: trail.name, marks: marked }
  }
  const find = async (site: LoadedSite, params: Record<string, string>) => {
    const row = await trails.findOne({ where: { id: idOf(params, 'such trail'), siteId: site.row.id } })
    if (!row) throw notFound('such trail')
    return row
  }
  const findMark = async (site: LoadedSite, params: Record<string, string>) => {
    const row = await marks.findByPk(idOf(params, 'such mark'))
    const trail =
      row && (await trails.findOne({ where: { id: row.get('trailId') as number, siteId: site.row.id } }))
    if (!row || !trail) throw notFound('such mark')
    return row
  }

  handle(router, listTrails, async ({ params }) => {
    const site = siteOf(engines, params)
    const rows = await trails.findAll({ where: { siteId: site.row.id }, order: ['id'] })
    return Promise.all(rows.map((row) => whole(site, row.get({ plain: true }))))
  })
  handle(router, createTrail, async ({ params, body }) => {
    const site = siteOf(engines, params)
    return whole(site, (await trails.create({ siteId: site.row.id, name: body.name })).get({ plain: true }))
  })
  handle(router, renameTrail, async ({ params, body }) => {
    const site = siteOf(engines, params)
    return whole(site, (await (await find(site, params)).update({ name: body.name })).get({ plain: true }))
  })
  handle(router, deleteTrail, async ({ params }) => {
    await (await find(siteOf(engines, params), params)).destroy()
    return { done: true as const }
  })
  handle(router, addMark, async ({ params, body, nowMs }) => {
    const site = siteOf(engines, params)
    const trail = (await find(site, params)).get({ plain: true })
    const last = await marks.count({ where: { trailId: trail.id } })
    const row = await marks.create({
      trailId: trail.id,
      position: last + 1,
      ...body,
      then: await measure(site, body.question),
      createdMs: nowMs,
    })
    return shown(site, row.get({ plain: true }))
  })
  handle(router, updateMark, async ({ params, body }) => {
    const site = siteOf(engines, params)
    return shown(site, (await (await findMark(site, params)).update(body)).get({ plain: true }))
  })
  handle(router, deleteMark, async ({ params }) => {
    await (await findMark(siteOf(engines, params), params)).destroy()
    return { done: true as const }
  })
  handle(router, orderMarks, async ({ params, body }) => {
    const site = siteOf(engines, params)
    const trail = (await find(site, params)).get({ plain: true })
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

/** The numbers of a mark: the selection's sessions, of those it could have picked. */
function measure({ engine }: LoadedSite, { lens, selection }: Question): Promise<Rate> {
  return engine.ask(size, lens, { selection })
}

/** One whose question cannot be answered any more stays, with the reason: the others of its trail are not lost over it. */
async function shown(site: LoadedSite, row: MarkRow) {
  const { question, then } = row
  const mark = { ...row, createdMs: Number(row.createdMs) }
  try {
    const now = await measure(site, question)
    return { ...mark, now, dead: await whyDead(site, question, then, now, Date.now()) }
  } catch (error) {
    if (!(error instanceof ProblemError) || error.status >= 500) throw error
    return { ...mark, now: rate(0, 0), dead: `It can no longer be asked: ${error.message}` }
  }
}
