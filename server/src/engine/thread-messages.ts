import type { MessagePort } from 'node:worker_threads'
import type {
  BlockCodes,
  BlockParts,
  BlockWords,
  EventCondition,
  Goal,
  Lens,
  Money,
  PackedWords,
  PageGroupRule,
  SignalShape,
  SignalThresholds,
  StrainWeights,
} from '@dust-trail/core'
import type { StoredBlock } from '../store/read-blocks.ts'

/** A block as threads hand it on, in memory that all of them see. */
export interface SharedBlock {
  id: number
  sessions: number
  /** which of its sessions stand */
  standing: SharedArrayBuffer
  /** its columns and signals; absent where they are read from the database each time */
  parts?: BlockParts
}

export interface SiteSettings {
  timeZone: string
  /** page whose view is the conversion */
  goal: string
  goals: readonly Goal[]
  rules: readonly PageGroupRule[]
  actions: Actions
  /** those of them that count as friction; known anew whenever the actions are */
  ownSignals: readonly string[]
  money?: Money | undefined
  /** under which signals are found */
  thresholds: SignalThresholds
  strain?: StrainWeights | undefined
}

/** Actions that the site has named, and what events they are. */
export type Actions = ReadonlyMap<string, EventCondition>

/** What threads are told of a site, besides what they know; `lost`: questions of which nothing more will come. */
export type SiteUpdate =
  | { type: 'settings'; site: string; settings: SiteSettings }
  | { type: 'words'; site: string; words: BlockWords; visitors?: PackedWords }
  | { type: 'block'; site: string; block: SharedBlock }
  | { type: 'drop'; site: string; id: number }
  | { type: 'lost'; asks: number[] }

/** A scan for the threads to run. */
export interface ThreadQuestion {
  site: string
  /** name of the scan */
  scan: string
  lens: Lens
  /** what is asked, and what was found out for it */
  asked: object
}

/** What a thread is told. */
export type ThreadMessage =
  | SiteUpdate
  | Delivery
  | Unpacking
  | FindSignals
  | { type: 'meet'; slot: number; port: MessagePort }
  | {
      type: 'ask'
      ask: number
      question: ThreadQuestion
      /** by thread the blocks in memory that it is to scan */
      blocks: number[][]
      /** where they are claimed one by one, so that who is done helps the others; undefined = each scans its own */
      claims: SharedArrayBuffer | undefined
      /** what the one that is told scans besides: blocks that it must ask for */
      streamed: number[]
      stop: SharedArrayBuffer
      /** where all agree on how the work of finishing is cut; see cuts.ts */
      cuts: SharedArrayBuffer
      /** place of the thread that is told, and of the one that finishes, among those that scan */
      thread: number
      finisher: number
      /** where each of those that scan is reached */
      slots: number[]
    }

/** A stored block that a thread is to read, and then what its words are coded as; undefined where nobody can tell. */
export type Unpacking =
  | { type: 'unpack'; task: number; stored: StoredBlock }
  | { type: 'coded'; task: number; codes: BlockCodes | undefined; thresholds: SignalThresholds }

/** Signals that a thread is to find anew in a block that lies in memory. */
export interface FindSignals {
  type: 'find'
  task: number
  site: string
  block: number
  thresholds: SignalThresholds
  /** under which those were found that the block has */
  before: SignalThresholds
}

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
  | FoundAnew

/**
 * What a thread says of a stored block: its words, then where its columns lie and whether its signals were kept with it, or
 * what is wrong with it.
 */
export type Unpacked =
  | { task: number; words: BlockWords }
  | { task: number; parts: BlockParts; kept: boolean }
  | { task: number; damaged: string }

/** The signals that were found anew; undefined where the block has gone. */
export interface FoundAnew {
  task: number
  found: { signals: SignalShape; signalMemory: ArrayBufferLike } | undefined
}
