import { askClickHeat, askCloseUp, askFunnel, askPrice, getSnapshot, listSessions } from '@dust-trail/api'
import { clickHeat, closeUp, funnel, price, summarise, watchOrder } from '@dust-trail/core'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import type { Engines } from '../engine/engines.ts'
import { notFound } from '../problem.ts'
import { commonSnapshot, readSnapshot } from '../store/recordings.ts'
import { serve, siteOf } from './serve.ts'

/** Sessions asked for the page they saw, when one is chosen to draw a heat map on. */
const SNAPSHOT_SAMPLE = 2000

export function questionRoutes(engines: Engines, sequelize: Sequelize): Router {
  const router = Router()
  serve(router, askFunnel, ({ params, body }) => {
    const { engine } = siteOf(engines, params)
    return engine.ask(funnel, body.lens, { steps: body.steps, names: engine.names() })
  })
  serve(router, askCloseUp, ({ params, body }) => {
    const { engine } = siteOf(engines, params)
    return engine.ask(closeUp, body.lens, { selection: body.selection, names: engine.names() })
  })
  serve(router, askPrice, ({ params, body }) => {
    const { engine, row } = siteOf(engines, params)
    return engine.ask(price, body.lens, { selection: body.selection, goal: row.goal, names: engine.names() })
  })
  serve(router, listSessions, ({ params, body }) => {
    const { engine } = siteOf(engines, params)
    const all = engine
      .select(body.lens, body.selection)
      .flatMap(({ block, selected }) => summarise(block, selected, engine.dictionaries))
      .sort(watchOrder(body.order))
    return { total: all.length, sessions: all.slice(body.offset, body.offset + body.limit) }
  })
  serve(router, askClickHeat, async ({ params, body }) => {
    const { engine, row } = siteOf(engines, params)
    const names = engine.names()
    const heat = engine.ask(clickHeat, body.lens, { page: body.page, which: body.which, names })
    const group = names.groups.find(body.page)
    const pages = names.dictionaries.page.values.filter(
      (_, code) => code > 0 && names.groups.groupOf[code] === group,
    )
    const ids = engine
      .select(body.lens, { type: 'page', page: body.page })
      .flatMap(({ block, selected }) => [...selected.sessions].map((s) => String(block.sessions.id[s]!)))
      .slice(-SNAPSHOT_SAMPLE)
    return { ...heat, snapshot: await commonSnapshot(sequelize, row.id, pages, ids) }
  })
  serve(router, getSnapshot, async ({ params }) => {
    const snapshot = await readSnapshot(sequelize, params['hash'] ?? '')
    if (!snapshot) throw notFound('such recorded page')
    return snapshot
  })
  return router
}
