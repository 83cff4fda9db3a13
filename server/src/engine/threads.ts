import { availableParallelism } from 'node:os'
import { setFlagsFromString } from 'node:v8'
import { MessageChannel, Worker } from 'node:worker_threads'
import type { BlockCodes, SignalTables, SignalThresholds } from '@dust-trail/core'
import { viewBlock, viewSignals } from '@dust-trail/core'
import { ProblemError } from '../problem.ts'
import type { Unpack } from '../store/read-blocks.ts'
import { DamagedError } from '../store/compression.ts'
import { bytesOfCuts, endAgreement } from './cuts.ts'
import type {
  FoundAnew,
  SiteUpdate,
  ThreadAnswer,
  ThreadMessage,
  ThreadQuestion,
  Unpacked,
} from './thread-messages.ts'

const MOST_THREADS = 4
/** After how long a thread that has ended is started again: one that ends at each start must not keep the machine busy. */
const RESTART_MS = 250
/**
 * Columns that questions need for a moment count as garbage of their thread. Its own heap is small, so that without room
 * to begin with it would be collected at every large answer, which took a fifth of the time. Read when a thread starts.
 */
const HEAP_TO_BEGIN_WITH = '--initial-old-space-size=128'

/** Tells one thread, or all of them, what is new. */
export type Tell = (update: SiteUpdate) => void

/** Threads that scan blocks; each knows every block, so that any may be asked about any. */
export interface Threads {
  /** how many are alive; one that has ended is started again */
  readonly count: number
  /** Tells every thread. */
  readonly tell: Tell
  /**
   * Registers what must be told to a thread that is started again: everything that was told since the start and still
   * holds.
   */
  onRestart(retell: (tell: Tell) => void): void
  /**
   * Asks the threads, each about its share of the blocks; one of them puts together what they found, so that the server
   * has nothing to compute. Resolves with the answer; undefined where it was stopped.
   *
   * @param shares  at least one, at most `count`
   * @param fetch   reads a stored block
   * @throws ProblemError 503 where there is no thread, or one of them ends before there is an answer
   */
  ask(
    question: ThreadQuestion,
    shares: readonly { blocks: number[]; streamed: number[] }[],
    fetch: (block: number) => Promise<Uint8Array | undefined>,
    signal?: AbortSignal,
  ): Promise<unknown>
  /** Reads a stored block into memory that all threads share; where its thread ends, by another one. */
  readonly unpack: Unpack
  /**
   * Finds the signals of a block anew, in memory that all threads share; undefined where it has gone since.
   *
   * @param before  under which those were found that it has
   */
  findSignals(
    site: string,
    block: number,
    thresholds: SignalThresholds,
    before: SignalThresholds,
  ): Promise<SignalTables | undefined>
  close(): Promise<void>
}

/** The problem of a question that no thread can answer just now. */
export function noThread(): ProblemError {
  return new ProblemError(
    503,
    'engine-restarting',
    'A thread that answers questions has ended and is being started again.',
    'Nothing is lost. Ask again in a moment.',
  )
}

/** A question that is being answered. */
interface OpenQuestion {
  /** the threads that scan for it, by their slots */
  slots: number[]
  resolve: (result: unknown) => void
  reject: (error: Error) => void
  fetch: (block: number) => Promise<Uint8Array | undefined>
  stop: SharedArrayBuffer
  cuts: SharedArrayBuffer
}

/** A stored block that is being read, or one in which signals are being found. */
interface OpenTask {
  slot: number
  said: (answer: Unpacked | FoundAnew) => void
  /** hands it to a living thread, from the beginning */
  start: () => void
}

/** @see startThreads */
class ThreadPool implements Threads {
  /** by slot; undefined while one is not there */
  readonly #workers: (Worker | undefined)[] = []
  readonly #questions = new Map<number, OpenQuestion>()
  readonly #tasks = new Map<number, OpenTask>()
  readonly #retellers: ((tell: Tell) => void)[] = []
  #asked = 0
  #given = 0
  #closed = false

