import { createFunnel, deleteFunnel, listFunnels, updateFunnel } from '@dust-trail/api'
import { Router } from 'express'
import { Op } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import type { Models } from '../store/models.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'

type FunnelModel = InstanceType<Models['funnels']>

export function funnelRoutes(engines: Engines, { funnels }: Models): Router {
  const router = Router()
  /** Writes a funnel; where it is to be shown first, no other is any longer. */
  const write = async (site: LoadedSite, isDefault: boolean, save: () => Promise<FunnelModel>) => {
    const row = await save()
    const others = { siteId: site.row.id, id: { [Op.ne]: row.get('id') as number } }
    if (isDefault) await funnels.update({ isDefault: false }, { where: others })
    return row.get({ plain: true })
  }
  handle(router, listFunnels, async ({ params }) => {
    const rows = await funnels.findAll({
      where: { siteId: siteOf(engines, params).row.id },
      order: [['isDefault', 'DESC'], 'id'],
    })
    return rows.map((row) => row.get({ plain: true }))
  })
  handle(router, createFunnel, async ({ params, body }) => {
    const site = siteOf(engines, params)
    return write(site, body.isDefault, () => funnels.create({ siteId: site.row.id, ...body }))
  })
  handle(router, updateFunnel, async ({ params, body }) => {
    const site = siteOf(engines, params)
    const row = await funnels.findOne({ where: { id: idOf(params, 'such funnel'), siteId: site.row.id } })
    if (!row) throw notFound('such funnel')
    return write(site, body.isDefault, () => row.update(body))
  })
  handle(router, deleteFunnel, async ({ params }) => {
    const where = { id: idOf(params, 'such funnel'), siteId: siteOf(engines, params).row.id }
    if (!(await funnels.destroy({ where }))) throw notFound('such funnel')
    return { done: true as const }
  })
  return router
}
