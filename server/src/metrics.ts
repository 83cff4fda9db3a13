import type { RequestHandler } from 'express'
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from 'prom-client'
import type { Engines } from './engine/engines.ts'
import type { Refusals } from './ingest/refusals.ts'

/** Figures of the running server in the text format that monitoring reads. */
export class Metrics {
  readonly #registry = new Registry()
  readonly #seconds: Histogram<'part' | 'status'>

  constructor(engines: Engines, refusals: Refusals) {
    const registers = [this.#registry]
    collectDefaultMetrics({ register: this.#registry })
    this.#seconds = new Histogram({
      name: 'dust_trail_request_seconds',
      help: 'time until a request was answered, by part of the server and status',
      labelNames: ['part', 'status'],
      buckets: [0.005, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10],
      registers,
    })
    new Gauge({
      name: 'dust_trail_sessions',
      help: 'sessions in the answers, by site',
      labelNames: ['site'],
      registers,
      collect() {
        this.reset()
        for (const { row, engine } of engines.all())
          this.set({ site: row.key }, engine.extent()?.sessions ?? 0)
      },
    })
    const refused = new Counter({
      name: 'dust_trail_refused_total',
      help: 'what arrived and could not be taken, by kind',
      labelNames: ['what'],
      registers,
    })
    refusals.onAdd = (what, n) => refused.inc({ what }, n)
  }

  readonly watch: RequestHandler = (request, response, next) => {
    const end = this.#seconds.startTimer()
    const part = request.path.startsWith('/api')
      ? 'api'
      : request.path.startsWith('/collect')
        ? 'collect'
        : 'files'
    response.once('finish', () => end({ part, status: String(response.statusCode) }))
    next()
  }

  text(): Promise<string> {
    return this.#registry.metrics()
  }
}
