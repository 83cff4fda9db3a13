import type { Refusal } from '@dust-trail/api'
import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'

/** Different reasons that are kept of a site and kind; what comes on top is "(other)". */
const MOST_REASONS = 100
const WRITE_MS = 2000

interface Count {
  n: number
  firstMs: number
  lastMs: number
}

/** Counts what could not be taken, by reason, and writes the counts down from time to time. */
export class Refusals {
  /** by site, then kind and reason; what is not written yet */
  readonly #counts = new Map<number, Map<string, Count>>()
  readonly #reasons = new Map<number, Set<string>>()
  #timer: NodeJS.Timeout | undefined
  /** the write under way: two at once would write the same counts twice */
  #writing = Promise.resolve()
  #closed = false
  /** told of each */
  onAdd: (what: Refusal['what'], n: number) => void = () => undefined

  constructor(
    private readonly sequelize: Sequelize,
    private readonly failed: (error: unknown) => void,
  ) {}

  add(siteId: number, what: Refusal['what'], reason: string, nowMs: number, n = 1): void {
    this.onAdd(what, n)
    let reasons = this.#reasons.get(siteId)
    if (!reasons) this.#reasons.set(siteId, (reasons = new Set()))
    let key = `${what}\n${reason.slice(0, 200)}`
    if (!reasons.has(key) && reasons.size >= MOST_REASONS) key = `${what}\n(other)`
    else reasons.add(key)
    let counts = this.#counts.get(siteId)
    if (!counts) this.#counts.set(siteId, (counts = new Map<string, Count>()))
    const count = counts.get(key)
    if (count) {
      count.n += n
      count.lastMs = nowMs
    } else counts.set(key, { n, firstMs: nowMs, lastMs: nowMs })
    this.#soon()
  }

  /** Writes down what was counted since. What cannot be written is counted on, and tried again. */
  async write(): Promise<void> {
    clearTimeout(this.#timer)
    this.#timer = undefined
    const written = this.#writing.then(() => this.#write())
    this.#writing = written.catch(() => undefined)
    return written
  }

  /** Writes what is left; after this nothing is written any more. */
  async close(): Promise<void> {
    this.#closed = true
    await this.write()
  }

  #soon(): void {
    if (this.#closed) return
    this.#timer ??= setTimeout(() => {
      this.write().catch((error: unknown) => {
        this.failed(error)
        this.#soon()
      })
    }, WRITE_MS).unref()
  }

  async #write(): Promise<void> {
    for (const [siteId, counts] of this.#counts)
      for (const [key, { n, firstMs, lastMs }] of counts) {
        const [what, reason] = key.split('\n')
        await this.sequelize.query(
          `INSERT INTO refusals (site_id, what, reason, n, first_ms, last_ms) VALUES (?, ?, ?, ?, ?, ?)
           ON DUPLICATE KEY UPDATE n = n + VALUES(n), last_ms = VALUES(last_ms)`,
          { replacements: [siteId, what, reason, n, firstMs, lastMs] },
        )
        const count = counts.get(key)!
        if (count.n === n) counts.delete(key)
        else count.n -= n
      }
  }

  /** What could not be taken of a site, the latest first. */
  async list(siteId: number): Promise<Refusal[]> {
    await this.write()
    const rows = await this.sequelize.query<{
      what: Refusal['what']
      reason: string
      n: number
      first_ms: number
      last_ms: number
    }>(
      'SELECT what, reason, n, first_ms, last_ms FROM refusals WHERE site_id = ? ORDER BY last_ms DESC, n DESC',
      {
        replacements: [siteId],
        type: QueryTypes.SELECT,
      },
    )
    return rows.map(({ what, reason, n, first_ms, last_ms }) => ({
      ...{ what, reason, n: Number(n) },
      ...{ firstMs: Number(first_ms), lastMs: Number(last_ms) },
    }))
  }
}
