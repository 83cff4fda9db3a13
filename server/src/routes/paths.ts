import { createPaths, deletePaths, listPaths, updatePaths } from '@dust-trail/api'
import { Router } from 'express'
import type { Engines } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import type { Models } from '../store/models.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'

/** Paths that are kept by name. */
export function pathRoutes(engines: Engines, { paths }: Models): Router {
  const router = Router()
  const whereOf = (params: Record<string, string>) => ({
    id: idOf(params, 'such paths'),
    siteId: siteOf(engines, params).row.id,
  })
  handle(router, listPaths, async ({ params }) => {
    const rows = await paths.findAll({
      where: { siteId: siteOf(engines, params).row.id },
      order: ['name', 'id'],
    })
    return rows.map((row) => row.get({ plain: true }))
  })
  handle(router, createPaths, async ({ params, body }) => {
    const row = await paths.create({ siteId: siteOf(engines, params).row.id, ...body })
    return row.get({ plain: true })
  })
  handle(router, updatePaths, async ({ params, body }) => {
    const row = await paths.findOne({ where: whereOf(params) })
    if (!row) throw notFound('such paths')
    return (await row.update(body)).get({ plain: true })
  })
  handle(router, deletePaths, async ({ params }) => {
    if (!(await paths.destroy({ where: whereOf(params) }))) throw notFound('such paths')
    return { done: true as const }
  })
  return router
}
