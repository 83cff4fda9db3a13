import type { Site } from '@dust-trail/api'
import type { QueryClient } from '@tanstack/react-query'

/** Whoever watches waits so long for pictures and fonts; those that come later are shown from the next moment on. */
const PATIENCE_MS = 4000
const MOST_FILES = 400

/** Where replays may ask for pictures that are not kept: at the recorded site, where its owner allows it. */
export const pictureOrigins = ({ capture, origins }: Pick<Site, 'capture' | 'origins'>): readonly string[] =>
  capture.pictures === 'asked' ? origins : []

/** Pictures and fonts that a site's recordings show, by hash, as addresses that have them in them. */
export async function filesByHash(
  client: QueryClient,
  site: string,
  recordings: readonly { files?: Readonly<Record<string, string>> | undefined }[],
): Promise<ReadonlyMap<string, string>> {
  const hashes = new Set(recordings.flatMap(({ files }) => Object.values(files ?? {})))
  const contents = new Map<string, string>()
  const all = [...hashes].slice(0, MOST_FILES).map(async (hash) => {
    const found = await client.fetchQuery({
      queryKey: ['file', site, hash],
      queryFn: ({ signal }) => fileAt(site, hash, signal),
      staleTime: Infinity,
      retry: false,
    })
    if (found) contents.set(hash, found)
  })
  const late = new Promise((resolve) => setTimeout(resolve, PATIENCE_MS))
  await Promise.race([Promise.allSettled(all), late])
  return contents
}

/** What is in a file, as an address; "" where it is not kept any more. */
async function fileAt(site: string, hash: string, signal: AbortSignal): Promise<string> {
  const answer = await fetch(`/api/v1/sites/${encodeURIComponent(site)}/files/${hash}`, { signal })
  if (!answer.ok) return ''
  const blob = await answer.blob()
  return new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(reader.result as string)
    reader.onerror = () => reject(reader.error ?? new Error('cannot be read'))
    reader.readAsDataURL(blob)
  })
}
