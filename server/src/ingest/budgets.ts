import { DEEPEST } from '@dust-trail/api'
import { PROP_LIMITS } from '@dust-trail/core'
import { LRUCache } from 'lru-cache'

/** What may arrive for collecting. Each is a setting of the server: see README. */
export interface CollectBudgets {
  /** a second, from one address and for one site; ten times as many at once */
  requestsPerAddress: number
  requestsPerSite: number
  bytesPerAddress: number
  bytesPerSite: number
  /** that one visitor may begin */
  sessionsPerHour: number
  /** that one line may have; the others are left out */
  propsPerLine: number
  /** steps below its root that a recorded page is kept */
  treeDepth: number
}

export const COLLECT_BUDGETS: CollectBudgets = {
  requestsPerAddress: 1000,
  requestsPerSite: 5000,
  bytesPerAddress: 20 * 2 ** 20,
  bytesPerSite: 100 * 2 ** 20,
  sessionsPerHour: 100,
  propsPerLine: PROP_LIMITS.props,
  treeDepth: DEEPEST,
}

const BURST = 10
/** Addresses and sites that are remembered; of one that is forgotten the bucket is full again. */
const MOST_KEYS = 50_000

/** A token bucket for each key: it fills at a steady rate, and what is asked for is taken out of it. */
export class TokenBuckets {
  readonly #buckets = new LRUCache<string, { tokens: number; atMs: number }>({ max: MOST_KEYS })

  /** @param perSecond  tokens that are added; a full bucket holds BURST times as many */
  constructor(private readonly perSecond: number) {}

  /**
   * Takes tokens out of a bucket.
   *
   * @returns 0 where there were enough; else after how many milliseconds there will be
   */
  take(key: string, tokens: number, nowMs: number): number {
    const most = this.perSecond * BURST
    let bucket = this.#buckets.get(key)
    if (!bucket) this.#buckets.set(key, (bucket = { tokens: most, atMs: nowMs }))
    bucket.tokens = Math.min(most, bucket.tokens + ((nowMs - bucket.atMs) / 1000) * this.perSecond)
    bucket.atMs = nowMs
    // What is larger than a full bucket passes when the bucket is full.
    const wanted = Math.min(tokens, most)
    if (bucket.tokens >= wanted) {
      bucket.tokens -= wanted
      return 0
    }
    return Math.ceil(((wanted - bucket.tokens) / this.perSecond) * 1000)
  }
}
