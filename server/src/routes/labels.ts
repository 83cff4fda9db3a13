import {
  createAction,
  deleteAction,
  listActions,
  listPageGroupUses,
  savePageGroups,
  updateAction,
} from '@dust-trail/api'
import type { Action } from '@dust-trail/api'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound, ProblemError } from '../problem.ts'
import type { ActionRow, Models } from '../store/models.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'
import { describe } from './sites.ts'
import { unused, usesIn } from './uses.ts'

const TAKE_OUT = 'Take it out there first; then nothing changes behind your back.'

/** Page groups and actions: names that count for the past as well, since they are looked up, never stored with events. */
export function labelRoutes(engines: Engines, models: Models): Router {
  const router = Router()
  const { actions, sites } = models
  const find = async (site: LoadedSite, params: Record<string, string>) => {
    const row = await actions.findOne({ where: { id: idOf(params, 'such action'), siteId: site.row.id } })
    if (!row) throw notFound('such action')
    return row
  }
  const usedBy = async (site: LoadedSite, name: string) =>
    (await usesIn(models, site.row)).actions.get(name) ?? []
  const shown = async (site: LoadedSite, row: ActionRow): Promise<Action> => ({
    ...row,
    usedBy: await usedBy(site, row.name),
  })
  const free = async (site: LoadedSite, name: string, besides?: number) => {
    const row = await actions.findOne({ where: { siteId: site.row.id, name } })
    if (row && row.get('id') !== besides)
      throw new ProblemError(
        409,
        'name-taken',
        `There is an action “${name}” already.`,
        'Choose another name.',
      )
  }

  handle(router, listActions, async ({ params }) => {
    const site = siteOf(engines, params)
    const uses = (await usesIn(models, site.row)).actions
    const rows = await actions.findAll({ where: { siteId: site.row.id }, order: ['name'] })
    return rows.map((row) => {
      const action = row.get({ plain: true })
      return { ...action, usedBy: uses.get(action.name) ?? [] }
    })
  })
  handle(router, createAction, async ({ params, body }) => {
    const site = siteOf(engines, params)
    await free(site, body.name)
    const row = await actions.create({ siteId: site.row.id, ...body })
    await engines.readActions(site)
    return shown(site, row.get({ plain: true }))
  })
  handle(router, updateAction, async ({ params, body }) => {
    const site = siteOf(engines, params)
    const row = await find(site, params)
    const action = row.get({ plain: true })
    await free(site, body.name, action.id)
    if (body.name !== action.name)
      unused(
        action.name,
        await usedBy(site, action.name),
        'Change its rule freely; to rename it, take it out there first.',
      )
    await row.update(body)
    await engines.readActions(site)
    return shown(site, row.get({ plain: true }))
  })
  handle(router, deleteAction, async ({ params }) => {
    const site = siteOf(engines, params)
    const row = await find(site, params)
    const name = row.get('name') as string
    unused(name, await usedBy(site, name), TAKE_OUT)
    await row.destroy()
    await engines.readActions(site)
    return { done: true as const }
  })
  handle(router, savePageGroups, async ({ params, body: { pageGroups } }) => {
    const site = siteOf(engines, params)
    const twice = pageGroups.find(({ name }, k) => pageGroups.findIndex((one) => one.name === name) !== k)
    if (twice)
      throw new ProblemError(
        400,
        'name-taken',
        `Two page groups are called “${twice.name}”.`,
        'Give each a name of its own.',
      )
    const uses = (await usesIn(models, site.row)).pages
    const left = new Set(pageGroups.map(({ name }) => name))
    for (const { name } of site.row.pageGroups) if (!left.has(name)) unused(name, uses.get(name), TAKE_OUT)
    await sites.update({ pageGroups }, { where: { id: site.row.id } })
    site.row = { ...site.row, pageGroups }
    return describe(site)
  })
  handle(router, listPageGroupUses, async ({ params }) => {
    const site = siteOf(engines, params)
    const uses = (await usesIn(models, site.row)).pages
    const names = site.row.pageGroups.map(({ name }) => name)
    return Object.fromEntries(names.flatMap((name) => (uses.has(name) ? [[name, uses.get(name)!]] : [])))
  })
  return router
}
