import {
  commentFix,
  createFix,
  deleteFix,
  dismiss,
  getFix,
  listDismissed,
  listFixes,
  mergeFix,
  orderFixes,
  splitFix,
  undismiss,
  updateFix,
  verifyFix,
} from '@dust-trail/api'
import type { Fix, FixEvent, Question } from '@dust-trail/api'
import type { Lens, PriceAnswer, Rate, Selection, Verification, Windows } from '@dust-trail/core'
import { goals, price, rate, size, strain, verify, verifyWindows } from '@dust-trail/core'
import { Router } from 'express'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound, ProblemError } from '../problem.ts'
import type { FixRow, Models } from '../store/models.ts'
import { handle, idOf, siteOf } from './endpoint-handler.ts'
import { describe } from './sites.ts'

const DAY_MS = 86_400_000

export function fixRoutes(engines: Engines, { fixes, fixEvents, dismissed }: Models): Router {
  const router = Router()
  const find = async (site: LoadedSite, id: number) => {
    const row = await fixes.findOne({ where: { id, siteId: site.row.id } })
    if (!row) throw notFound('such fix')
    return row
  }
  const named = (site: LoadedSite, params: Record<string, string>) => find(site, idOf(params, 'such fix'))
  const note = (fixId: number, atMs: number, kind: FixEvent['kind'], words: string) =>
    fixEvents.create({ fixId, atMs, kind, words })
  const historyOf = async (fixId: number): Promise<FixEvent[]> =>
    (await fixEvents.findAll({ where: { fixId }, order: ['id'] })).map((row) => {
      const { atMs, kind, words } = row.get({ plain: true })
      return { atMs: Number(atMs), kind, words }
    })
  const lastPlace = async (site: LoadedSite, status: string) =>
    1 + (Number(await fixes.max('position', { where: { siteId: site.row.id, status } })) || 0)

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
    const fix = shown((await named(site, params)).get({ plain: true }))
    const [now, history] = await Promise.all([
      priceOf(site, { lens: body.lens, selection: fix.selection }),
      historyOf(fix.id),
    ])
    return { fix, price: now, history }
  })
  handle(router, createFix, async ({ params, body, nowMs }) => {
    const site = siteOf(engines, params)
    const row = await fixes.create({
      siteId: site.row.id,
      ...body,
      evidence: await priceOf(site, body),
      position: await lastPlace(site, body.status),
      verified: null,
      createdMs: nowMs,
      updatedMs: nowMs,
    })
    const fix = shown(row.get({ plain: true }))
    await note(fix.id, nowMs, 'created', `written down as ${fix.status}`)
    return fix
  })
  // Before what takes an id: its path looks like one.
  handle(router, orderFixes, async ({ params, body: { status, ids }, nowMs }) => {
    const site = siteOf(engines, params)
    const rows = await Promise.all(ids.map((id) => find(site, id)))
    for (const [k, row] of rows.entries()) {
      // As it was: the row itself changes with what is written.
      const before = { ...row.get({ plain: true }) }
      const moved = before.status !== status
      await row.update({
        position: k + 1,
        ...(moved && { status, updatedMs: nowMs, ...(await onStatus(site, { ...before, status }, nowMs)) }),
      })
      if (moved) await note(before.id, nowMs, 'status', `${before.status} → ${status}`)
    }
    return rows.map((row) => shown(row.get({ plain: true })))
  })
  handle(router, updateFix, async ({ params, body: { reason, ...body }, nowMs }) => {
    const site = siteOf(engines, params)
    const row = await named(site, params)
    const before = shown(row.get({ plain: true }))
    const moved = before.status !== body.status
    await row.update({
      ...body,
      updatedMs: nowMs,
      ...(moved && {
        position: await lastPlace(site, body.status),
        ...(await onStatus(site, { ...before, ...body }, nowMs)),
      }),
    })
    const why = reason ? `: ${reason}` : ''
    if (moved) await note(before.id, nowMs, 'status', `${before.status} → ${body.status}${why}`)
    const changed = CHANGING.filter(
      ([field]) => JSON.stringify(before[field]) !== JSON.stringify(body[field]),
    )
    if (changed.length)
      await note(
        before.id,
        nowMs,
        'changed',
        changed
          .map(([field, words]) => `${words}: ${inWords(before[field])} → ${inWords(body[field])}`)
          .join('; '),
      )
    return shown(row.get({ plain: true }))
  })
  handle(router, deleteFix, async ({ params }) => {
    await (await named(siteOf(engines, params), params)).destroy()
    return { done: true as const }
  })
  handle(router, commentFix, async ({ params, body: { text }, nowMs }) => {
    const row = await named(siteOf(engines, params), params)
    await note(row.get('id') as number, nowMs, 'comment', text)
    return historyOf(row.get('id') as number)
  })
  handle(router, mergeFix, async ({ params, body: { other }, nowMs }) => {
    const site = siteOf(engines, params)
    const row = await named(site, params)
    const into = shown(row.get({ plain: true }))
    if (other === into.id)
      throw new ProblemError(400, 'same-fix', 'A fix cannot be merged with itself.', 'Name another one.')
    const gone = await find(site, other)
    const from = shown(gone.get({ plain: true }))
    await row.update({
      selection: eitherOf(into.selection, from.selection),
      markIds: [...new Set([...into.markIds, ...from.markIds])],
      links: [...new Set([...into.links, ...from.links])],
      updatedMs: nowMs,
    })
    await fixEvents.update({ fixId: into.id }, { where: { fixId: from.id } })
    await note(into.id, nowMs, 'merged', `“${from.title}” is part of it now: ${from.hypothesis}`)
    await gone.destroy()
    return shown(row.get({ plain: true }))
  })
  handle(router, splitFix, async ({ params, body: { title }, nowMs }) => {
    const site = siteOf(engines, params)
    const { id, ...from } = shown((await named(site, params)).get({ plain: true }))
    const row = await fixes.create({
      ...from,
      ...{ title, siteId: site.row.id, verified: null, createdMs: nowMs, updatedMs: nowMs },
      position: await lastPlace(site, from.status),
    })
    const made = shown(row.get({ plain: true }))
    await note(made.id, nowMs, 'split', `taken out of “${from.title}”`)
    await note(id, nowMs, 'split', `“${title}” was taken out of it`)
    return made
  })
  handle(router, verifyFix, async ({ params }) => {
    const site = siteOf(engines, params)
    return verification(site, shown((await named(site, params)).get({ plain: true })))
  })

  handle(router, listDismissed, async ({ params }) => {
    const site = siteOf(engines, params)
    const rows = await dismissed.findAll({ where: { siteId: site.row.id }, order: ['id'] })
    return rows.map((row) => ({ ...row.get({ plain: true }), atMs: Number(row.get('atMs')) }))
  })
  handle(router, dismiss, async ({ params, body, nowMs }) => {
    const site = siteOf(engines, params)
    const row = await dismissed.create({ siteId: site.row.id, ...body, atMs: nowMs })
    return row.get({ plain: true })
  })
  handle(router, undismiss, async ({ params }) => {
    const site = siteOf(engines, params)
    const id = idOf(params, 'such dismissed problem')
    if (!(await dismissed.destroy({ where: { id, siteId: site.row.id } })))
      throw notFound('such dismissed problem')
    return { done: true as const }
  })
  return router
}

