import {
  askClickHeat,
  askCloseUp,
  askFunnel,
  askPrice,
  catalogue,
  getFix,
  getRecording,
  getSession,
  getSnapshot,
  listFixes,
  listFunnels,
  listSessions,
  listSites,
  listTrails,
} from '@dust-trail/api'
import type { Endpoint, Question } from '@dust-trail/api'
import type { ClickSort, Lens, Step, WatchOrder } from '@dust-trail/core'
import type { UseQueryResult } from '@tanstack/react-query'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { z } from 'zod'
import { call } from './call.ts'

/** How often the server is asked whether new data has come in. */
const LIVE_MS = 1500

function useAsk<Body extends z.ZodType, Answer extends z.ZodType>(
  endpoint: Endpoint<Body, Answer>,
  params: Record<string, string | number>,
  body: z.input<Body> | undefined,
  options: { enabled?: boolean; keep?: boolean; staleMs?: number } = {},
): UseQueryResult<z.output<Answer>, Error> {
  return useQuery({
    queryKey: [endpoint.path, params, body],
    queryFn: ({ signal }) => call(endpoint, params, body, signal),
    enabled: options.enabled ?? true,
    ...(options.keep !== false && { placeholderData: keepPreviousData }),
    ...(options.staleMs !== undefined && { staleTime: options.staleMs }),
  })
}

export const useSites = () =>
  useQuery({
    queryKey: [listSites.path],
    queryFn: ({ signal }) => call(listSites, {}, undefined, signal),
    refetchInterval: LIVE_MS,
  })

export const useCatalogue = (site: string, lens: Lens) => useAsk(catalogue, { site }, { lens })
export const useFunnel = (site: string, lens: Lens, steps: Step[]) =>
  useAsk(askFunnel, { site }, { lens, steps }, { enabled: steps.length > 0 })
export const useFunnels = (site: string) => useAsk(listFunnels, { site }, undefined)
export const useCloseUp = (site: string, question: Question) =>
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
