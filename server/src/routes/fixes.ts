import { createFix, deleteFix, getFix, listFixes, updateFix } from '@dust-trail/api'
import type { Question } from '@dust-trail/api'
import type { PriceResult } from '@dust-trail/core'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import type { FixRow, Models } from '../store/models.ts'
import { idOf, serve, siteOf } from './serve.ts'

export function fixRoutes(engines: Engines, { fixes }: Models): Router {
  const router = Router()
  const find = async (site: LoadedSite, params: Record<string, string>) => {
    const row = await fixes.findOne({ where: { id: idOf(params, 'such fix'), siteId: site.row.id } })
    if (!row) throw notFound('such fix')
    return row
  }
  serve(router, listFixes, async ({ params, body }) => {
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
  serve(router, getFix, async ({ params, body }) => {
    const site = siteOf(engines, params)
    const fix = shown((await find(site, params)).get({ plain: true }))
    return { fix, price: await priceOf(site, { lens: body.lens, selection: fix.selection }) }
  })
  serve(router, createFix, async ({ params, body, nowMs }) => {
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
  serve(router, updateFix, async ({ params, body, nowMs }) => {
    const row = await find(siteOf(engines, params), params)
    return shown((await row.update({ ...body, updatedMs: nowMs })).get({ plain: true }))
  })
  serve(router, deleteFix, async ({ params }) => {
    await (await find(siteOf(engines, params), params)).destroy()
    return { done: true as const }
  })
  return router
}

function priceOf({ engine, row }: LoadedSite, { lens, selection }: Question): Promise<PriceResult> {
  return engine.ask('price', lens, { selection, goal: row.goal })
}

function shown(row: FixRow): FixRow {
  return { ...row, createdMs: Number(row.createdMs), updatedMs: Number(row.updatedMs) }
}