/** What is kept with a new status: the day it was shipped, what was found when it was verified. */
async function onStatus(site: LoadedSite, fix: Fix, nowMs: number): Promise<Partial<Fix>> {
  if (fix.status === 'shipped' && !fix.shippedDay) {
    const { timeZone } = site.row
    return { shippedDay: new Intl.DateTimeFormat('en-CA', { timeZone }).format(nowMs) }
  }
  if (fix.status !== 'verified') return {}
  const { verification: found, after } = await verification(site, fix)
  if (!found || !after)
    throw new ProblemError(
      409,
      'not-verifiable',
      fix.shippedDay
        ? 'There is no full day with data after the day it was shipped.'
        : 'It is not known when it was shipped.',
      fix.shippedDay ? 'Wait until there is.' : 'Set its status to shipped, with the day, first.',
    )
  return { verified: { atMs: nowMs, verdict: found.verdict, reason: found.reason, met: after } }
}

/** Before and after it was shipped: what was measured, and what can be said of it. */
async function verification(
  site: LoadedSite,
  fix: Fix,
): Promise<{ windows: Windows | null; verification: Verification | null; after?: Rate }> {
  const days = describe(site).days
  // The last day with data is hardly ever full.
  const last = days && new Date(Date.parse(days.to) - DAY_MS).toISOString().slice(0, 10)
  const windows = fix.shippedDay && last ? verifyWindows(fix.shippedDay, last) : undefined
  if (!windows) return { windows: null, verification: null }
  const [before, after] = await Promise.all(
    [windows.before, windows.after].map((window) => sideOf(site, { ...fix.lens, ...window }, fix.selection)),
  )
  return { windows, verification: verify(before!, after!), after: after!.met }
}

async function sideOf({ engine }: LoadedSite, lens: Lens, selection: Selection) {
  const [met, converted, hard, reached] = await Promise.all([
    engine.ask(size, lens, { selection }),
    engine.ask(price, lens, { selection }),
    engine.ask(strain, lens, { by: null }),
    engine.ask(goals, lens, { by: null }),
  ])
  return {
    met,
    converted: rate(converted.met.hits + converted.others.hits, converted.met.base + converted.others.base),
    strain: { n: hard.sessions, mean: hard.mean, deviation: hard.deviation, interval: hard.interval },
    goals: reached.goals,
  }
}

/** Sessions that met one problem or the other. */
function eitherOf(a: Selection, b: Selection): Selection {
  return {
    type: 'where',
    condition: { type: 'any', of: [a, b].map((selection) => ({ type: 'selected' as const, selection })) },
  }
}

const CHANGING = [
  ['title', 'title'],
  ['hypothesis', 'because'],
  ['belief', 'belief'],
  ['change', 'change'],
  ['expectation', 'expectation'],
  ['effort', 'effort'],
  ['owner', 'owner'],
  ['links', 'links'],
  ['expectedGain', 'expected gain'],
  ['shippedDay', 'day shipped'],
] as const

/** As it stands in the history: long texts are not repeated there. */
function inWords(value: string | number | readonly string[] | null): string {
  const text = value === null ? '' : Array.isArray(value) ? value.join(' ') : String(value)
  return text === '' ? 'nothing' : text.length > 80 ? `“${text.slice(0, 80)} …”` : `“${text}”`
}

function priceOf({ engine }: LoadedSite, { lens, selection }: Question): Promise<PriceAnswer> {
  return engine.ask(price, lens, { selection })
}

function shown(row: FixRow): FixRow {
  return { ...row, createdMs: Number(row.createdMs), updatedMs: Number(row.updatedMs) }
}
