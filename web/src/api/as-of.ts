import { useSyncExternalStore } from 'react'

/** By site as of when the latest answer is, milliseconds since 1970: all that had arrived by then is in it. */
const latest = new Map<string, number>()
const listeners = new Set<() => void>()

/** Takes note of what an answer says of itself. */
export function noteAsOf(site: string, version: string | null): void {
  const atMs = Number(version)
  if (!version || !Number.isFinite(atMs) || atMs <= (latest.get(site) ?? 0)) return
  latest.set(site, atMs)
  for (const listener of listeners) listener()
}

/** As of when the latest answer about a site is; undefined before there is one. */
export function useAsOf(site: string): number | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => latest.get(site),
  )
}
