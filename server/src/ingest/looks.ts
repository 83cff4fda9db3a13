import type { Left } from '@dust-trail/api'
import { LRUCache } from 'lru-cache'

type Sink = Left['sink']

/** So long after it was asked for last what comes is kept to be looked at. */
const LOOKED_AT_MS = 60_000
const MOST_KEPT = 1000
const MOST_TEXT = 20_000

/**
 * What the pages of a site send, for its owner to look at while it comes: only from the address from which the owner looks, only in
 * memory, and only while somebody looks.
 */
export class Looks {
  readonly #kept = new LRUCache<string, Left[]>({ max: 200, ttl: LOOKED_AT_MS, updateAgeOnGet: true })
  #n = 0

  /** What has come since; from now on it is kept. @param after  number of the last that is known */
  since(siteId: number, address: string, after: number): Left[] {
    const key = `${siteId} ${plain(address)}`
    const kept = this.#kept.get(key)
    if (!kept) this.#kept.set(key, [])
    return kept?.filter(({ n }) => n > after) ?? []
  }

  /** Takes note of what has come, where somebody looks. @param parts  nothing is made of it where nobody does */
  note(siteId: number, address: string, atMs: number, parts: () => [Sink, unknown][]): void {
    if (!this.#kept.size) return
    const kept = this.#kept.peek(`${siteId} ${plain(address)}`)
    if (!kept) return
    for (const [sink, part] of parts()) {
      const text = JSON.stringify(part)
      kept.push({ n: ++this.#n, atMs, sink, text: text.slice(0, MOST_TEXT), length: text.length })
    }
    kept.splice(0, kept.length - MOST_KEPT)
  }
}

const plain = (address: string) => address.replace(/^::ffff:/, '').replace(/^::1$/, '127.0.0.1')

/** A batch by the ways through which its parts left. */
export function partsOf(batch: Record<string, unknown>): [Sink, unknown][] {
  const {
    lines = [],
    items = [],
    snapshot,
    ...about
  } = batch as {
    lines?: unknown[]
    items?: { k?: string }[]
    snapshot?: unknown
  }
  const sinkOf = (k: string | undefined): Sink =>
    k === 'console'
      ? 'console'
      : k === 'file'
        ? 'files'
        : k === 'move' || k === 'click'
          ? 'pointer'
          : 'changes'
  return [
    ['about', about],
    ...lines.map((line): [Sink, unknown] => ['events', line]),
    ...(snapshot === undefined ? [] : [['page', snapshot] as [Sink, unknown]]),
    ...items.map((item): [Sink, unknown] => [sinkOf(item.k), item]),
  ]
}
