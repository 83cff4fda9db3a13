import { listCosts, saveCosts } from '@dust-trail/api'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import type { Engines } from '../engine/engines.ts'
import type { Models } from '../store/models.ts'
import { handle, siteOf } from './endpoint-handler.ts'

/** What campaigns cost. */
export function costRoutes(engines: Engines, sequelize: Sequelize, { costs }: Models): Router {
  const router = Router()
  handle(router, listCosts, async ({ params }) => {
    const rows = await costs.findAll({
      where: { siteId: siteOf(engines, params).row.id },
      order: ['day', 'campaign', 'id'],
    })
    return rows.map((row) => {
      const { day, campaign, cost } = row.get({ plain: true })
      return { day, campaign, cost: Number(cost) }
    })
  })
  handle(router, saveCosts, async ({ params, body }) => {
    const siteId = siteOf(engines, params).row.id
    const days = [...new Set(body.costs.map(({ day }) => day))]
    await sequelize.transaction(async (transaction) => {
      await costs.destroy({ where: { siteId, day: days }, transaction })
      await costs.bulkCreate(
        body.costs.map((cost) => ({ siteId, ...cost })),
        { transaction },
      )
    })
    return { days: days.length, lines: body.costs.length }
  })
  return router
}
