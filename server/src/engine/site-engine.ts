import type {
  Goal,
  AnyQuestion,
  AnyScan,
  Asking,
  Block,
  FindNeeds,
  Lens,
  Money,
  Names,
  PageGroupRule,
  Question,
  QuestionLimits,
  Selection,
  SessionRow,
  SignalThresholds,
  StrainWeights,
} from '@dust-trail/core'
import {
  decodeColumns,
  Dictionaries,
  Dictionary,
  lensSpan,
  MOST_WORDS,
  QUESTION_LIMITS,
  completeLens,
  completeSelection,
  leakErrors,
  THRESHOLDS,
  visitorMoments,
  visitorPaths,
  withSignals,
} from '@dust-trail/core'
import type { z } from 'zod'
import { ANSWER_BYTES, Answers } from './answers.ts'
import { ProblemError } from '../problem.ts'
import type { Extent, TakenIn } from './loaded-sessions.ts'
import { LoadedSessions } from './loaded-sessions.ts'
import type { Part } from './parts.ts'
import { scanHere } from './scanning.ts'
import { MOST_NESTED, SetHandles } from './set-handles.ts'
import { lastNames } from './shared-sites.ts'
import { sharesOf } from './shares.ts'
import type { Actions, SharedBlock, SiteSettings } from './thread-messages.ts'
import { ThreadTeller } from './thread-teller.ts'
import type { Threads } from './threads.ts'
import { noThread } from './threads.ts'

/** Where a session of the engine lies. */
export interface Place {
  block: Block
  session: number
}

export interface SiteSource {
  key: string
  rules: () => readonly PageGroupRule[]
  actions?: () => Actions
  ownSignals?: () => readonly string[]
  timeZone: () => string
  /** page whose view is the conversion; "" where none is set */
  goal?: () => string
  goals?: () => readonly Goal[]
  /** the currency that amounts are counted in; where it is missing all count as one */
  money?: () => Money
  /** under which signals are found; the same object as long as they are the same */
  thresholds?: () => SignalThresholds
  /** how hard signals are; the same object as long as they are the same */
  strain?: () => StrainWeights
  /** told when answers may change */
  changed?: () => void
  /** told when signals have been found under other thresholds */
  foundAnew?: () => void
  /** reads a stored block; undefined where it is damaged, of which note is then taken */
  fetch?: (stored: number) => Promise<Uint8Array | undefined>
  /** how many answers are kept for those who ask again; 0 = none */
  answers?: number
  /** one of them had to go since there was no room for another */
  answersFull?: () => void
  limits?: EngineLimits
}

/** What one site may take of this server's memory and time; each has a setting. */
export interface EngineLimits extends QuestionLimits {
  /** different words of each kind that are told apart */
  words: number
  /** sets that one question may refer to, directly and through others */
  sets: number
  /** bytes that kept answers may take */
  answerBytes: number
}
export const ENGINE_LIMITS: EngineLimits = {
  ...QUESTION_LIMITS,
  ...{ words: MOST_WORDS, sets: MOST_NESTED, answerBytes: ANSWER_BYTES },
}

export interface AskOptions {
  /** stops the work where nobody waits for the answer any more */
  signal?: AbortSignal | undefined
  /** whether the answer is cached; set to false for very large ones, which would drive the others out */
  keep?: boolean
}

const NO_ACTIONS: Actions = new Map()
const NO_GOALS: readonly Goal[] = []

/**
 * Answers questions about one site's sessions. They go to the threads, each to its share of the blocks; without threads
 * they are answered here.
 */
export class SiteEngine {
  readonly dictionaries: Dictionaries
  readonly #limits: EngineLimits
  readonly sets: SetHandles
  readonly #sessions: LoadedSessions
  readonly #answers: Answers
  readonly #teller: ThreadTeller | undefined
  #isEnded = false
  #names = lastNames()
  #settings: SiteSettings | undefined
  /** while signals are being found anew: when that is done */
  #finding: Promise<void> | undefined

