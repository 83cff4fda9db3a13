import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import type { Counts, Dictionaries, Lens, PageGroupRule } from '@dust-trail/core'
import type { KernelName } from './kernels.ts'

/** A block as threads hand it on: its columns and which of its sessions stand, in memory that all of them see. */
export interface SharedBlock {
  id: number
  counts: Counts
  columns: SharedArrayBuffer
  standing: SharedArrayBuffer
}

export interface SiteSettings {
  timeZone: string
  rules: readonly PageGroupRule[]
}

export type DictionaryName = keyof Dictionaries

/** What a thread is told. */
export type ThreadMessage =
  | { type: 'settings'; site: string; settings: SiteSettings }
  | { type: 'words'; site: string; words: Partial<Record<DictionaryName, string[]>> }
  | { type: 'block'; site: string; block: SharedBlock }
  | { type: 'drop'; site: string; id: number }
  | {
      type: 'ask'
      ask: number
      site: string
      kernel: KernelName
      lens: Lens
      spec: object
      blocks: number[]
      stop: SharedArrayBuffer
    }

/** What it says. */
export type ThreadAnswer = { ask: number; partial: object | undefined } | { ask: number; error: string }

const MOST_THREADS = 4

/** Threads that scan blocks; each knows every block, so that any may be asked about any. */
export interface Threads {
  /** how many there are */
  readonly count: number
  tell(message: Exclude<ThreadMessage, { type: 'ask' }>): void
  /** Resolves with what one thread's blocks have to say; undefined where it was stopped. */
  scan(
    thread: number,
    question: { site: string; kernel: KernelName; lens: Lens; spec: object; blocks: number[] },
    signal?: AbortSignal,
  ): Promise<object | undefined>
  close(): Promise<void>
}

/** Worker threads, as many as the machine has processors, up to a few. */
export function startThreads(file: URL, count = Math.min(MOST_THREADS, availableParallelism())): Threads {
  const open = new Map<
    number,
    { resolve: (partial: object | undefined) => void; reject: (error: Error) => void }
  >()
  let asked = 0
  const workers = Array.from({ length: count }, () => {
    const worker = new Worker(file)
    worker.on('message', (answer: ThreadAnswer) => {
      const waiting = open.get(answer.ask)
      open.delete(answer.ask)
      if ('error' in answer) waiting?.reject(new Error(answer.error))
      else waiting?.resolve(answer.partial)
    })
    const lost = (error: Error) => {
      for (const { reject } of open.values()) reject(error)
      open.clear()
    }
    worker.on('error', lost)
    worker.on('exit', () => lost(new Error('a thread of the engine has ended')))
    // The server lives by its listening, not by its threads.
    worker.unref()
    return worker
  })
  return {
    count,
    tell(message) {
      for (const worker of workers) worker.postMessage(message)
    },
    scan(thread, question, signal) {
      const ask = asked++
      const stop = new SharedArrayBuffer(4)
      const halt = () => Atomics.store(new Int32Array(stop), 0, 1)
      signal?.addEventListener('abort', halt, { once: true })
      return new Promise<object | undefined>((resolve, reject) => {
        open.set(ask, { resolve, reject })
        workers[thread]!.postMessage({ type: 'ask', ask, ...question, stop } satisfies ThreadMessage)
      }).finally(() => signal?.removeEventListener('abort', halt))
    },
    async close() {
      await Promise.all(workers.map((worker) => worker.terminate()))
    },
  }
}
