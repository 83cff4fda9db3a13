/** A thread of the engine: knows the blocks of all sites, in memory it shares with the server, and scans those it is told. */
import { readlinkSync } from 'node:fs'
import { setPriority } from 'node:os'
import type { MessagePort } from 'node:worker_threads'
import { parentPort } from 'node:worker_threads'
import type { PackedBlock } from '@dust-trail/core'
import {
  decodeCoded,
  findSignals,
  foundIn,
  partsOf,
  readPackedHead,
  registry,
  signalShape,
} from '@dust-trail/core'
import { readChecked } from '../store/compression.ts'
import type { StoredBytes } from '../store/read-blocks.ts'
import { joinKept } from '../store/read-blocks.ts'
import { agreedCuts } from './cuts.ts'
import type { Gathering } from './scanning.ts'
import { addBlock, buffersIn, finishedPart, finishWithPauses, packed, startGathering } from './scanning.ts'
import { SharedSite } from './shared-sites.ts'
import type { Share, ThreadAnswer, ThreadMessage } from './thread-messages.ts'

type Ask = Extract<ThreadMessage, { type: 'ask' }>
type ToDo = Exclude<ThreadMessage, { type: 'meet' | 'bytes' | 'lost' }>
type Task = Extract<ThreadMessage, { type: 'unpack' | 'coded' | 'find' }>

const port = parentPort!
try {
  // Lower priority than the HTTP thread, so that scans do not delay it: on Linux 0 means this thread, not the process.
  setPriority(Number(/\d+$/.exec(readlinkSync('/proc/thread-self'))![0]), 5)
} catch {
  // Elsewhere all threads are alike.
}
const sites = new Map<string, SharedSite>()
/** ways to the other threads, by slot */
const others = new Map<number, MessagePort>()
/** What is to come from the other threads to a question. */
interface Due {
  /** by thread */
  shares: (Share | undefined)[]
  count: number
  more: () => void
}

/** questions of which nothing more will come, since a thread that scanned for them has ended */
const lost = new Set<number>()

/** by question and what it is */
const open = new Map<string, Due>()
/** stored blocks whose words are being coded, and the signals kept with them, by task */
const unpacked = new Map<number, { opened: PackedBlock; signals: StoredBytes | undefined }>()
/** what has come and is not done yet: questions, blocks to be read, and what is new, in order */
const queue: ToDo[] = []
/** who waits for a stored block, by question */
const waiting = new Map<number, (bytes: Uint8Array | undefined) => void>()

