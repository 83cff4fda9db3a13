import {
  askBetween,
  askClickHeat,
  askCloseUp,
  askContents,
  askDistribution,
  askEventValues,
  askFunnel,
  askPaths,
  askPrice,
  askSequences,
  askSizes,
  getSet,
  getSnapshot,
  listSessions,
  makeSet,
} from '@dust-trail/api'
import type { ListPlace } from '@dust-trail/core'
import { bucketsOf, lensSpan, pathNodes, rate } from '@dust-trail/core'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import { z } from 'zod'
import type { Engines } from '../engine/engines.ts'
import type { SiteEngine } from '../engine/site-engine.ts'
import { notFound, ProblemError } from '../problem.ts'
import { commonSnapshot, readSnapshot } from '../store/recordings.ts'
import { serve, siteOf } from './serve.ts'

/** Sessions asked for the page they saw, when one is chosen to draw a heat map on. */
const SNAPSHOT_SAMPLE = 2000

export function questionRoutes(engines: Engines, sequelize: Sequelize): Router {
  const router = Router()
  serve(router, askFunnel, async ({ params, body, signal }) => {
    const { engine, row } = siteOf(engines, params)
    const { lens, steps, options, counts, sets } = body
    const span = lensSpan(lens, row.timeZone)
    const buckets = options?.trend
      ? bucketsOf(span.fromMs, span.toMs, options.trend, row.timeZone)
      : undefined
    const answer = await engine.ask('funnel', lens, { steps, options, buckets, counts }, signal)
    if (!sets) return answer
    const make = (step: number, side: 'reached' | 'continued' | 'dropped') =>
      engine.sets.make({ lens, selection: { type: 'funnel', steps, options, step, side } })
    const withNext = (step: number, side: 'continued' | 'dropped') =>
      step + 1 < steps.length ? make(step, side) : null
    return {
      ...answer,
      sets: steps.map((_, step) => ({
        reached: make(step, 'reached'),
        continued: withNext(step, 'continued'),
        dropped: withNext(step, 'dropped'),
      })),
    }
  })
  const sizeOf = async (engine: SiteEngine, set: string, signal: AbortSignal) => {
    const definition = engine.sets.definitionOf(set)
    const { hits, base } = await engine.ask(
      'selectionSize',
      definition.lens,
      { selection: definition.selection },
      signal,
    )
    return { set, size: rate(hits, base), definition }
  }
  serve(router, makeSet, ({ params, body: { lens, selection }, signal }) => {
    const { engine } = siteOf(engines, params)
    return sizeOf(engine, engine.sets.make({ lens, selection }), signal)
  })
  serve(router, getSet, ({ params, signal }) =>
    sizeOf(siteOf(engines, params).engine, params['set'] ?? '', signal),
  )
  serve(router, askCloseUp, ({ params, body: { lens, ...spec }, signal }) =>
    siteOf(engines, params).engine.ask('closeUp', lens, spec, signal),
  )
  serve(router, askPaths, async ({ params, body: { lens, selection, options }, signal }) => {
    const { engine } = siteOf(engines, params)
    const result = await engine.ask('onwardPaths', lens, { selection, ...options }, signal)
    const { sessions, ended, places } = result
    return { sessions, ended, places, next: pathNodes(result) }
  })
  serve(router, askDistribution, ({ params, body: { lens, selection, options }, signal }) =>
    siteOf(engines, params).engine.ask('distribution', lens, { selection, ...options }, signal),
  )
  serve(router, askEventValues, ({ params, body: { lens, ...spec }, signal }) =>
    siteOf(engines, params).engine.ask('eventValues', lens, spec, signal),
  )
  serve(router, askContents, ({ params, body: { lens, ...spec }, signal }) =>
    siteOf(engines, params).engine.ask('contents', lens, spec, signal),
  )
  serve(router, askSequences, ({ params, body: { lens, selection, options }, signal }) =>
    siteOf(engines, params).engine.ask('rawSequences', lens, { selection, ...options }, signal),
  )
  serve(router, askBetween, ({ params, body: { lens, ...spec }, signal }) =>
    siteOf(engines, params).engine.ask('between', lens, spec, signal),
  )
  serve(router, askSizes, async ({ params, body: { questions }, signal }) => {
    const { engine } = siteOf(engines, params)
    const sizes = await Promise.all(
      questions.map(({ lens, selection }) => engine.ask('selectionSize', lens, { selection }, signal)),
    )
    return { sizes: sizes.map(({ hits, base }) => rate(hits, base)) }
  })
  serve(router, askPrice, ({ params, body: { lens, selection }, signal }) => {
    const { engine, row } = siteOf(engines, params)
    return engine.ask('price', lens, { selection, goal: row.goal }, signal)
  })
  serve(router, listSessions, async ({ params, body, signal }) => {
    const { selection, order, offset, limit, cursor } = body
    const { engine } = siteOf(engines, params)
    const spec = {
      selection,
      order,
      most: offset + limit,
      after: cursor === undefined ? undefined : placeAt(cursor),
    }
    const { total, last, sessions } = await engine.ask('watchList', body.lens, spec, signal)
    return { total, sessions: sessions.slice(offset), next: last ? cursorAt(last) : null }
  })
  serve(router, askClickHeat, async ({ params, body, signal }) => {
    const { engine, row } = siteOf(engines, params)
    const { lens, page, which } = body
    const names = engine.names()
    const group = names.groups.find(page)
    const pages = names.dictionaries.page.values.filter(
      (_, code) => code > 0 && names.groups.groupOf[code] === group,
    )
    const selection = { type: 'page' as const, page }
    const [heat, { ids }] = await Promise.all([
      engine.ask('clickHeat', lens, { page, which }, signal),
      engine.ask('sessionIds', lens, { selection, most: SNAPSHOT_SAMPLE }, signal),
    ])
    return { ...heat, snapshot: await commonSnapshot(sequelize, row.id, pages, ids.map(String)) }
  })
  serve(router, getSnapshot, async ({ params }) => {
    const snapshot = await readSnapshot(sequelize, params['hash'] ?? '')
    if (!snapshot) throw notFound('such recorded page')
    return snapshot
  })
  return router
}

const placeSchema = z.tuple([z.number(), z.number(), z.number(), z.string()])

function cursorAt({ telling, durationMs, startMs, id }: ListPlace): string {
  return Buffer.from(JSON.stringify([telling, durationMs, startMs, id])).toString('base64url')
}

function placeAt(cursor: string): ListPlace {
  try {
    const [telling, durationMs, startMs, id] = placeSchema.parse(
      JSON.parse(Buffer.from(cursor, 'base64url').toString()),
    )
    return { telling, durationMs, startMs, id }
  } catch {
    throw new ProblemError(
      400,
      'invalid-input',
      'The cursor is none of ours.',
      'Begin at the start of the list.',
    )
  }
}
