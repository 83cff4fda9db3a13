import { findSessions, getLines, getRecording, getSession } from '@dust-trail/api'
import type { SessionLine, SessionMoment } from '@dust-trail/api'
import {
  eventWords,
  goalMs,
  KINDS,
  mainGoal,
  NO_EVENT,
  sessionIds,
  sessionNumber,
  SessionSet,
  SIGNAL_KINDS,
  signalTraits,
  STRAIN_WEIGHTS,
  storyOf,
  summarise,
  withTrail,
} from '@dust-trail/core'
import type { Kind, Names, ReplayFile, SessionSummary } from '@dust-trail/core'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import type { Place } from '../engine/site-engine.ts'
import { askerOf } from '../people/guard.ts'
import { notFound } from '../problem.ts'
import { cutOut, replayPage } from '../replay-file.ts'
import type { KeptFiles } from '../store/kept-files.ts'
import { lineTexts } from '../store/packed-lines.ts'
import { readRecording } from '../store/recordings.ts'
import { searchRecordings } from '../store/search-recordings.ts'
import { SaidOfSessions } from '../store/said.ts'
import { handle, siteOf } from './endpoint-handler.ts'

/** Recordings are searched for so long, and so many sessions are told. */
const SEARCH_MS = 5000
const MOST_FOUND = 200
/** That a session as one page has in it of pictures and fonts. */
const MOST_FILE_BYTES = 30_000_000

/** Kinds that are too many and too small to be moments of their own. */
const MINOR: readonly Kind[] = ['scroll', 'leave', 'seen', 'rest']

export function sessionRoutes(engines: Engines, sequelize: Sequelize, kept: KeptFiles): Router {
  const router = Router()
  const said = new SaidOfSessions(sequelize)
  handle(router, getSession, async ({ params }) => told(siteOf(engines, params), params['id'] ?? ''))
  handle(router, getRecording, async ({ params }) => {
    const site = siteOf(engines, params)
    const id = params['id'] ?? ''
    const { block, session } = await placeOf(site, id)
    return {
      startMs: block.sessions.startMs[session]!,
      endMs: block.sessions.endMs[session]!,
      ...(await readRecording(sequelize, id)),
    }
  })
  handle(router, getLines, async ({ params }) => {
    const id = params['id'] ?? ''
    await placeOf(siteOf(engines, params), id)
    return { lines: await linesOf(sequelize, id) }
  })
  handle(router, findSessions, async ({ params, body, request, signal }) => {
    const site = siteOf(engines, params)
    const { lens, selection, words, tag, unwatched } = body
    const { ids } = await site.engine.ask(sessionIds, lens, { selection }, { signal })
    const told = tag !== null || unwatched ? await said.list(site.row.id, askerOf(request)?.who ?? '') : null
    const tagged = tag === null ? null : new Set(told?.tags.find((one) => one.tag === tag)?.sessions)
    const watched = new Set(unwatched ? told?.watched : [])
    const latest = ids
      .toReversed()
      .filter((id) => (tagged?.has(String(id)) ?? true) && !watched.has(String(id)))
    const end = Date.now() + SEARCH_MS
    const hasTime = () => Date.now() < end && !signal.aborted
    const { found, looked } =
      words === null
        ? { found: latest, looked: latest.length }
        : await searchRecordings(sequelize, latest, words, hasTime)
    const names = site.engine.names()
    const sessions = await Promise.all(
      found.slice(0, MOST_FOUND).map(async (id) => listed(await placeOf(site, String(id)), names)),
    )
    return { sessions, found: found.length, looked, of: latest.length }
  })
  // The session as one file that replays by itself, from a disk and without a network.
  router.get('/sites/:site/sessions/:id/replay.html', async (request, response) => {
    const site = siteOf(engines, request.params)
    const file = await replayFile(site, request.params.id, sequelize)
    response.type('html').attachment(`session-${request.params.id}.html`)
    const whole = await withFiles(cutOut({ ...file, pictureOrigins: [] }, 0, null), site.row.id, kept)
    response.send(replayPage(whole).html)
  })
  // A picture or font of recorded pages. It comes from strangers: shown by itself it can do nothing.
  router.get('/sites/:site/files/:hash', async (request, response) => {
    const file = await kept.read(siteOf(engines, request.params).row.id, request.params.hash)
    if (!file) throw notFound('such file')
    response
      .setHeader('content-type', file.type)
      .setHeader('content-security-policy', "default-src 'none'; sandbox")
      .setHeader('x-content-type-options', 'nosniff')
      .setHeader('content-disposition', 'attachment')
      .setHeader('cross-origin-resource-policy', 'same-origin')
      .setHeader('cache-control', 'private, max-age=31536000, immutable')
    response.send(file.body)
  })
  return router
}

