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
  catalogue,
  getFix,
  getRecording,
  getSession,
  getSnapshot,
  listActions,
  listFixes,
  listFunnels,
  listPageGroupUses,
  listSegments,
  listSessions,
  listSites,
  listTrails,
  listUrls,
} from '@dust-trail/api'
import type { Endpoint, Question } from '@dust-trail/api'
import type {
  ClickSort,
  EventValue,
  FunnelOptions,
  Kind,
  Lens,
  Level,
  Selection,
  Step,
  WatchOrder,
} from '@dust-trail/core'
import { distributionOptionsSchema, pathOptionsSchema, sequenceOptionsSchema } from '@dust-trail/core'
import type { UseQueryResult } from '@tanstack/react-query'
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query'
import type { z } from 'zod'
import { call } from './call.ts'

/** How often the server is asked whether new data has come in. */
const LIVE_MS = 1500

function useAsk<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  params: Record<string, string | number>,
  body: z.input<Body> | undefined,
  options: { enabled?: boolean; keep?: boolean; staleMs?: number; quiet?: boolean } = {},
): UseQueryResult<z.output<Answer>, Error> {
  return useQuery({
    queryKey: [endpoint.path, params, body],
    queryFn: ({ signal }) => call(endpoint, params, body, signal),
    enabled: options.enabled ?? true,
    ...(options.keep !== false && { placeholderData: keepPreviousData }),
    ...(options.staleMs !== undefined && { staleTime: options.staleMs }),
    ...(options.quiet && { notifyOnChangeProps: [] }),
  })
}

export const useSites = () =>
  useQuery({
    queryKey: [listSites.path],
    queryFn: ({ signal }) => call(listSites, {}, undefined, signal),
    refetchInterval: LIVE_MS,
  })

export const useCatalogue = (site: string, lens: Lens) => useAsk(catalogue, { site }, { lens })
/** Asks for it ahead of time, for whoever will want it, without drawing anything anew when it is there. */
export function useCatalogueAhead(site: string, lens: Lens): void {
  useAsk(catalogue, { site }, { lens }, { quiet: true })
}
export const useFunnel = (
  site: string,
  lens: Lens | null,
  steps: Step[],
  options?: FunnelOptions,
  counts = false,
) =>
  useAsk(
    askFunnel,
    { site },
    { lens: lens!, steps, options, counts },
    { enabled: lens !== null && steps.length > 0 },
  )
/** The same question several times over, each with a body of its own. */
function useAskEach<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  params: Record<string, string | number>,
  bodies: z.input<Body>[],
): UseQueryResult<z.output<Answer>, Error>[] {
  const asked: unknown = useQueries({
    queries: bodies.map((body) => ({
      queryKey: [endpoint.path, params, body],
      queryFn: ({ signal }: { signal: AbortSignal }) => call(endpoint, params, body, signal),
      placeholderData: keepPreviousData,
    })),
  })
  return asked as UseQueryResult<z.output<Answer>, Error>[]
}

/** The same funnel through several lenses, only counted. */
export const useFunnelsThrough = (site: string, lenses: Lens[], steps: Step[], options?: FunnelOptions) =>
  useAskEach(
    askFunnel,
    { site },
    steps.length ? lenses.map((lens) => ({ lens, steps, options, counts: true })) : [],
  )
export const useCataloguesThrough = (site: string, lenses: Lens[]) =>
  useAskEach(
    catalogue,
    { site },
    lenses.map((lens) => ({ lens })),
  )
export const useClickHeatThrough = (site: string, lenses: Lens[], page: string, which: ClickSort) =>
  useAskEach(
    askClickHeat,
    { site },
    lenses.map((lens) => ({ lens, page, which })),
  )
export const useFixesThrough = (site: string, lenses: Lens[]) =>
  useAskEach(
    listFixes,
    { site },
    lenses.map((lens) => ({ lens })),
  )
export const useBetween = (site: string, lens: Lens, steps: Step[], options: FunnelOptions | undefined) =>
  useAsk(askBetween, { site }, { lens, steps, options }, { enabled: steps.length > 1 })
export const useDistribution = (
  site: string,
  question: Question,
  options: z.input<typeof distributionOptionsSchema>,
  enabled = true,
) =>
  useAsk(
    askDistribution,
    { site },
    { ...question, options: distributionOptionsSchema.parse(options) },
    { enabled },
  )
export const useContents = (site: string, question: Question, level: Level, against?: Selection) =>
  useAsk(askContents, { site }, { ...question, level, against })
/** What events of a kind hold; nothing is asked where nothing is to be suggested. */
export const useEventValues = (
  site: string,
  lens: Lens,
  kind: Kind,
  what: { of: EventValue; key?: string } | undefined,
) =>
  useAsk(
    askEventValues,
    { site },
    { lens, kind, ...(what ?? { of: 'name' as const }) },
    { enabled: what !== undefined, keep: false },
  )
export const useSequences = (
  site: string,
  question: Question,
  options: z.input<typeof sequenceOptionsSchema>,
) => useAsk(askSequences, { site }, { ...question, options: sequenceOptionsSchema.parse(options) })
export const useSizes = (site: string, questions: Question[]) =>
  useAsk(askSizes, { site }, { questions }, { enabled: questions.length > 0 })
export const usePaths = (site: string, question: Question, options: z.input<typeof pathOptionsSchema>) =>
  useAsk(askPaths, { site }, { ...question, options: pathOptionsSchema.parse(options) })
export const useUrls = (site: string, lens: Lens) => useAsk(listUrls, { site }, { lens })
export const useActions = (site: string) => useAsk(listActions, { site }, undefined)
export const usePageGroupUses = (site: string) => useAsk(listPageGroupUses, { site }, undefined)
export const useSegments = (site: string) => useAsk(listSegments, { site }, undefined)
export const useFunnels = (site: string) => useAsk(listFunnels, { site }, undefined)
export const useCloseUp = (site: string, question: Question & { against?: Selection | undefined }) =>
  useAsk(askCloseUp, { site }, question, { keep: false })
export const usePrice = (site: string, question: Question, enabled: boolean) =>
  useAsk(askPrice, { site }, question, { enabled, keep: false })
export const useSessions = (site: string, question: Question, order: WatchOrder, limit: number) =>
  useAsk(listSessions, { site }, { ...question, order, limit })
export const useClickHeat = (site: string, lens: Lens, page: string, which: ClickSort) =>
  useAsk(askClickHeat, { site }, { lens, page, which }, { enabled: page !== '' })
export const useSnapshot = (hash: string | undefined) =>
  useAsk(getSnapshot, { hash: hash ?? '' }, undefined, {
    enabled: hash !== undefined,
    keep: false,
    staleMs: Infinity,
  })
export const useSession = (site: string, id: string) =>
  useAsk(getSession, { site, id }, undefined, { keep: false })
export const useRecording = (site: string, id: string) =>
  useAsk(getRecording, { site, id }, undefined, { keep: false, staleMs: Infinity })
export const useFixes = (site: string, lens: Lens) => useAsk(listFixes, { site }, { lens })
export const useFix = (site: string, id: number, lens: Lens) => useAsk(getFix, { site, id }, { lens })
export const useTrails = (site: string) => useAsk(listTrails, { site }, undefined)
