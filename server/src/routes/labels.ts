import {
  createAction,
  deleteAction,
  listActions,
  listUrls,
  savePageGroups,
  updateAction,
} from '@dust-trail/api'
import type { Action } from '@dust-trail/api'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound, ProblemError } from '../problem.ts'
import type { ActionRow, Models } from '../store/models.ts'
import { idOf, serve, siteOf } from './serve.ts'
import { describe } from './sites.ts'

/** Page groups and actions: names that count for the past as well, since they are looked up, never stored with events. */
export function labelRoutes(engines: Engines, { actions, funnels, segments, sites }: Models): Router {
  const router = Router()
  const find = async (site: LoadedSite, params: Record<string, string>) => {
    const row = await actions.findOne({ where: { id: idOf(params, 'such action'), siteId: site.row.id } })
    if (!row) throw notFound('such action')
    return row
  }
  /** Names of what would not be the same without an action. */
  const usesOf = async (site: LoadedSite): Promise<(name: string) => string[]> => {
    const where = { siteId: site.row.id }
    const texts = [
      ...(await funnels.findAll({ where })).map((row) => row.get({ plain: true })),
      ...(await segments.findAll({ where })).map((row) => row.get({ plain: true })),
    ].map((one) => ({
      words: 'steps' in one ? `funnel “${one.name}”` : `segment “${one.name}”`,
      text: JSON.stringify('steps' in one ? [one.steps, one.options] : one.cut),
    }))
    return (name) =>
      texts.filter(({ text }) => text.includes(`"action":${JSON.stringify(name)}`)).map(({ words }) => words)
  }
  const shown = async (site: LoadedSite, row: ActionRow): Promise<Action> => ({
    ...row,
    usedBy: (await usesOf(site))(row.name),
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

  serve(router, listActions, async ({ params }) => {
    const site = siteOf(engines, params)
    const uses = await usesOf(site)
    const rows = await actions.findAll({ where: { siteId: site.row.id }, order: ['name'] })
    return rows.map((row) => {
      const action = row.get({ plain: true })
      return { ...action, usedBy: uses(action.name) }
    })
  })
  serve(router, createAction, async ({ params, body }) => {
    const site = siteOf(engines, params)
    await free(site, body.name)
    const row = await actions.create({ siteId: site.row.id, ...body })
    await engines.readActions(site)
    return shown(site, row.get({ plain: true }))
  })
  serve(router, updateAction, async ({ params, body }) => {
    const site = siteOf(engines, params)
    const row = await find(site, params)
    const known = row.get({ plain: true })
    await free(site, body.name, known.id)
    const used = (await usesOf(site))(known.name)
    if (body.name !== known.name && used.length)
      throw new ProblemError(
        409,
        'in-use',
        `“${known.name}” is used by ${used.join(', ')}, which know it by this name.`,
        'Change its rule freely; to rename it, take it out there first.',
      )
    await row.update(body)
    await engines.readActions(site)
    return shown(site, row.get({ plain: true }))
  })
  serve(router, deleteAction, async ({ params }) => {
    const site = siteOf(engines, params)
    const row = await find(site, params)
    const used = (await usesOf(site))(row.get('name') as string)
    if (used.length)
      throw new ProblemError(
        409,
        'in-use',
        `It is used by ${used.join(', ')}.`,
        'Take it out there first; then nothing changes behind your back.',
      )
    await row.destroy()
    await engines.readActions(site)
    return { done: true as const }
  })
  serve(router, savePageGroups, async ({ params, body: { pageGroups } }) => {
    const site = siteOf(engines, params)
    await sites.update({ pageGroups }, { where: { id: site.row.id } })
    site.row = { ...site.row, pageGroups }
    return describe(site)
  })
  serve(router, listUrls, ({ params, body: { lens }, signal }) =>
    siteOf(engines, params).engine.ask('urls', lens, {}, signal),
  )
  return router
}