port.on('message', (message: ThreadMessage) => {
  switch (message.type) {
    case 'meet':
      others.set(message.slot, message.port)
      message.port.on('message', take)
      break
    case 'lost':
      for (const ask of message.asks) giveUp(ask)
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
    else if ('task' in next) work(next)
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

const shared = (bytes: number) => new SharedArrayBuffer(bytes)

/** Reads a stored block as far as its words, and once these are coded, the rest; or finds signals in one anew. */
function work(message: Task): void {
  const { task } = message
  try {
    if (message.type === 'find') {
      const block = siteOf(message.site).part(message.block)?.block
      const before = block && foundIn(block, message.before)
      const found = block && findSignals(block, message.thresholds, shared, before)
      port.postMessage({
        task,
        found: found && { signals: signalShape(found), signalMemory: found.signals.event.buffer },
      } satisfies ThreadAnswer)
      return
    }
    if (message.type === 'unpack') {
      const opened = readPackedHead(readChecked(message.stored.body, message.stored.checksum))
      unpacked.set(task, { opened, signals: message.stored.signals })
      port.postMessage({ task, words: opened.head.words } satisfies ThreadAnswer)
      return
    }
    const { opened, signals } = unpacked.get(task)!
    unpacked.delete(task)
    if (!message.codes) return
    const columns = decodeCoded(opened, message.codes, shared)
    const { block, kept } = joinKept(columns, signals, message.thresholds, shared)
    port.postMessage({ task, parts: partsOf(block), kept } satisfies ThreadAnswer)
  } catch (thrown) {
    port.postMessage({ task, damaged: said(thrown) } satisfies ThreadAnswer)
  }
}

async function answer(message: Ask): Promise<void> {
  const { ask, finisher, thread, slots } = message
  const threads = slots.length
  let reply: ThreadAnswer | undefined
  // All are waited for, whatever goes wrong: nothing of this question is to arrive after its end.
  const gathered = await gather(message).catch((thrown: unknown) => said(thrown))
  const cuts = threads > 1 ? agreedCuts(message.cuts, () => proposed(gathered, threads)) : undefined
  const part = cuts ? await ownPart(message, gathered, cuts) : gathered
  if (thread !== finisher) send(finisher, 'all', message, part)
  else
    try {
      const all = await sharesOf(message, 'all')
      const failed = typeof part === 'string' ? part : errorIn(all)
      if (typeof part === 'string' || failed !== undefined) throw new Error(failed)
      const parts = Array.from({ length: threads }, (_, k) => (k === thread ? part.found : all[k]?.packed))
      const flag = new Int32Array(message.stop)
      const goOn = () => pause().then(() => Atomics.load(flag, 0) === 0)
      reply = { ask, result: await finishWithPauses(part, parts, cuts !== undefined, goOn) }
    } catch (thrown) {
      reply = { ask, error: said(thrown) }
    }
  if (reply) port.postMessage(reply, 'result' in reply ? buffersIn(reply.result) : [])
}

/** Lets what has come meanwhile be done first. */
const pause = () => new Promise<void>((resolve) => setTimeout(resolve, 1))

/** What this thread has found, or what went wrong. */
type Own = Gathering | string

function proposed(gathered: Own, count: number): number[] | undefined {
  if (typeof gathered === 'string' || !gathered.found) return undefined
  return gathered.scan.parts?.cuts(gathered.found, count)
}

/** Hands each of the other threads its part of what was found here, and finishes this thread's part of what all have found. */
async function ownPart(message: Ask, gathered: Own, cuts: readonly number[]): Promise<Own> {
  const parts =
    typeof gathered === 'string' || !gathered.found ? [] : gathered.scan.parts!.split(gathered.found, cuts)
  for (let to = 0; to < message.slots.length; to++)
    if (to !== message.thread)
      send(to, 'part', message, typeof gathered === 'string' ? gathered : { ...gathered, found: parts[to] })
  const shares = await sharesOf(message, 'part')
  const failed = typeof gathered === 'string' ? gathered : errorIn(shares)
  if (typeof gathered === 'string' || failed !== undefined) return failed!
  try {
    return finishedPart(gathered, [parts[message.thread], ...shares.map((share) => share?.packed)])
  } catch (thrown) {
    return said(thrown)
  }
}

/** Hands something to another of the threads that scan; one that has ended is passed over. */
function send(to: number, what: Share['what'], { ask, thread, slots }: Ask, gathered: Own): void {
  const share: Share =
    typeof gathered === 'string'
      ? { ask, thread, what, packed: undefined, error: gathered }
      : { ask, thread, what, packed: gathered.found }
  others.get(slots[to]!)?.postMessage(share, buffersIn(share.packed))
}

function errorIn(shares: readonly (Share | undefined)[]): string | undefined {
  return shares.find((share) => share?.error !== undefined)?.error
}

/** Scans what this thread is to scan: what lies in memory, then what it must ask for. */
async function gather(message: Ask): Promise<Gathering> {
  const { ask, question, streamed, stop } = message
  const site = siteOf(question.site)
  const context = site.context(question.lens)
  const gathering = startGathering(registry.scan(question.scan), question.asked, context)
  const flag = new Int32Array(stop)
  const stopped = () => Atomics.load(flag, 0) === 1
  for (const id of claimed(message)) {
    if (stopped()) return { ...gathering, found: undefined }
    const part = site.part(id)
    if (!part) throw new RangeError(`block ${id} of ${question.site} is not known to this thread`)
    addBlock(gathering, part)
  }
  for (const id of streamed) {
    if (stopped()) return { ...gathering, found: undefined }
    const part = site.part(id, await fetched(ask, id))
    if (part) addBlock(gathering, part)
  }
  // Each thread packs its own while the others do.
  return packed(gathering)
}

/** The blocks in memory that this thread scans: its own, then those that others have not come to, from the end. */
function* claimed({ blocks, claims, thread }: Ask): Generator<number> {
  if (!claims) {
    yield* blocks[thread]!
    return
  }
  const taken = new Uint8Array(claims)
  let before = 0
  const starts = blocks.map(({ length }) => (before += length) - length)
  const mine = (list: number, k: number) => Atomics.exchange(taken, starts[list]! + k, 1) === 0
  for (const [k, id] of blocks[thread]!.entries()) if (mine(thread, k)) yield id
  for (const [list, others] of blocks.entries())
    for (let k = others.length - 1; k >= 0; k--) if (mine(list, k)) yield others[k]!
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

/** What all other threads hand to this one, at their numbers, once it is there. */
function sharesOf({ ask, slots }: Ask, what: Share['what']): Promise<(Share | undefined)[]> {
  const due = dueOf(ask, what)
  return new Promise((resolve) => {
    due.more = () => {
      if (due.count < slots.length - 1 && !lost.has(ask)) return
      open.delete(`${ask} ${what}`)
      resolve(due.shares)
    }
    due.more()
  })
}

/** Waits no longer for what a thread that has ended was to hand over: nobody is told the answer. */
function giveUp(ask: number): void {
  lost.add(ask)
  waiting.get(ask)?.(undefined)
  for (const what of ['part', 'all'] as const) open.get(`${ask} ${what}`)?.more()
}

function take(share: Share): void {
  const due = dueOf(share.ask, share.what)
  due.shares[share.thread] = share
  due.count++
  due.more()
}

function dueOf(ask: number, what: Share['what']): Due {
  const key = `${ask} ${what}`
  let due = open.get(key)
  if (!due) open.set(key, (due = { shares: [], count: 0, more: () => undefined }))
  return due
}

function said(thrown: unknown): string {
  return thrown instanceof Error ? thrown.message : String(thrown)
}
