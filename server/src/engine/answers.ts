import { setMaxListeners } from 'node:events'
import { LRUCache } from 'lru-cache'

/** One scan that is running, for everybody who asked the same since the data last changed. */
interface Running {
  answer: Promise<unknown>
  /** stops the scan */
  stop: AbortController
  /** how many still want the answer */
  waiting: number
}

/** Bytes that kept answers may take together. */
export const ANSWER_BYTES = 64 * 2 ** 20

/**
 * Answers to equal questions about one state of the data: an answer is computed once, shared by those who ask while it
 * is computed, and kept for those who ask later. When the state changes all of it is forgotten: an answer that is still
 * being computed then goes to those who asked before the change, and is not kept.
 */
export class Answers {
  readonly #kept: LRUCache<string, { answer: unknown }>
  readonly #running = new Map<string, Running>()

  /**
   * @param most  how many answers are kept; the one asked for longest ago goes first; 0 = none
   * @param bytes about how many bytes they may take together
   * @param full  one had to go since there was no room for another
   */
  constructor(
    private readonly most: number,
    bytes = ANSWER_BYTES,
    full: () => void = () => undefined,
  ) {
    this.#kept = new LRUCache({
      ...{ max: Math.max(1, most), maxSize: bytes, maxEntrySize: bytes },
      sizeCalculation: ({ answer }) => Math.max(1, sizeOf(answer)),
      dispose: (_answer, _key, reason) => {
        if (reason === 'evict') full()
      },
    })
  }

  /**
   * The answer to a question.
   *
   * @param key      equal for equal questions
   * @param compute  finds the answer; its signal is aborted when nobody wants the answer any more
   * @param signal   aborted when this asker does not want the answer any more
   * @param keep     whether the answer is kept for later; one that is very large had better not be
   * @throws what compute throws; the signal's reason where it is aborted
   */
  async get(
    key: string,
    compute: (signal: AbortSignal) => Promise<unknown>,
    signal: AbortSignal | undefined,
    keep: boolean,
  ): Promise<unknown> {
    const kept = this.#kept.get(key)
    if (kept) return kept.answer
    const running = this.#running.get(key) ?? this.#start(key, compute)
    running.waiting++
    const leave = () => {
      if (--running.waiting > 0) return
      if (this.#running.get(key) === running) this.#running.delete(key)
      running.stop.abort(signal?.reason)
    }
    signal?.addEventListener('abort', leave, { once: true })
    try {
      const answer = await unlessAborted(running.answer, signal)
      // Only what is still listed belongs to the present state.
      if (keep && this.most > 0 && this.#running.get(key) === running) this.#kept.set(key, { answer })
      return answer
    } finally {
      signal?.removeEventListener('abort', leave)
      if (!signal?.aborted && --running.waiting === 0 && this.#running.get(key) === running)
        this.#running.delete(key)
    }
  }

  /** Called when data or settings have changed. */
  forgetAll(): void {
    this.#kept.clear()
    this.#running.clear()
  }

  #start(key: string, compute: (signal: AbortSignal) => Promise<unknown>): Running {
    const stop = new AbortController()
    // What a question needs first is scanned for at once, and each scan listens.
    setMaxListeners(0, stop.signal)
    const running: Running = { answer: compute(stop.signal), stop, waiting: 0 }
    this.#running.set(key, running)
    return running
  }
}

/** The promise's value, or a rejection as soon as the signal is aborted. */
function unlessAborted<T>(promise: Promise<T>, signal: AbortSignal | undefined): Promise<T> {
  if (!signal) return promise
  return new Promise((resolve, reject) => {
    const abort = () => reject(signal.reason as Error)
    signal.addEventListener('abort', abort, { once: true })
    promise.then(resolve, reject).finally(() => signal.removeEventListener('abort', abort))
  })
}

/** About how many bytes a value takes. */
export function sizeOf(value: unknown): number {
  if (typeof value === 'string') return 16 + 2 * value.length
  if (typeof value !== 'object' || value === null) return 8
  if (ArrayBuffer.isView(value)) return 64 + value.byteLength
  if (Array.isArray(value)) return value.reduce<number>((sum, one) => sum + 8 + sizeOf(one), 16)
  let bytes = 32
  for (const one of Object.values(value)) bytes += 16 + sizeOf(one)
  return bytes
}
