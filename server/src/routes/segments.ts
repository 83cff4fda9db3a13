import { createSegment, deleteSegment, listSegments, updateSegment } from '@dust-trail/api'
import type { Segment } from '@dust-trail/api'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound, ProblemError } from '../problem.ts'
import type { Models, SegmentRow } from '../store/models.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'

/** Saved segments, each with the one it was cut from. */
export function segmentRoutes(engines: Engines, { segments }: Models): Router {
  const router = Router()
  const find = async (site: LoadedSite, id: number) => {
    const row = await segments.findOne({ where: { id, siteId: site.row.id } })
    if (!row) throw notFound('such segment')
    return row
  }
  handle(router, listSegments, async ({ params }) => {
    const rows = await segments.findAll({ where: { siteId: siteOf(engines, params).row.id }, order: ['id'] })
    return rows.map((row) => shown(row.get({ plain: true })))
  })
  handle(router, createSegment, async ({ params, body, nowMs }) => {
    const site = siteOf(engines, params)
    if (body.parentId !== null) await find(site, body.parentId)
    const row = await segments.create({ siteId: site.row.id, ...body, createdMs: nowMs })
    return shown(row.get({ plain: true }))
  })
  handle(router, updateSegment, async ({ params, body }) => {
    const row = await find(siteOf(engines, params), idOf(params, 'such segment'))
    return shown((await row.update(body)).get({ plain: true }))
  })
  handle(router, deleteSegment, async ({ params }) => {
    const site = siteOf(engines, params)
    const id = idOf(params, 'such segment')
    const row = await find(site, id)
    const children = await segments.count({ where: { siteId: site.row.id, parentId: id } })
    if (children)
      throw new ProblemError(
        409,
        'in-use',
        `${children} ${children === 1 ? 'segment was' : 'segments were'} cut from it.`,
        'Delete those first.',
      )
    await row.destroy()
    return { done: true as const }
  })
  return router
}

function shown(row: SegmentRow): Segment {
  return { ...row, createdMs: Number(row.createdMs) }
}