  constructor(
    private readonly file: URL,
    count: number,
    private readonly started: (worker: Worker) => void,
  ) {
    for (let slot = 0; slot < count; slot++) this.#start(slot)
  }

  get count(): number {
    return this.#alive().length
  }

  readonly tell: Tell = (update) => {
    for (const worker of this.#workers) worker?.postMessage(update)
  }

  onRestart(retell: (tell: Tell) => void): void {
    this.#retellers.push(retell)
  }

  async ask(
    question: ThreadQuestion,
    shares: readonly { blocks: number[]; streamed: number[] }[],
    fetch: OpenQuestion['fetch'],
    signal?: AbortSignal,
  ): Promise<unknown> {
    const slots = this.#alive().slice(0, shares.length)
    if (!slots.length || slots.length < shares.length) throw noThread()
    const ask = this.#asked++
    const stop = new SharedArrayBuffer(4)
    const cuts = new SharedArrayBuffer(bytesOfCuts(shares.length))
    const blocks = shares.map((share) => share.blocks)
    // Where others wait, it is better to go on with their questions than to scan what another thread knows already.
    const claims =
      this.#questions.size === 0 && shares.length > 1
        ? new SharedArrayBuffer(blocks.flat().length)
        : undefined
    const halt = () => Atomics.store(new Int32Array(stop), 0, 1)
    signal?.addEventListener('abort', halt, { once: true })
    // Each question is finished by another thread, in turn, so that the work of finishing is spread.
    const finisher = ask % shares.length
    try {
      return await new Promise<unknown>((resolve, reject) => {
        this.#questions.set(ask, { slots, resolve, reject, fetch, stop, cuts })
        shares.forEach(({ streamed }, thread) => {
          this.#post(slots[thread]!, {
            type: 'ask',
            ...{ ask, question, blocks, claims, streamed, stop, cuts, thread, finisher, slots },
          })
        })
      })
    } finally {
      this.#questions.delete(ask)
      signal?.removeEventListener('abort', halt)
    }
  }

  readonly unpack: Unpack = (stored, codesOf, thresholds) => {
    const task = this.#given++
    return new Promise((resolve, reject) => {
      const fail = (error: unknown) => reject(error instanceof Error ? error : new Error(String(error)))
      const one: OpenTask = {
        slot: -1,
        said: (answer) => {
          if ('words' in answer) {
            const { slot } = one
            const tell = (codes?: BlockCodes) => this.#post(slot, { type: 'coded', task, codes, thresholds })
            codesOf(answer.words).then(tell, (error: unknown) => {
              fail(error)
              tell()
            })
            return
          }
          this.#tasks.delete(task)
          if ('damaged' in answer) reject(new DamagedError(answer.damaged))
          else if ('parts' in answer) resolve({ block: viewBlock(answer.parts), kept: answer.kept })
        },
        start: () => {
          // Copies are given away, alone: the memory they came in may hold much else.
          const body = new Uint8Array(stored.body)
          const signals = stored.signals && { ...stored.signals, body: new Uint8Array(stored.signals.body) }
          const message: ThreadMessage = { type: 'unpack', task, stored: { ...stored, body, signals } }
          this.#give(one, task, message, signals ? [body.buffer, signals.body.buffer] : [body.buffer])
        },
      }
      this.#tasks.set(task, one)
      one.start()
    })
  }

  findSignals(
    site: string,
    block: number,
    thresholds: SignalThresholds,
    before: SignalThresholds,
  ): Promise<SignalTables | undefined> {
    const task = this.#given++
    return new Promise((resolve, reject) => {
      const one: OpenTask = {
        slot: -1,
        said: (answer) => {
          this.#tasks.delete(task)
          if ('damaged' in answer) reject(new Error(answer.damaged))
          else if ('found' in answer)
            resolve(answer.found && viewSignals(answer.found.signals, answer.found.signalMemory))
        },
        start: () => this.#give(one, task, { type: 'find', task, site, block, thresholds, before }),
      }
      this.#tasks.set(task, one)
      one.start()
    })
  }

  /** Hands a task to a living thread; where none is alive, the next one to start takes it. */
  #give(one: OpenTask, task: number, message: ThreadMessage, transfer?: ArrayBuffer[]): void {
    const alive = this.#alive()
    if (!alive.length) return
    one.slot = alive[task % alive.length]!
    this.#post(one.slot, message, transfer)
  }

  async close(): Promise<void> {
    this.#closed = true
    await Promise.all(this.#workers.map(async (worker) => worker?.terminate()))
  }

  #alive(): number[] {
    return this.#workers.flatMap((worker, slot) => (worker ? [slot] : []))
  }

  #post(slot: number, message: ThreadMessage, transfer: ArrayBuffer[] = []): void {
    this.#workers[slot]?.postMessage(message, transfer)
  }

  #start(slot: number): void {
    setFlagsFromString(HEAP_TO_BEGIN_WITH)
    const worker = new Worker(this.file)
    worker.on('message', (answer: ThreadAnswer) => this.#take(slot, answer))
    // An error is followed by the end of the thread.
    worker.on('error', () => undefined)
    worker.on('exit', () => this.#ended(slot))
    // The server lives by its listening, not by its threads.
    worker.unref()
    this.#workers[slot] = worker
    this.started(worker)
    this.#workers.forEach((other, otherSlot) => {
      if (!other || otherSlot === slot) return
      const { port1, port2 } = new MessageChannel()
      this.#post(slot, { type: 'meet', slot: otherSlot, port: port1 }, [port1 as never])
      this.#post(otherSlot, { type: 'meet', slot, port: port2 }, [port2 as never])
    })
    for (const retell of this.#retellers) retell((update) => worker.postMessage(update))
    for (const task of this.#tasks.values()) if (task.slot < 0) task.start()
  }

  #take(slot: number, answer: ThreadAnswer): void {
    if ('task' in answer) {
      this.#tasks.get(answer.task)?.said(answer)
      return
    }
    const asker = this.#questions.get(answer.ask)
    if ('want' in answer) {
      const deliver = (bytes: Uint8Array | undefined) =>
        this.#post(slot, { type: 'bytes', ask: answer.ask, bytes })
      if (asker)
        asker.fetch(answer.want).then(deliver, (error: unknown) => {
          asker.reject(error instanceof Error ? error : new Error(String(error)))
          deliver(undefined)
        })
      else deliver(undefined)
      return
    }
    if ('error' in answer) asker?.reject(new Error(answer.error))
    else asker?.resolve(answer.result)
  }

  /** A thread has ended: what it was doing is given up or done by another, and one is started in its place. */
  #ended(slot: number): void {
    this.#workers[slot] = undefined
    if (this.#closed) return
    const lost = [...this.#questions].filter(([, { slots }]) => slots.includes(slot))
    for (const [, { reject, stop, cuts }] of lost) {
      Atomics.store(new Int32Array(stop), 0, 1)
      endAgreement(cuts)
      reject(noThread())
    }
    this.tell({ type: 'lost', asks: lost.map(([ask]) => ask) })
    for (const task of this.#tasks.values())
      if (task.slot === slot) {
        task.slot = -1
        task.start()
      }
    setTimeout(() => !this.#closed && this.#start(slot), RESTART_MS).unref()
  }
}

/**
 * Starts worker threads. One that ends is started again and told what the others know.
 *
 * @param count    as many as the machine has processors, up to a few, unless named
 * @param started  is shown every thread that is started
 */
export function startThreads(
  file: URL,
  count = Math.min(MOST_THREADS, availableParallelism()),
  started: (worker: Worker) => void = () => undefined,
): Threads {
  return new ThreadPool(file, count, started)
}
