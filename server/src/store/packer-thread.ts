import { Worker } from 'node:worker_threads'
import type { PackerMessage, PackerWork } from './packer.ts'

/** The thread that packs sessions that have ended; where it ends it is started again. */
export class PackerThread {
  #worker: Worker | undefined
  #done: Promise<unknown> = Promise.resolve()
  #stopping = false
  #timer: NodeJS.Timeout | undefined
  /** what went wrong last; undefined where it packs */
  fault: string | undefined

  constructor(
    private readonly file: URL,
    private readonly work: PackerWork,
    private readonly say: (message: PackerMessage) => void,
    private readonly restartMs = 1000,
  ) {}

  /** Whether the thread is there. */
  get running(): boolean {
    return this.#worker !== undefined
  }

  start(): void {
    const worker = new Worker(this.file, { workerData: this.work })
    this.#worker = worker
    worker.on('message', (message: PackerMessage) => {
      this.fault = 'error' in message ? message.error : undefined
      this.say(message)
    })
    worker.on('error', (error) => {
      this.fault = error.message
      this.say({ error: error.message })
    })
    this.#done = new Promise<void>((resolve) =>
      worker.on('exit', () => {
        this.#worker = undefined
        if (!this.#stopping) this.#timer = setTimeout(() => this.start(), this.restartMs)
        resolve()
      }),
    )
  }

  /** Ends after the transaction that is under way. */
  async stop(): Promise<void> {
    this.#stopping = true
    clearTimeout(this.#timer)
    this.#worker?.postMessage('stop')
    await this.#done
  }
}
