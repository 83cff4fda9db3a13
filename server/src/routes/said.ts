import {
  addLink,
  addNote,
  deleteLink,
  deleteNote,
  getSaid,
  listSaid,
  setTags,
  setWatched,
} from '@dust-trail/api'
import type { Request } from 'express'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import type { Engines } from '../engine/engines.ts'
import { askerOf } from '../people/guard.ts'
import { notFound } from '../problem.ts'
import { SaidOfSessions } from '../store/said.ts'
import { handle, siteOf } from './endpoint-handler.ts'
import { placeOf } from './sessions.ts'

const DAY_MS = 86_400_000
const whoIs = (request: Request) => askerOf(request)?.who ?? ''

/** Notes, tags, links of sessions, and whether they have been watched. */
export function saidRoutes(engines: Engines, sequelize: Sequelize): Router {
  const router = Router()
  const said = new SaidOfSessions(sequelize)
  const find = async (params: Record<string, string>) => {
    const site = siteOf(engines, params)
    const id = params['id'] ?? ''
    await placeOf(site, id)
    return { siteId: site.row.id, id }
  }
  const number = (text: string | undefined, what: string) => {
    const id = Number(text)
    if (!Number.isSafeInteger(id) || id < 1) throw notFound(what)
    return id
  }

  handle(router, listSaid, ({ params, request }) => said.list(siteOf(engines, params).row.id, whoIs(request)))
  handle(router, getSaid, async ({ params, request, nowMs }) => {
    const { siteId, id } = await find(params)
    return said.of(siteId, id, whoIs(request), nowMs)
  })
  handle(router, addNote, async ({ params, body, request, nowMs }) => {
    const { siteId, id } = await find(params)
    const who = whoIs(request)
    await said.note(siteId, id, { ...body, who, nowMs })
    return said.of(siteId, id, who, nowMs)
  })
  for (const [endpoint, table, name] of [
    [deleteNote, 'session_notes', 'note'],
    [deleteLink, 'session_links', 'link'],
  ] as const)
    handle(router, endpoint, async ({ params, request, nowMs }) => {
      const { siteId, id } = await find(params)
      if (!(await said.remove(table, siteId, id, number(params[name], `such ${name}`))))
        throw notFound(`such ${name}`)
      return said.of(siteId, id, whoIs(request), nowMs)
    })
  handle(router, setTags, async ({ params, body, request, nowMs }) => {
    const { siteId, id } = await find(params)
    await said.tag(siteId, id, body.tags)
    return said.of(siteId, id, whoIs(request), nowMs)
  })
  handle(router, setWatched, async ({ params, body, request, nowMs }) => {
    const { siteId, id } = await find(params)
    const who = whoIs(request)
    await said.watched(siteId, id, who, body.watched, nowMs)
    return said.of(siteId, id, who, nowMs)
  })
  handle(router, addLink, async ({ params, body, request, nowMs }) => {
    const { siteId, id } = await find(params)
    const token = await said.link(
      { siteId, sessionId: id, fromMs: body.fromMs, toMs: body.toMs },
      { untilMs: nowMs + body.days * DAY_MS, who: whoIs(request), nowMs },
    )
    return { path: `/shared/${token}` }
  })
  return router
}
