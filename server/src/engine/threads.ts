import { availableParallelism } from 'node:os'
import { setFlagsFromString } from 'node:v8'
import type { MessagePort } from 'node:worker_threads'
import { MessageChannel, Worker } from 'node:worker_threads'
import type {
  Block,
  BlockCodes,
  BlockWords,
  EventCondition,
  Lens,
  PackedWords,
  PageGroupRule,
  Shape,
} from '@dust-trail/core'
import { viewBlock } from '@dust-trail/core'
import { bytesOfCuts } from './cuts.ts'
import type { StoredBlock, Unpack } from '../store/blocks.ts'
import { Damaged } from '../store/squeezed.ts'
import type { KernelName } from './kernels.ts'

/** A block as threads hand it on, in memory that all of them see. */
export interface SharedBlock {
  id: number
  sessions: number
  /** which of its sessions stand */
  standing: SharedArrayBuffer
  /** its columns; absent where they are read from the database each time */
  shape?: Shape
  columns?: SharedArrayBuffer
}

export interface SiteSettings {
  timeZone: string
  rules: readonly PageGroupRule[]
  actions: Actions
}

/** Actions that the site has named, and what events they are. */
export type Actions = ReadonlyMap<string, EventCondition>

/** What there is to know about a site. */
export type News =
  | { type: 'settings'; site: string; settings: SiteSettings }
  | { type: 'words'; site: string; words: BlockWords; visitors?: PackedWords }
  | { type: 'block'; site: string; block: SharedBlock }
  | { type: 'drop'; site: string; id: number }

export interface Question {
  site: string
  kernel: KernelName
  lens: Lens
  spec: object
}

/** What a thread is told. */
export type ThreadMessage =
  | News
  | Delivery
  | Unpacking
  | { type: 'meet'; thread: number; port: MessagePort }
  | {
      type: 'ask'
      ask: number
      question: Question
      /** by thread the blocks in memory that it is to scan */
      blocks: number[][]
      /** where they are claimed one by one, so that who is done helps the others; undefined = each scans its own */
      claims: SharedArrayBuffer | undefined
      /** what the one that is told scans besides: blocks that it must ask for */
      streamed: number[]
      stop: SharedArrayBuffer
      /** where all agree on what each brings to an end; see Cuts */
      cuts: SharedArrayBuffer
      /** the thread that is told, the one that has the last word, and how many scan */
      thread: number
      finisher: number
      threads: number
    }

/** A stored block that a thread is to read, and then what its words are coded as; undefined where nobody can tell. */
export type Unpacking =
  | { type: 'unpack'; task: number; stored: StoredBlock }
  | { type: 'coded'; task: number; codes: BlockCodes | undefined }

/** A stored block that a thread asked for; undefined where it could not be read. */
export interface Delivery {
  type: 'bytes'
  ask: number
  bytes: Uint8Array | undefined
}

/** What one thread hands to another that goes on with it. */
export interface Share {
  ask: number
  thread: number
  /** part of what was found, or all of it that is settled */
  what: 'part' | 'all'
  packed: object | undefined
  error?: string | undefined
}

/** What that one says. */
export type ThreadAnswer =
  | { ask: number; result: unknown }
  | { ask: number; error: string }
  /** a block that it needs */
  | { ask: number; want: number }
  | Unpacked

/** What a thread says of a stored block: its words, then where its columns lie, or what is wrong with it. */
export type Unpacked =
  | { task: number; words: BlockWords }
  | { task: number; shape: Shape; columns: SharedArrayBuffer }
  | { task: number; damaged: string }

const MOST_THREADS = 4
/**
 * Columns that questions need for a moment count as garbage of their thread. Its own heap is small, so that without room
 * to begin with it would be collected at every large answer, which took a fifth of the time. Read when a thread starts.
 */
const HEAP_TO_BEGIN_WITH = '--initial-old-space-size=128'

/** Threads that scan blocks; each knows every block, so that any may be asked about any. */
export interface Threads {
  /** how many there are */
  readonly count: number
  tell(message: News): void
  /**
   * Asks the threads, each about its share of the blocks; one of them puts together what they found, so that the server
   * has nothing to compute. Resolves with the answer; undefined where it was stopped.
   *
   * @param fetch  reads a stored block
   */
  ask(
    question: Question,
    shares: readonly { blocks: number[]; streamed: number[] }[],
    fetch: (block: number) => Promise<Uint8Array | undefined>,
    signal?: AbortSignal,
  ): Promise<unknown>
  /** Reads a stored block into memory that all threads share. */
  readonly unpack: Unpack
  close(): Promise<void>
}