/** Shows a session, or a part of one, to whoever has its link; nothing else of the site. */
export function sharedRoutes(engines: Engines, sequelize: Sequelize, kept: KeptFiles): Router {
  const router = Router()
  const said = new SaidOfSessions(sequelize)
  router.get('/:token', async ({ params }, response) => {
    const shown = await said.shown(params.token, Date.now())
    const site = shown && engines.all().find(({ row }) => row.id === shown.siteId)
    response.setHeader('cache-control', 'no-store').setHeader('x-robots-tag', 'noindex')
    if (!site) {
      response.status(404).type('text/plain')
      response.send('There is nothing at this link: it may have expired, or been taken back.\n')
      return
    }
    const file = await replayFile(site, shown.sessionId, sequelize)
    const part = await withFiles(cutOut(file, shown.fromMs, shown.toMs), site.row.id, kept)
    const { html, policy } = replayPage(part)
    response.setHeader('content-security-policy', `${policy}; frame-ancestors 'none'`).type('html').send(html)
  })
  return router
}

/** A session as it is listed. */
function listed({ block, session }: Place, names: Names): SessionSummary {
  const sessions = new SessionSet(block.sessions.count)
  sessions.add(session)
  const event = new Uint32Array(block.sessions.count).fill(NO_EVENT)
  const [placed] = summarise(block, { sessions, base: sessions, event }, names)
  const { telling: _, index: __, ...summary } = withTrail(block, placed!, names)
  return summary
}

/** All that is shown of a session beside its recording. */
async function told(site: LoadedSite, id: string) {
  const place = await placeOf(site, id)
  const { block, session } = place
  const names = site.engine.names()
  const summary = listed(place, names)
  const { goal, goals } = site.row
  const main = mainGoal({ goal, goals })
  const found = moments(place, names)
  const story = storyOf({
    ...{ summary, moments: found, strain: sessionNumber(block, 'strain', names)(session) },
    weights: names.strain ?? STRAIN_WEIGHTS,
    goal: main ? { name: main.name, atMs: goalMs(block, { names, goal, goals }, 'first')(session) } : null,
  })
  return { summary, moments: found, story }
}

async function linesOf(sequelize: Sequelize, id: string): Promise<SessionLine[]> {
  const texts = (await lineTexts(sequelize, [Number(id)])).get(Number(id)) ?? []
  return texts.map((text) => JSON.parse(text) as SessionLine)
}

async function replayFile(site: LoadedSite, id: string, sequelize: Sequelize): Promise<ReplayFile> {
  const { block, session } = await placeOf(site, id)
  const [{ summary, moments: found, story }, recording, lines] = await Promise.all([
    told(site, id),
    readRecording(sequelize, id),
    linesOf(sequelize, id),
  ])
  return {
    title: `${site.row.name}: session ${summary.id}`,
    timeZone: site.row.timeZone,
    ...{ startMs: block.sessions.startMs[session]!, endMs: block.sessions.endMs[session]! },
    ...{ documents: recording.documents, missing: recording.missing, moments: found, lines },
    ...{ story: story.sentences, files: {} },
    pictureOrigins: site.row.capture.pictures === 'asked' ? site.row.origins : [],
  }
}

/** With the pictures and fonts that its pages show, as far as a page has room for them. */
async function withFiles(file: ReplayFile, siteId: number, kept: KeptFiles): Promise<ReplayFile> {
  const hashes = file.documents.flatMap(({ files }) => Object.values(files ?? {}))
  return { ...file, files: await kept.inline(siteId, hashes, MOST_FILE_BYTES) }
}

/** @throws ProblemError 404 where the site has no such session */
export async function placeOf({ engine, row }: LoadedSite, id: string): Promise<Place> {
  const place = await engine.find(id)
  if (!place) throw notFound(`session ${id} on ${row.name}`)
  return place
}

function moments({ block, session }: Place, names: Names): SessionMoment[] {
  const { events, signals, sessions } = block
  const { dictionaries, groups } = names
  const found: SessionMoment[] = []
  for (let i = sessions.firstEvent[session]!; i < sessions.firstEvent[session + 1]!; i++) {
    const kind = KINDS[events.kind[i]!]!
    if (MINOR.includes(kind)) continue
    found.push({
      atMs: events.atMs[i]!,
      kind,
      signal: false,
      page: groups.names[groups.groupOf[events.page[i]!]!]!,
      label: eventWords(block, i, dictionaries),
      selector: dictionaries.target.values[events.target[i]!]!,
    })
  }
  for (let i = sessions.firstSignal[session]!; i < sessions.firstSignal[session + 1]!; i++) {
    const event = signals.event[i]!
    const kind = SIGNAL_KINDS[signals.kind[i]!]!
    const text = eventWords(block, event, dictionaries)
    const of = signalTraits(kind).begins === 'click' ? 'clicks' : 'times'
    const times = signals.events[i]! > 1 ? ` · ${signals.events[i]} ${of}` : ''
    found.push({
      atMs: events.atMs[event]!,
      kind,
      signal: true,
      page: groups.names[groups.groupOf[events.page[event]!]!]!,
      label: `${text}${times}`,
      selector: dictionaries.target.values[events.target[event]!]!,
    })
  }
  return found.sort((a, b) => a.atMs - b.atMs || Number(a.signal) - Number(b.signal))
}
