import type { Question } from '@dust-trail/api'
import {
  askSizes,
  getFix,
  getRecording,
  getSession,
  getSnapshot,
  listActions,
  listDismissed,
  listFixes,
  listFunnels,
  listPageGroupUses,
  listSegments,
  listSites,
  listTrails,
} from '@dust-trail/api'
import type { Lens } from '@dust-trail/core'
import { useQuery } from '@tanstack/react-query'
import { call } from './call.ts'
import { useEndpoint, useEndpointEach } from './use-endpoint.ts'

/* What the server keeps, and single things of it; questions about sessions: use-question.ts. */

/** How often the server is asked whether new data has come in. */
const LIVE_MS = 1500

export const useSites = () =>
  useQuery({
    queryKey: [listSites.path],
    queryFn: ({ signal }) => call(listSites, {}, undefined, signal),
    refetchInterval: LIVE_MS,
  })
/** How many sessions each of several questions picks. */
/** Sizes by the order of the questions: those of other selections are no stand-in for them while they are counted. */
export const useSizes = (site: string, questions: Question[]) =>
  useEndpoint(askSizes, { site }, { questions }, { enabled: questions.length > 0, keep: ofSameSelections })

function ofSameSelections(before: unknown, now: unknown): boolean {
  const selections = (body: unknown) =>
    JSON.stringify((body as { questions: Question[] }).questions.map(({ selection }) => selection))
  return selections(before) === selections(now)
}
export const useActions = (site: string) => useEndpoint(listActions, { site }, undefined)
export const usePageGroupUses = (site: string) => useEndpoint(listPageGroupUses, { site }, undefined)
export const useSegments = (site: string) => useEndpoint(listSegments, { site }, undefined)
export const useFunnels = (site: string) => useEndpoint(listFunnels, { site }, undefined)
export const useSnapshot = (site: string, hash: string | undefined) =>
  useEndpoint(getSnapshot, { site, hash: hash ?? '' }, undefined, {
    enabled: hash !== undefined,
    keep: false,
    staleMs: Infinity,
  })
export const useSession = (site: string, id: string) =>
  useEndpoint(getSession, { site, id }, undefined, { keep: false })
export const useRecording = (site: string, id: string) =>
  useEndpoint(getRecording, { site, id }, undefined, { keep: false, staleMs: Infinity })
export const useFixes = (site: string, lens: Lens) => useEndpoint(listFixes, { site }, { lens })
export const useFixesThrough = (site: string, lenses: Lens[]) =>
  useEndpointEach(
    listFixes,
    { site },
    lenses.map((lens) => ({ lens })),
  )
export const useFix = (site: string, id: number, lens: Lens) => useEndpoint(getFix, { site, id }, { lens })
export const useDismissed = (site: string) => useEndpoint(listDismissed, { site }, undefined)
export const useTrails = (site: string) => useEndpoint(listTrails, { site }, undefined)