  constructor(
    private readonly source: SiteSource,
    private readonly threads?: Threads,
  ) {
    this.#limits = source.limits ?? ENGINE_LIMITS
    this.dictionaries = new Dictionaries(undefined, this.#limits.words)
    this.sets = new SetHandles(source.timeZone, this.#limits.sets)
    this.#answers = new Answers(source.answers ?? 0, this.#limits.answerBytes, source.answersFull)
    const listener = {
      changed: () => this.#forgetAnswers(),
      blockAdded: (block: SharedBlock) => {
        if (!this.#isEnded) this.#teller?.blockAdded(block)
      },
      blockDropped: (id: number) => this.#teller?.blockDropped(id),
    }
    this.#sessions = new LoadedSessions(this.dictionaries, listener, () => this.#thresholds())
    this.#teller = threads && new ThreadTeller(source.key, this.dictionaries, threads, () => this.#told())
  }

  /** The blocks that threads know of. */
  #told(): SharedBlock[] {
    return this.#isEnded ? [] : this.#sessions.toldBlocks()
  }

  #forgetAnswers(): void {
    this.#answers.forgetAll()
    this.source.changed?.()
  }

  /** The site is no more: the threads let go of its blocks. */
  end(): void {
    for (const { id } of this.#told()) this.#teller?.blockDropped(id)
    this.#isEnded = true
  }

  /** Whether a stored block has been taken in, and some of it still stands. */
  hasStored(id: number): boolean {
    return this.#sessions.hasStored(id)
  }

  /** @see LoadedSessions.movedTo */
  movedTo(old: number, made: number | undefined): boolean {
    return this.#sessions.movedTo(old, made).streamed
  }

  /** Says that stored blocks are being added, while sessions may change already. */
  beginLoading(): void {
    this.#sessions.beginLoading()
  }

  endLoading(): void {
    this.#sessions.endLoading()
  }

  /** @see LoadedSessions.addBlock */
  addBlock(rows: readonly SessionRow[]): void {
    this.#sessions.addBlock(rows)
  }

  /** @see LoadedSessions.addPacked */
  addPacked(block: Block, holes: readonly number[], taken?: TakenIn): void {
    this.#sessions.addPacked(block, holes, taken)
  }

  /** @see LoadedSessions.signalsToKeep */
  signalsToKeep(): Part[] {
    return this.#sessions.signalsToKeep()
  }

  /** @see LoadedSessions.replace */
  replace(rows: readonly SessionRow[], gone: readonly number[], nowMs: number): void {
    this.#sessions.replace(rows, gone, nowMs)
  }

  /** What the codes of all blocks mean, the tail's included: building it may add some. */
  names(): Names {
    this.#sessions.tail()
    return this.#names(this.dictionaries, this.#currentSettings())
  }

  /**
   * The result of a question over the sessions that a lens shows: its answer, or what it makes its answer of.
   *
   * @param asked  as the question's schema gives it
   * @throws the signal's reason where it was stopped; ProblemError where it names a set that is no longer known, or no
   *   thread is there to answer
   */
  async ask<Asked extends z.ZodObject, Answer extends z.ZodType, Found, Needed, Result>(
    question: Question<Asked, Answer, Found, Needed, Result>,
    lens: Lens,
    asked: NoInfer<z.output<Asked>>,
    options?: AskOptions,
  ): Promise<Result> {
    return (await this.askAny(question as unknown as AnyQuestion, lens, asked, options)) as Result
  }

  /** The same for a question of which only the declaration is known. */
  async askAny(
    question: AnyQuestion,
    lens: Lens,
    asked: object,
    { signal, keep = true }: AskOptions = {},
  ): Promise<unknown> {
    signal?.throwIfAborted()
    const refused = question.refuse?.(asked, lens, this.#limits)
    if (refused)
      throw new ProblemError(
        400,
        'invalid-input',
        `The question cannot be answered: ${typeof refused === 'string' ? refused : refused.budget}.`,
        'Correct it and ask again.',
        { budget: typeof refused !== 'string' },
      )
    const resolved = this.sets.resolve({ lens, asked })
    this.#updateThreads()
    const key = JSON.stringify([question.name, resolved])
    const compute = async (stop: AbortSignal) => {
      const findBy = (scan: AnyScan) => (selection: Selection, within: Lens) =>
        this.#scan(scan, within, { selection }, stop)
      const find = {
        ...{ moments: findBy(visitorMoments), errors: findBy(leakErrors), ways: findBy(visitorPaths) },
      } as FindNeeds
      const within = await completeLens(resolved.lens, find)
      const asking = {
        ask: (scan: AnyScan, spec: object) => this.#scan(scan, within, spec, stop),
        complete: async (selection: Selection | undefined) =>
          selection && completeSelection(selection, within, find),
      } as Asking
      const needed = await question.needs?.(resolved.asked, asking)
      return this.#scan(question, within, { ...resolved.asked, ...needed }, stop)
    }
    return this.#answers.get(key, compute, signal, keep)
  }

  /** Runs a scan for which all is known that it needs. */
  async #scan(scan: AnyScan, lens: Lens, asked: object, signal: AbortSignal): Promise<unknown> {
    const settings = this.#currentSettings()
    await this.#findSignalsAnew()
    const span = lensSpan(lens, settings.timeZone)
    const inMemory: Part[] = []
    const streamed: Part[] = []
    for (const part of this.#sessions.parts())
      if (part.block) inMemory.push(part)
      else if (!part.span || (part.span.firstMs < span.toMs && part.span.lastStartMs >= span.fromMs))
        streamed.push(part)
    const result = await (this.threads
      ? this.#scanInThreads(this.threads, scan, lens, asked, inMemory, streamed, signal)
      : this.#scanHere(scan, lens, asked, inMemory, streamed))
    signal.throwIfAborted()
    return result
  }

  #scanInThreads(
    threads: Threads,
    scan: AnyScan,
    lens: Lens,
    asked: object,
    inMemory: readonly Part[],
    streamed: readonly Part[],
    signal: AbortSignal,
  ): Promise<unknown> {
    if (threads.count === 0) throw noThread()
    const shares = sharesOf(inMemory, streamed, threads.count)
    const question = { site: this.source.key, scan: scan.name, lens, asked }
    return threads.ask(question, shares, (id) => this.#bytesOf(id), signal)
  }

  async #scanHere(
    scan: AnyScan,
    lens: Lens,
    asked: object,
    inMemory: readonly Part[],
    streamed: readonly Part[],
  ): Promise<unknown> {
    const { timeZone, goal, goals } = this.#currentSettings()
    const blocks = inMemory.map(({ block, standing }) => ({ block: block!, standing }))
    for (const { id, standing } of streamed) {
      const bytes = await this.#bytesOf(id)
      if (bytes) blocks.push({ block: this.#decoded(bytes), standing })
    }
    return scanHere(scan, blocks, asked, {
      ...{ names: this.names(), lens, timeZone, goal, goals },
    })
  }

  /** All blocks that lie in memory, the tail's included. */
  blocks(): Block[] {
    return this.#sessions.parts().flatMap(({ block }) => block ?? [])
  }

  /** Where a session lies; undefined where there is none of that id. */
  async find(id: string): Promise<Place | undefined> {
    await this.#findSignalsAnew()
    const found = this.#sessions.find(Number(id))
    if (!found) return undefined
    const { part, position: session } = found
    if (part.block) return { block: part.block, session }
    const bytes = await this.#bytesOf(part.id)
    return bytes && { block: this.#decoded(bytes), session }
  }

  /** Of what there are more different words than are told apart. */
  fullDictionaries(): string[] {
    return Object.entries(this.dictionaries).flatMap(([name, words]) =>
      words instanceof Dictionary && words.full ? name : [],
    )
  }

  /** @see LoadedSessions.extent */
  extent(): Extent | undefined {
    return this.#sessions.extent()
  }

  /** @see LoadedSessions.size */
  size(): { bytes: number; streamed: number; events: number } {
    return this.#sessions.size()
  }

  async #bytesOf(id: number): Promise<Uint8Array | undefined> {
    const stored = this.#sessions.part(id)?.stored
    return stored === undefined ? undefined : this.source.fetch?.(stored)
  }

  /** Tells the threads of new words and other settings: before every question, after all blocks they are needed for. */
  #updateThreads(): void {
    const settings = this.#currentSettings()
    this.#sessions.tail()
    const before = this.#settings
    if (
      before?.timeZone !== settings.timeZone ||
      before.goal !== settings.goal ||
      before.goals !== settings.goals ||
      before.rules !== settings.rules ||
      before.actions !== settings.actions ||
      before.thresholds !== settings.thresholds ||
      before.strain !== settings.strain ||
      before.money?.currency !== settings.money?.currency ||
      before.money?.rates !== settings.money?.rates
    ) {
      this.#settings = settings
      this.#forgetAnswers()
      this.#teller?.settings(settings)
    }
    this.#teller?.words()
  }

  #currentSettings(): SiteSettings {
    const { source } = this
    const money = source.money?.()
    return {
      timeZone: source.timeZone(),
      goal: source.goal?.() ?? '',
      goals: source.goals?.() ?? NO_GOALS,
      rules: source.rules(),
      actions: this.#actions(),
      ownSignals: source.ownSignals?.() ?? [],
      thresholds: this.#thresholds(),
      strain: source.strain?.(),
      money: money && { currency: money.currency, rates: money.rates },
    }
  }

  #thresholds(): SignalThresholds {
    return this.source.thresholds?.() ?? THRESHOLDS
  }

  /** Signals under the thresholds of the site: where these changed, they are found anew before anything else is asked. */
  async #findSignalsAnew(): Promise<void> {
    while (this.#sessions.hasStaleSignals()) {
      this.#finding ??= this.#sessions
        .findSignalsAnew(this.source.key, this.threads)
        .finally(() => (this.#finding = undefined))
      await this.#finding
      this.source.foundAnew?.()
    }
  }

  #decoded(bytes: Uint8Array): Block {
    return withSignals(decodeColumns(bytes, this.dictionaries), this.#thresholds())
  }

  #actions(): Actions {
    return this.source.actions?.() ?? NO_ACTIONS
  }
}
