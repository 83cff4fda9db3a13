import type { Line, RecordItem, Snapshot } from '@dust-trail/core'

/** A line as it leaves the page: who the visitor is, the batch says once. */
export type SentLine = Omit<Line, 'visitor'>

export interface Batch {
  v: 1
  site: string
  visitor: string
  /** one loaded document; batches of a document are numbered from 0 */
  document: string
  n: number
  tab: string
  startMs: number
  sentMs: number
  lines: SentLine[]
  items: RecordItem[]
  snapshot?: Snapshot
}

export type BatchHead = Pick<Batch, 'site' | 'visitor' | 'document' | 'tab' | 'startMs'>

const FLUSH_MS = 1000
/** Browsers refuse beacons over 64 KiB. */
const BEACON_BYTES = 60_000
const MOST_WAITING = 60
const MOST_PER_BATCH = 400

/**
 * Brings batches to the server, one at a time and in order, until each is acknowledged; what is left when the page
 * hides goes out as beacons. A batch sent twice carries the same number, by which the server drops it.
 */
export class Transport {
  #lines: SentLine[] = []
  #items: RecordItem[] = []
  #snapshot: Snapshot | undefined
  #waiting: Batch[] = []
  #n = 0
  #sending = false
  #retryMs = 1000
  #timer = 0

  constructor(
    private readonly address: string,
    private head: BatchHead,
  ) {}

  line(line: SentLine): void {
    this.#lines.push(line)
    this.#schedule()
  }

  item(item: RecordItem): void {
    this.#items.push(item)
    this.#schedule()
  }

  snapshot(snapshot: Snapshot): void {
    this.#snapshot = snapshot
    this.#schedule()
  }

  /** Closes the document that was being recorded and begins another. */
  restart(head: BatchHead): void {
    this.#cut()
    this.head = head
    this.#n = 0
  }

  /** Everything not yet acknowledged, now, in a way that outlives the page. */
  leave(): void {
    this.#cut()
    this.#waiting = this.#waiting.filter((batch) => {
      const body = JSON.stringify({ ...batch, sentMs: Date.now() })
      return !(body.length < BEACON_BYTES && navigator.sendBeacon(this.address, body))
    })
    void this.#send()
  }

  #schedule(): void {
    if (!this.#timer)
      this.#timer = setTimeout(() => {
        this.#timer = 0
        this.#cut()
        void this.#send()
      }, FLUSH_MS) as unknown as number
  }

  #cut(): void {
    while (this.#lines.length || this.#items.length || this.#snapshot) {
      const batch: Batch = {
        v: 1,
        ...this.head,
        n: this.#n++,
        sentMs: 0,
        lines: this.#lines.splice(0, MOST_PER_BATCH),
        items: this.#items.splice(0, MOST_PER_BATCH),
      }
      if (this.#snapshot) {
        batch.snapshot = this.#snapshot
        this.#snapshot = undefined
      }
      this.#waiting.push(batch)
    }
    if (this.#waiting.length > MOST_WAITING) this.#waiting.splice(1, this.#waiting.length - MOST_WAITING)
  }

  async #send(): Promise<void> {
    if (this.#sending) return
    this.#sending = true
    try {
      for (let batch = this.#waiting[0]; batch; batch = this.#waiting[0]) {
        const body = JSON.stringify({ ...batch, sentMs: Date.now() })
        const answer = await fetch(this.address, {
          method: 'POST',
          body,
          keepalive: body.length < BEACON_BYTES,
          headers: { 'content-type': 'text/plain' },
          credentials: 'omit',
        })
        if (answer.status === 429 || answer.status >= 500) throw new Error(String(answer.status))
        this.#waiting = this.#waiting.filter((waiting) => waiting !== batch)
        this.#retryMs = 1000
      }
    } catch {
      setTimeout(() => void this.#send(), this.#retryMs)
      this.#retryMs = Math.min(this.#retryMs * 2, 30_000)
    } finally {
      this.#sending = false
    }
  }
}
