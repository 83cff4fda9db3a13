/** A thread of the engine: knows the blocks of all sites, in memory it shares with the server, and scans those it is told. */
import { readlinkSync } from 'node:fs'
import { setPriority } from 'node:os'
import type { MessagePort } from 'node:worker_threads'
import { parentPort } from 'node:worker_threads'
import type { PackedBlock } from '@dust-trail/core'
import { decodeCoded, openPacked, shapeOf } from '@dust-trail/core'
import { unsqueezedNow } from '../store/squeezed.ts'
import type { Gathered } from './kernels.ts'
import { buffersIn, finish, nothingGathered, packed, scanOne } from './kernels.ts'
import { SharedSite } from './shared-sites.ts'
import type { Share, ThreadAnswer, ThreadMessage } from './threads.ts'

type Ask = Extract<ThreadMessage, { type: 'ask' }>
type ToDo = Exclude<ThreadMessage, { type: 'meet' | 'bytes' }>
type Unpacking = Extract<ThreadMessage, { type: 'unpack' | 'coded' }>

const port = parentPort!
try {
  // Behind the thread that serves: Linux takes the number of a thread where others know only processes.
  setPriority(Number(/\d+$/.exec(readlinkSync('/proc/thread-self'))![0]), 5)
} catch {
  // Elsewhere all threads are alike.
}
const sites = new Map<string, SharedSite>()
/** ways to the other threads, by number */
const others = new Map<number, MessagePort>()
/** questions that this thread brings to an end: its own part and the others' */
const open = new Map<number, { shares: Share[]; enough: () => void }>()
/** stored blocks whose words are being coded, by task */
const unpacked = new Map<number, PackedBlock>()
/** what has come and is not done yet: questions, blocks to be read, and what is new, in order */
const queue: ToDo[] = []
/** who waits for a stored block, by question */
const waiting = new Map<number, (bytes: Uint8Array | undefined) => void>()

port.on('message', (message: ThreadMessage) => {
  switch (message.type) {
    case 'meet':
      others.set(message.thread, message.port)
      message.port.on('message', take)
      break
    case 'bytes':
      waiting.get(message.ask)?.(message.bytes)
      break
    default:
      if (queue.push(message) === 1) setImmediate(goOn)
  }
})

/**
 * Does what is to be done in order, as far as the next question or block; then what the other threads have found is taken in, which
 * would otherwise wait behind all questions that have come.
 */
function goOn(): void {
  for (let next = queue.shift(); next; next = queue.shift()) {
    if (next.type === 'ask') void answer(next)
    else if (next.type === 'unpack' || next.type === 'coded') unpack(next)
    else {
      siteOf(next.site).take(next)
      continue
    }
    break
  }
  if (queue.length) setImmediate(goOn)
}

function siteOf(key: string): SharedSite {
  let site = sites.get(key)
  if (!site) sites.set(key, (site = new SharedSite()))
  return site
}

/** Reads a stored block as far as its words, and once these are coded, the rest. */
function unpack(message: Unpacking): void {
  const { task } = message
  try {
    if (message.type === 'unpack') {
      const opened = openPacked(unsqueezedNow(message.stored.body, message.stored.checksum))
      unpacked.set(task, opened)
      port.postMessage({ task, words: opened.head.words } satisfies ThreadAnswer)
      return
    }
    const opened = unpacked.get(task)!
    unpacked.delete(task)
    if (!message.codes) return
    const block = decodeCoded(opened, message.codes, (length) => new SharedArrayBuffer(length))
    const columns = block.sessions.id.buffer as unknown as SharedArrayBuffer
    port.postMessage({ task, shape: shapeOf(block), columns } satisfies ThreadAnswer)
  } catch (thrown) {
    port.postMessage({ task, damaged: said(thrown) } satisfies ThreadAnswer)
  }
}

async function answer(message: Ask): Promise<void> {
  const { ask, finisher, threads } = message
  if (finisher !== undefined) {
    try {
      const { partial } = await gather(message)
      others.get(finisher)!.postMessage({ ask, packed: partial } satisfies Share, buffersIn(partial))
    } catch (thrown) {
      others.get(finisher)!.postMessage({ ask, packed: undefined, error: said(thrown) } satisfies Share)
    }
    return
  }
  let reply: ThreadAnswer
  try {
    // All are waited for, whatever goes wrong: nothing of this question is to arrive after its end.
    const [own, shares] = await Promise.all([
      gather(message).catch((thrown: unknown) => said(thrown)),
      sharesOf(ask, threads - 1),
    ])
    const failed = typeof own === 'string' ? own : shares.find(({ error }) => error !== undefined)?.error
    if (typeof own === 'string' || failed !== undefined) throw new Error(failed)
    const gathered = own
    const stopped = !gathered.partial && shares.every(({ packed }) => !packed)
    const theirs = shares.map((share) => share.packed)
    reply = { ask, result: stopped ? undefined : finish(gathered, theirs) }
  } catch (thrown) {
    reply = { ask, error: said(thrown) }
  }
  open.delete(ask)
  port.postMessage(reply, 'result' in reply ? buffersIn(reply.result) : [])
}

/** Scans what this thread is to scan: what lies in memory, then what it must ask for. */
async function gather({ ask, question, blocks, streamed, stop }: Ask): Promise<Gathered> {
  const { kernel, lens, spec } = question
  const site = siteOf(question.site)
  const meaning = site.meaning()
  const gathered = nothingGathered(kernel, spec, meaning)
  const flag = new Int32Array(stop)
  const stopped = () => Atomics.load(flag, 0) === 1
  for (const id of blocks) {
    if (stopped()) return { ...gathered, partial: undefined }
    const part = site.part(id)
    if (!part) throw new RangeError(`block ${id} of ${question.site} is not known to this thread`)
    scanOne(gathered, part, lens, meaning)
  }
  for (const id of streamed) {
    if (stopped()) return { ...gathered, partial: undefined }
    const part = site.part(id, await fetched(ask, id))
    if (part) scanOne(gathered, part, lens, meaning)
  }
  // Each thread packs its own while the others do.
  return packed(gathered)
}

function fetched(ask: number, block: number): Promise<Uint8Array | undefined> {
  return new Promise((resolve) => {
    waiting.set(ask, (bytes) => {
      waiting.delete(ask)
      resolve(bytes)
    })
    port.postMessage({ ask, want: block } satisfies ThreadAnswer)
  })
}

/** What the other threads have to say, once all of them have. */
function sharesOf(ask: number, count: number): Promise<Share[]> {
  return new Promise((resolve) => {
    const { shares } = openOf(ask)
    const enough = () => shares.length >= count && resolve(shares)
    openOf(ask).enough = enough
    enough()
  })
}

function take(share: Share): void {
  const { shares } = openOf(share.ask)
  shares.push(share)
  openOf(share.ask).enough()
}

function openOf(ask: number) {
  let known = open.get(ask)
  if (!known) open.set(ask, (known = { shares: [], enough: () => undefined }))
  return known
}

function said(thrown: unknown): string {
  return thrown instanceof Error ? thrown.message : String(thrown)
}
