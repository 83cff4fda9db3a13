import { createFix, deleteFix, getFix, listFixes, updateFix } from '@dust-trail/api'
import type { Question } from '@dust-trail/api'
import type { PriceAnswer } from '@dust-trail/core'
import { price } from '@dust-trail/core'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import type { FixRow, Models } from '../store/models.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'

export function fixRoutes(engines: Engines, { fixes }: Models): Router {
  const router = Router()
  const find = async (site: LoadedSite, params: Record<string, string>) => {
    const row = await fixes.findOne({ where: { id: idOf(params, 'such fix'), siteId: site.row.id } })
    if (!row) throw notFound('such fix')
    return row
  }
  handle(router, listFixes, async ({ params, body }) => {
    const site = siteOf(engines, params)
    const rows = await fixes.findAll({ where: { siteId: site.row.id }, order: ['id'] })
    const priced = rows
      .map((row) => shown(row.get({ plain: true })))
      .map(async (fix) => ({
        fix,
        price: await priceOf(site, { lens: body.lens, selection: fix.selection }),
      }))
    return (await Promise.all(priced)).sort(
      (a, b) => (b.price.lost ?? -Infinity) - (a.price.lost ?? -Infinity) || a.fix.id - b.fix.id,
    )
  })
  handle(router, getFix, async ({ params, body }) => {
    const site = siteOf(engines, params)
    const fix = shown((await find(site, params)).get({ plain: true }))
    return { fix, price: await priceOf(site, { lens: body.lens, selection: fix.selection }) }
  })
  handle(router, createFix, async ({ params, body, nowMs }) => {
    const site = siteOf(engines, params)
    const row = await fixes.create({
      siteId: site.row.id,
      ...body,
      evidence: await priceOf(site, body),
      createdMs: nowMs,
      updatedMs: nowMs,
    })
    return shown(row.get({ plain: true }))
  })
  handle(router, updateFix, async ({ params, body, nowMs }) => {
    const row = await find(siteOf(engines, params), params)
    return shown((await row.update({ ...body, updatedMs: nowMs })).get({ plain: true }))
  })
  handle(router, deleteFix, async ({ params }) => {
    await (await find(siteOf(engines, params), params)).destroy()
    return { done: true as const }
  })
  return router
}

function priceOf({ engine }: LoadedSite, { lens, selection }: Question): Promise<PriceAnswer> {
  return engine.ask(price, lens, { selection })
}

function shown(row: FixRow): FixRow {
  return { ...row, createdMs: Number(row.createdMs), updatedMs: Number(row.updatedMs) }
}
