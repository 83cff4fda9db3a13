import { beacon, later, now, packed, send, toJson } from './dom.ts'
import type { Batch, RecordItem, SentLine, Snapshot } from '@dust-trail/core'
import { forgetKept, forgetLeft, leaveBehind, takeLeft, withoutRecording } from './left-behind.ts'
import { changeInParts, inParts } from './parts.ts'

/**
 * The first of some entries, as many as fit, at least one; they are taken out.
 *
 * @param divide  what an entry that is too large for any batch goes as
 */
function partOf<T>(entries: T[], most: number, divide: (entry: T) => T[] = (entry) => [entry]): T[] {
  let bytes = 0
  let count = 0
  while (count < entries.length && count < MOST_PER_BATCH) {
    let length = toJson(entries[count]).length
    if (length > MOST_SNAPSHOT) {
      entries.splice(count, 1, ...divide(entries[count]!))
      length = toJson(entries[count]).length
    }
    bytes += length
    if (count && bytes > most) break
    count++
  }
  return entries.splice(0, count)
}

const divided = (item: RecordItem): RecordItem[] =>
  item.k === 'change' ? changeInParts(item, PART_BYTES) : [item]

export type BatchHead = Pick<Batch, 'site' | 'visitor' | 'document' | 'tab' | 'startMs'>

/** What the server says of visitors who were deleted (RFC 9110). */
const GONE = 410
const FLUSH_MS = 1000
/** Browsers refuse beacons over 64 KiB. */
const BEACON_BYTES = 60_000
const MOST_WAITING = 60
const MOST_PER_BATCH = 400
/** About how large a batch may be. */
const PART_BYTES = 500_000
/** The server takes no more than 8 MiB at once, and a character is at most three bytes. */
const MOST_SNAPSHOT = 2_400_000
/** Below this packing costs more than it spares. */
const WORTH_PACKING = 2000

/**
 * Brings batches to the server, one at a time and in order, until each is acknowledged; what is left when the page
 * hides goes out as beacons, and what is too large for those waits for the next page of the tab. A batch sent twice carries
 * the same number, by which the server drops it.
 */
export class Transport {
  #lines: SentLine[] = []
  #items: RecordItem[] = []
  #snapshot: Snapshot | undefined
  #waiting: Batch[] = []
  #n = 0
  #piece = 0
  #sending = false
  /** the batch that was sent and may have arrived: it must not change any more */
  #sent: Batch | undefined
  #retryMs = 1000
  #timer = 0

  constructor(
    private readonly address: string,
    private head: BatchHead,
    /** the visitor has been deleted: nothing more is kept under the old name */
    private readonly gone: () => void,
  ) {
    this.#waiting = takeLeft(head)
    if (this.#waiting.length) this.#schedule()
  }

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
    this.#cut(PART_BYTES)
    this.head = head
    this.#n = 0
    this.#piece = 0
  }

  /** Drops all that has not gone yet. */
  drop(): void {
    this.#lines = []
    this.#items = []
    this.#waiting = []
    this.#snapshot = undefined
    forgetKept()
  }

  /** Everything not yet acknowledged, now, in a way that outlives the page. */
  leave(): void {
    // What happened before how it looked: a beacon has little room.
    this.#cut(BEACON_BYTES / 2)
    this.#waiting = this.#waiting.filter((batch) => {
      const body = toJson({ ...batch, sentMs: now() })
      return !(body.length < BEACON_BYTES && beacon?.(this.address, body))
    })
    leaveBehind(this.#waiting)
    void this.#send()
  }

  #schedule(): void {
    if (!this.#timer)
      this.#timer = later(() => {
        this.#timer = 0
        this.#cut(PART_BYTES)
        void this.#send()
      }, FLUSH_MS)
  }

  /** Makes batches of what has gathered, none much larger than so many bytes: what is too large goes in parts. */
  #cut(most: number): void {
    if (this.#snapshot) {
      const [first, rest] = inParts(this.#snapshot, MOST_SNAPSHOT, PART_BYTES)
      this.#add([], [], first)
      this.#items = [...rest, ...this.#items]
      this.#snapshot = undefined
    }
    while (this.#lines.length) this.#add(partOf(this.#lines, most), [])
    while (this.#items.length) this.#add([], partOf(this.#items, most, divided))
    this.#makeRoom()
  }

  #add(lines: SentLine[], items: RecordItem[], snapshot?: Snapshot): void {
    const last = this.#waiting[this.#waiting.length - 1]
    // Little that has not gone yet goes together.
    if (
      last &&
      last !== this.#sent &&
      !snapshot &&
      last.document === this.head.document &&
      !this.#full(last, lines, items)
    ) {
      last.lines.push(...lines)
      last.items.push(...items)
      if (items.length) last.piece ??= this.#piece++
      return
    }
    this.#waiting.push({
      v: 1,
      ...this.head,
      ...{ n: this.#n++, sentMs: 0, lines, items },
      ...((snapshot || items.length) && { piece: this.#piece++ }),
      ...(snapshot && { snapshot }),
    })
  }

  #full(batch: Batch, lines: SentLine[], items: RecordItem[]): boolean {
    return (
      batch.lines.length + lines.length > MOST_PER_BATCH ||
      batch.items.length + items.length > MOST_PER_BATCH ||
      toJson(batch).length + toJson(lines).length + toJson(items).length > BEACON_BYTES
    )
  }

  /** Where the server has been away for long, recordings go before what happened, and the oldest of that goes last. */
  #makeRoom(): void {
    if (this.#waiting.length <= MOST_WAITING) return
    this.#waiting = this.#waiting
      .map((batch) => (batch === this.#sent ? batch : withoutRecording(batch)))
      .filter((batch) => batch === this.#sent || batch.lines.length)
    while (this.#waiting.length > 4 * MOST_WAITING)
      this.#waiting.splice(this.#waiting[0] === this.#sent ? 1 : 0, 1)
  }

  async #send(): Promise<void> {
    if (this.#sending) return
    this.#sending = true
    try {
      for (let batch = this.#waiting[0]; batch; batch = this.#waiting[0]) {
        this.#sent = batch
        const text = toJson({ ...batch, sentMs: now() })
        const bytes = text.length > WORTH_PACKING ? await packed(text) : undefined
        const body = bytes ?? text
        const answer = await send(this.address, {
          method: 'POST',
          body,
          keepalive: (bytes?.byteLength ?? text.length) < BEACON_BYTES,
          headers: { 'content-type': 'text/plain' },
          credentials: 'omit',
        })
        if (answer.status === GONE) this.gone()
        if (answer.status === 429 || answer.status >= 500) throw new Error(String(answer.status))
        this.#waiting = this.#waiting.filter((waiting) => waiting !== batch)
        this.#retryMs = 1000
      }
      forgetLeft()
    } catch {
      later(() => void this.#send(), this.#retryMs)
      this.#retryMs = Math.min(this.#retryMs * 2, 30_000)
    } finally {
      this.#sending = false
    }
  }
}
