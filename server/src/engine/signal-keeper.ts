import type { Sequelize } from 'sequelize'
import { setTimeout as pause } from 'node:timers/promises'
import { signalsOf } from '@dust-trail/core'
import { keepSignals } from '../store/kept-signals.ts'
import type { SiteEngine } from './site-engine.ts'

/** How long nothing is kept after it was asked for: answers come first, and thresholds are often changed in a row. */
const REST_MS = 5000
/** Between two blocks, so that what arrives does not wait. */
const PAUSE_MS = 10

/** Keeps the signals that were found with the stored blocks, in its own time, so that the next start need not find them. */
export class SignalKeeper {
  #timer: NodeJS.Timeout | undefined
  #running: Promise<void> = Promise.resolve()
  #stopped = false

  constructor(
    private readonly sequelize: Sequelize,
    private readonly engines: () => SiteEngine[],
    private readonly failed: (error: unknown) => void,
    private readonly restMs = REST_MS,
  ) {}

  /** There may be signals that are not kept. */
  soon(): void {
    if (this.#stopped) return
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => this.now(), this.restMs)
    this.#timer.unref()
  }

  /** Keeps all signals that are not kept; resolves when that is done. */
  now(): Promise<void> {
    this.#running = this.#running.then(() => this.#keepAll()).catch(this.failed)
    return this.#running
  }

  async stop(): Promise<void> {
    this.#stopped = true
    clearTimeout(this.#timer)
    await this.#running
  }

  async #keepAll(): Promise<void> {
    for (const engine of this.engines())
      for (const part of engine.signalsToKeep()) {
        const { block, stored, thresholds } = part
        if (this.#stopped) return
        if (!block || stored === undefined) continue
        await keepSignals(this.sequelize, stored, signalsOf(block), thresholds)
        part.kept = thresholds
        await pause(PAUSE_MS)
      }
  }
}
