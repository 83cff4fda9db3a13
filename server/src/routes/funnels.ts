import { createFunnel, deleteFunnel, listFunnels, updateFunnel } from '@dust-trail/api'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import type { Models } from '../store/models.ts'
import { idOf, serve, siteOf } from './serve.ts'

export function funnelRoutes(engines: Engines, { funnels }: Models): Router {
  const router = Router()
  /** One funnel is shown first: another one no longer. */
  const onlyDefault = async (site: LoadedSite, isDefault: boolean) => {
    if (isDefault) await funnels.update({ isDefault: false }, { where: { siteId: site.row.id } })
  }
  serve(router, listFunnels, async ({ params }) => {
    const rows = await funnels.findAll({
      where: { siteId: siteOf(engines, params).row.id },
      order: [['isDefault', 'DESC'], 'id'],
    })
    return rows.map((row) => row.get({ plain: true }))
  })
  serve(router, createFunnel, async ({ params, body }) => {
    await onlyDefault(siteOf(engines, params), body.isDefault)
    const row = await funnels.create({ siteId: siteOf(engines, params).row.id, ...body })
    return row.get({ plain: true })
  })
  serve(router, updateFunnel, async ({ params, body }) => {
    const where = { id: idOf(params, 'such funnel'), siteId: siteOf(engines, params).row.id }
    const row = await funnels.findOne({ where })
    if (!row) throw notFound('such funnel')
    await onlyDefault(siteOf(engines, params), body.isDefault)
    return (await row.update(body)).get({ plain: true })
  })
  serve(router, deleteFunnel, async ({ params }) => {
    const where = { id: idOf(params, 'such funnel'), siteId: siteOf(engines, params).row.id }
    if (!(await funnels.destroy({ where }))) throw notFound('such funnel')
    return { done: true as const }
  })
  return router
}
