/** A thread of the engine: knows the blocks of all sites, in memory it shares with the server, and scans those it is told. */
import type { MessagePort } from 'node:worker_threads'
import { parentPort } from 'node:worker_threads'
import type { Gathered } from './kernels.ts'
import { buffersIn, finish, handOver } from './kernels.ts'
import { SharedSites } from './shared-sites.ts'
import type { Share, ThreadAnswer, ThreadMessage } from './threads.ts'

const port = parentPort!
const sites = new SharedSites()
/** ways to the other threads, by number */
const others = new Map<number, MessagePort>()
/** questions that this thread brings to an end, and what there is of them */
const open = new Map<number, { gathered?: Gathered; awaited: number; shares: Share[] }>()

port.on('message', (message: ThreadMessage) => {
  if (message.type === 'meet') {
    others.set(message.thread, message.port)
    message.port.on('message', (share: Share) => take(share))
    return
  }
  if (message.type !== 'ask') {
    sites.take(message)
    return
  }
  const { ask, question, blocks, stop, finisher, threads } = message
  const flag = new Int32Array(stop)
  let gathered: Gathered | undefined
  let error: string | undefined
  try {
    gathered = sites.scan(question, blocks, () => Atomics.load(flag, 0) === 1)
  } catch (thrown) {
    error = said(thrown)
  }
  if (finisher !== undefined) {
    const { packed, moved } = gathered ? handOver(gathered) : { packed: undefined, moved: [] }
    others.get(finisher)!.postMessage({ ask, packed, error } satisfies Share, moved)
    return
  }
  const known = open.get(ask)?.shares ?? []
  const own = { awaited: threads - 1, shares: known, ...(gathered && { gathered }) }
  open.set(ask, own)
  if (error !== undefined) known.push({ ask, packed: undefined, error })
  if (error !== undefined) own.awaited++
  endOf(ask)
})

function take(share: Share): void {
  const known = open.get(share.ask)
  if (known) known.shares.push(share)
  else open.set(share.ask, { awaited: Infinity, shares: [share] })
  endOf(share.ask)
}

/** Brings a question to its end where all have said what they have to say. */
function endOf(ask: number): void {
  const { gathered, awaited, shares } = open.get(ask)!
  if (shares.length < awaited) return
  open.delete(ask)
  let answer: ThreadAnswer
  const failed = shares.find(({ error }) => error !== undefined)
  try {
    const stopped = !gathered?.partial && shares.every(({ packed }) => !packed)
    if (failed) answer = { ask, error: failed.error! }
    else
      answer = {
        ask,
        result: stopped
          ? undefined
          : finish(
              gathered!,
              shares.map(({ packed }) => packed),
            ),
      }
  } catch (thrown) {
    answer = { ask, error: said(thrown) }
  }
  port.postMessage(answer, 'result' in answer ? [...new Set(buffersIn(answer.result))] : [])
}

function said(thrown: unknown): string {
  return thrown instanceof Error ? thrown.message : String(thrown)
}
