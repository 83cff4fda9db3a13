import { setMaxListeners } from 'node:events'
import { askSizes, endpointOf, getSet, getSnapshot, makeSet } from '@dust-trail/api'
import type {
  AnyQuestion,
  ClickHeatAnswer,
  FunnelAnswer,
  FunnelSelection,
  Lens,
  Step,
} from '@dust-trail/core'
import { registry, sessionIds, size } from '@dust-trail/core'
import { Router } from 'express'
import type { Sequelize } from 'sequelize'
import type { Engines, LoadedSite } from '../engine/engines.ts'
import { notFound, ProblemError } from '../problem.ts'
import { filesOfSnapshot, isOnSite, pageVersions, readSnapshot } from '../store/recordings.ts'
import { handle, siteOf } from './endpoint-handler.ts'

/** Sessions asked for the page they saw, when one is chosen to draw a heat map on. */
const SNAPSHOT_SAMPLE = 2000

/** Adds to an answer what only a server knows. */
type Completion = (
  answer: unknown,
  asked: { lens: Lens } & Record<string, unknown>,
  site: LoadedSite,
  sequelize: Sequelize,
  signal: AbortSignal,
) => unknown

/** By question what is added to its answer. */
const COMPLETIONS: Record<string, Completion> = {
  funnel: (answer, asked, site) =>
    asked['sets'] ? { ...(answer as FunnelAnswer), sets: setsOf(asked as never, site) } : answer,
  'click-heat': async (answer, { lens, page, version }, site, sequelize, signal) => {
    const { versions, of } = await versionsFor(site, sequelize, lens, page as string, signal)
    const shown = versions.find((one) => one.version === version) ?? versions[0]
    const snapshot = shown && { hash: shown.hash, version: shown.version, sessions: shown.sessions, of }
    return { ...(answer as ClickHeatAnswer), snapshot: snapshot ?? null, versions }
  },
}

/** Every question of the registry, and what goes with them: sets, sizes, recorded pages. */
export function questionRoutes(
  engines: Engines,
  sequelize: Sequelize,
  questions: readonly AnyQuestion[] = registry.questions,
): Router {
  const router = Router()
  for (const question of questions)
    handle(router, endpointOf(question), async ({ params, body, signal }) => {
      const site = siteOf(engines, params)
      const { lens, ...asked } = body as { lens: Lens } & Record<string, unknown>
      return withinTime(engines.questionMs, signal, async (limited) => {
        const result = await site.engine.askAny(question, lens, asked, { signal: limited })
        const answer = question.toAnswer ? question.toAnswer(result) : result
        const complete = COMPLETIONS[question.name]
        return complete ? complete(answer, { lens, ...asked }, site, sequelize, limited) : answer
      })
    })
  const describeSet = async ({ engine }: LoadedSite, set: string, signal: AbortSignal) => {
    const definition = engine.sets.definitionOf(set)
    const { lens, selection } = definition
    return { set, size: await engine.ask(size, lens, { selection }, { signal }), definition }
  }
  handle(router, makeSet, ({ params, body: { lens, selection }, signal }) => {
    const site = siteOf(engines, params)
    return describeSet(site, site.engine.sets.make({ lens, selection }), signal)
  })
  handle(router, getSet, ({ params, signal }) =>
    describeSet(siteOf(engines, params), params['set'] ?? '', signal),
  )
  handle(router, askSizes, async ({ params, body: { questions: asked }, signal }) => {
    const { engine } = siteOf(engines, params)
    const sizes = asked.map(({ lens, selection }) => engine.ask(size, lens, { selection }, { signal }))
    return { sizes: await Promise.all(sizes) }
  })
  handle(router, getSnapshot, async ({ params }) => {
    const { row } = siteOf(engines, params)
    const hash = params['hash'] ?? ''
    const snapshot = (await isOnSite(sequelize, row.id, hash)) && (await readSnapshot(sequelize, hash))
    if (!snapshot) throw notFound('such recorded page')
    return { ...snapshot, files: await filesOfSnapshot(sequelize, row.id, hash) }
  })
  return router
}

/** Does what a question needs, for as long as it may take. @throws ProblemError 503 where it takes longer */
async function withinTime<T>(
  ms: number,
  signal: AbortSignal,
  work: (limited: AbortSignal) => Promise<T>,
): Promise<T> {
  const late = new AbortController()
  const timer = setTimeout(() => late.abort(), ms)
  const limited = AbortSignal.any([signal, late.signal])
  setMaxListeners(0, limited)
  try {
    return await work(limited)
  } catch (error) {
    if (!late.signal.aborted || signal.aborted) throw error
    throw new ProblemError(
      503,
      'too-slow',
      `The question was given up after ${ms / 1000} s.`,
      'Ask about fewer days, or with fewer conditions; QUESTION_S says how long a question may take.',
      { budget: true },
    )
  } finally {
    clearTimeout(timer)
  }
}

/** Handles of the sets of each step of a funnel: who reached it, who went on, who dropped off there. */
function setsOf(
  { lens, steps, options }: { lens: Lens; steps: Step[] } & Pick<FunnelSelection, 'options'>,
  { engine }: LoadedSite,
) {
  const make = (step: number, side: FunnelSelection['side']) =>
    engine.sets.make({ lens, selection: { type: 'funnel', steps, options, step, side } })
  return steps.map((_, step) => {
    const hasNext = step + 1 < steps.length
    return {
      reached: make(step, 'reached'),
      continued: hasNext ? make(step, 'continued') : null,
      dropped: hasNext ? make(step, 'dropped') : null,
    }
  })
}

/** In which versions the latest of those who saw a page group saw it. */
async function versionsFor(
  { engine, row }: LoadedSite,
  sequelize: Sequelize,
  lens: Lens,
  page: string,
  signal: AbortSignal,
) {
  const { groups, dictionaries } = engine.names()
  const group = groups.find(page)
  const paths = dictionaries.page.values.filter((_, code) => code > 0 && groups.groupOf[code] === group)
  const selection = { type: 'page' as const, page }
  const { ids } = await engine.ask(sessionIds, lens, { selection, most: SNAPSHOT_SAMPLE }, { signal })
  return { versions: await pageVersions(sequelize, row.id, paths, ids.map(String)), of: ids.length }
}