/** Worker threads, as many as the machine has processors, up to a few. */
export function startThreads(file: URL, count = Math.min(MOST_THREADS, availableParallelism())): Threads {
  const open = new Map<
    number,
    {
      resolve: (result: unknown) => void
      reject: (error: Error) => void
      fetch: (block: number) => Promise<Uint8Array | undefined>
    }
  >()
  let asked = 0
  const tasks = new Map<number, { said: (answer: Unpacked) => void; reject: (error: Error) => void }>()
  let given = 0
  setFlagsFromString(HEAP_TO_BEGIN_WITH)
  const workers = Array.from({ length: count }, () => {
    const worker = new Worker(file)
    worker.on('message', (answer: ThreadAnswer) => {
      if ('task' in answer) {
        tasks.get(answer.task)?.said(answer)
        return
      }
      const waiting = open.get(answer.ask)
      if ('want' in answer) {
        const deliver = (bytes: Uint8Array | undefined) =>
          worker.postMessage({ type: 'bytes', ask: answer.ask, bytes } satisfies Delivery)
        if (waiting)
          waiting.fetch(answer.want).then(deliver, (error: unknown) => {
            waiting.reject(error instanceof Error ? error : new Error(String(error)))
            deliver(undefined)
          })
        else deliver(undefined)
        return
      }
      open.delete(answer.ask)
      if ('error' in answer) waiting?.reject(new Error(answer.error))
      else waiting?.resolve(answer.result)
    })
    const lost = (error: Error) => {
      for (const { reject } of [...open.values(), ...tasks.values()]) reject(error)
      open.clear()
      tasks.clear()
    }
    worker.on('error', lost)
    worker.on('exit', () => lost(new Error('a thread of the engine has ended')))
    // The server lives by its listening, not by its threads.
    worker.unref()
    return worker
  })
  introduce(workers)
  return {
    count,
    tell(message) {
      for (const worker of workers) worker.postMessage(message)
    },
    ask(question, shares, fetch, signal) {
      const ask = asked++
      const stop = new SharedArrayBuffer(4)
      const cuts = new SharedArrayBuffer(bytesOfCuts(shares.length))
      const blocks = shares.map((share) => share.blocks)
      // Where others wait, it is better to go on with their questions than to scan what another thread knows already.
      const claims =
        open.size === 0 && shares.length > 1 ? new SharedArrayBuffer(blocks.flat().length) : undefined
      const halt = () => Atomics.store(new Int32Array(stop), 0, 1)
      signal?.addEventListener('abort', halt, { once: true })
      // A thread has the same blocks to scan each time, and may know some of the answer still; they end questions in turn.
      const finisher = ask % shares.length
      return new Promise<unknown>((resolve, reject) => {
        open.set(ask, { resolve, reject, fetch })
        shares.forEach(({ streamed }, thread) => {
          workers[thread]!.postMessage({
            type: 'ask',
            ask,
            question,
            blocks,
            claims,
            streamed,
            stop,
            cuts,
            thread,
            finisher,
            threads: shares.length,
          } satisfies ThreadMessage)
        })
      }).finally(() => signal?.removeEventListener('abort', halt))
    },
    unpack(stored, codesOf) {
      const task = given++
      const worker = workers[task % count]!
      return new Promise<Block>((resolve, reject) => {
        const said = (answer: Unpacked) => {
          if ('words' in answer) {
            const tell = (codes?: BlockCodes) =>
              worker.postMessage({ type: 'coded', task, codes } satisfies ThreadMessage)
            codesOf(answer.words).then(tell, (error: unknown) => {
              reject(error instanceof Error ? error : new Error(String(error)))
              tell()
            })
            return
          }
          tasks.delete(task)
          if ('damaged' in answer) reject(new Damaged(answer.damaged))
          else resolve(viewBlock(answer.shape, answer.columns))
        }
        tasks.set(task, { said, reject })
        // Given away, alone: the memory it came in may hold much else.
        const body = new Uint8Array(stored.body)
        worker.postMessage({ type: 'unpack', task, stored: { ...stored, body } } satisfies ThreadMessage, [
          body.buffer,
        ])
      })
    },
    async close() {
      await Promise.all(workers.map((worker) => worker.terminate()))
    },
  }
}

/** Gives every two threads a way to each other. */
function introduce(workers: readonly Worker[]): void {
  workers.forEach((one, i) => {
    workers.slice(i + 1).forEach((other, k) => {
      const { port1, port2 } = new MessageChannel()
      one.postMessage({ type: 'meet', thread: i + 1 + k, port: port1 } satisfies ThreadMessage, [port1])
      other.postMessage({ type: 'meet', thread: i, port: port2 } satisfies ThreadMessage, [port2])
    })
  })
}
