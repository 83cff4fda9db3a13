import { getRecording, getSession } from '@dust-trail/api'
import type { SessionMoment } from '@dust-trail/api'
import {
  eventWords,
  KINDS,
  NO_EVENT,
  SessionSet,
  SIGNAL_KINDS,
  signalTraits,
  summarise,
  withTrail,
} from '@dust-trail/core'
import type { Kind, Names } from '@dust-trail/core'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import type { Place } from '../engine/site-engine.ts'
import { notFound } from '../problem.ts'
import { readRecording } from '../store/recordings.ts'
import { handle, siteOf } from './endpoint-handler.ts'

/** Kinds that are too many and too small to be moments of their own. */
const MINOR: readonly Kind[] = ['scroll', 'leave', 'seen']

export function sessionRoutes(engines: Engines, sequelize: Sequelize): Router {
  const router = Router()
  handle(router, getSession, async ({ params }) => {
    const site = siteOf(engines, params)
    const place = await placeOf(site, params['id'] ?? '')
    const sessions = new SessionSet(place.block.sessions.count)
    sessions.add(place.session)
    const event = new Uint32Array(place.block.sessions.count).fill(NO_EVENT)
    const names = site.engine.names()
    const [placed] = summarise(place.block, { sessions, base: sessions, event }, names)
    const { telling: _, index: __, ...summary } = withTrail(place.block, placed!, names)
    return { summary, moments: moments(place, names) }
  })
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
  return router
}

async function placeOf({ engine, row }: LoadedSite, id: string): Promise<Place> {
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
