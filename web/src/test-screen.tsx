import type { Action, SavedFunnel, Segment, Site } from '@dust-trail/api'
import * as api from '@dust-trail/api'
import type { AnyQuestion, Condition, Lens, Line, Names, SessionRow } from '@dust-trail/core'
import * as core from '@dust-trail/core'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, configure, render } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { ReactNode } from 'react'
import { MemoryRouter, useLocation } from 'react-router'
import { afterEach, vi } from 'vitest'
import type { z } from 'zod'
import { SiteContext } from './app/lens.ts'

/*
 * Screens as they are, over a small made-up site whose questions are answered by the same core as on the server. For
 * tests only, in happy-dom.
 */

configure({
  // What is missing is said without the whole screen.
  getElementError: (message) => new Error(message ?? 'not there'),
  // A busy machine takes its time.
  asyncUtilTimeout: 10_000,
})

export const DAY = Date.UTC(2026, 5, 1, 12)

/** One session: pages as they were viewed, `#selector` for a click on the page, `!` for an error, ten seconds apart. */
export function visit(id: number, steps: readonly string[], more: Partial<SessionRow> = {}): SessionRow {
  const visitor = more.visitor ?? `v${id}`
  return {
    ...{ id, visitor, returning: false, device: { class: 'desktop' }, channel: 'Direct' },
    ...more,
    lines: steps.map((step, i): Line => {
      const at = { visitor, t: DAY + id * 60_000 + i * 10_000 }
      if (step === '!') return { ...at, kind: 'error', message: 'It broke' }
      if (!step.startsWith('#')) return { ...at, kind: 'page', url: step }
      const target = { selector: step, tag: 'button', text: step.slice(1) }
      return { ...at, kind: 'click', target, effect: 'none', x: 1, y: 1, rx: 0.5, ry: 0.5 }
    }),
  }
}

interface World {
  sessions: readonly SessionRow[]
  pageGroups?: Site['pageGroups']
  funnels?: SavedFunnel[]
  segments?: Segment[]
  actions?: Action[]
}

export interface Asked {
  path: string
  method: string
  body: unknown
}

/** What a server over some sessions would say. */
function serving(world: World, questions: readonly AnyQuestion[]): (asked: Asked) => unknown {
  const dictionaries = new core.Dictionaries()
  const block = core.buildBlock(world.sessions, dictionaries)
  const names: Names = {
    dictionaries,
    groups: core.groupPages(dictionaries.page, world.pageGroups ?? []),
    families: core.groupTargets(dictionaries.target),
    actions: new Map((world.actions ?? []).map(({ name, rule }) => [name, rule])),
  }
  const through = (lens: Lens) => {
    const seen = lens.clean ? core.withoutNoise(block, lens.clean, names) : block
    return [{ block: seen, sessions: core.lensSessions(seen, lens, 'UTC', names) }]
  }
  const answerTo = (question: AnyQuestion, lens: Lens, asked: object) => {
    const context = { names, lens, timeZone: 'UTC', goal: '/done' }
    const result = core.answer(question, through(lens), { ...asked, ...context })
    return question.toAnswer ? question.toAnswer(result) : result
  }
  const given: Record<string, (body: never) => unknown> = {
    [api.askSizes.path]: ({ questions }: z.output<typeof api.askSizes.body>) => ({
      sizes: questions.map(({ lens, selection }) =>
        answerTo(core.questions.size as never, lens, { selection }),
      ),
    }),
    [api.listFunnels.path]: () => world.funnels ?? [],
    [api.listSegments.path]: () => world.segments ?? [],
    [api.listActions.path]: () => world.actions ?? [],
    [api.listPageGroupUses.path]: () => ({}),
  }
  return ({ path, method, body }) => {
    if (method === 'DELETE') return { done: true }
    // What is saved comes back with an id.
    if (/\/(segments|funnels|actions)(\/\d+)?$/.test(path) && method !== 'GET')
      return { id: 99, createdMs: DAY, usedBy: [], ...(body as object) }
    const question = questions.find(({ name }) => path === `/sites/made-up/${name}`)
    if (question) {
      const { lens, ...asked } = api.endpointOf(question).body.parse(body)
      return answerTo(question, lens as Lens, asked)
    }
    const answered = Object.entries(given).find(([pattern]) => pattern.replace(':site', 'made-up') === path)
    return answered ? answered[1](body as never) : { done: true }
  }
}

export function site(world: World): Site {
  return {
    ...{
      key: 'made-up',
      name: 'Made up',
      origins: [],
      timeZone: 'UTC',
      currency: 'EUR',
      rates: [],
      thresholds: {},
      strainWeights: {},
      capture: { text: 'patterns', consent: 'free', share: 1, drawings: false, pictures: 'kept' },
      goal: '/done',
      goals: [],
    },
    ...{
      sessionLimitMin: 30,
      retentionDays: null,
      recordingDays: null,
      auditDays: 730,
      damaged: [],
      full: [],
      loading: null,
      streamed: 0,
    },
    pageGroups: world.pageGroups ?? [],
    days: { from: '2026-06-01', to: '2026-06-01' },
    sessions: world.sessions.length,
    lastMs: DAY,
  }
}

export const LENS = 'from=2026-06-01&to=2026-06-01'

/**
 * Puts something on screen, with the world behind it.
 *
 * @param answers  instead of the world's own, by path below /api/v1; an error is what the server answers with
 */
export function show(
  element: ReactNode,
  world: World = { sessions: [] },
  {
    query = '',
    at = `/?${LENS}${query && `&${query}`}`,
    answers = {},
    questions = core.registry.questions,
  }: {
    query?: string
    /** the whole address */
    at?: string
    answers?: Record<string, (asked: Asked) => unknown>
    questions?: readonly AnyQuestion[]
  } = {},
) {
  const asked: Asked[] = []
  const answer = serving(world, questions)
  vi.stubGlobal('fetch', (address: string, init: RequestInit) => {
    const one: Asked = {
      path: address.replace('/api/v1', ''),
      method: init.method ?? 'GET',
      body: typeof init.body === 'string' ? (JSON.parse(init.body) as unknown) : undefined,
    }
    asked.push(one)
    const said = (answers[one.path] ?? answer)(one)
    return Promise.resolve(said instanceof Response ? said : Response.json(said))
  })
  let location = ''
  function Where() {
    location = useLocation().search
    return null
  }
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const shown = render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[at]}>
        <SiteContext value={site(world)}>
          {element}
          <Where />
        </SiteContext>
      </MemoryRouter>
    </QueryClientProvider>,
  )
  return {
    ...shown,
    user: userEvent.setup(),
    asked,
    /** what stands in the address by a name; JSON where it is that */
    inAddress: (name: string): unknown => {
      const text = new URLSearchParams(location).get(name)
      return text?.startsWith('{') || text?.startsWith('[') ? (JSON.parse(text) as unknown) : text
    },
  }
}

/** Takes everything off the screen, and what was kept, after each test of a file. */
export function clearAfterEach(): void {
  afterEach(() => {
    cleanup()
    vi.unstubAllGlobals()
    sessionStorage.clear()
    localStorage.clear()
  })
}

export const pageStep = (page: string) => ({ type: 'page' as const, page })
export const isMobile: Condition = { type: 'text', of: 'device', test: { is: 'equal', to: 'mobile' } }
