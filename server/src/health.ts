import type { Sequelize } from 'sequelize'
import { QueryTypes } from 'sequelize'
import type { Engines } from './engine/engines.ts'
import type { Threads } from './engine/threads.ts'
import type { PackerThread } from './store/packer-thread.ts'

/** How one part of the server is. */
export interface PartHealth {
  ok: boolean
  /** what is the matter, or what it is doing */
  detail: string
}

export interface HealthAnswer {
  status: 'ok' | 'degraded'
  parts: Record<'database' | 'threads' | 'packer' | 'data', PartHealth>
}

const PATIENCE_MS = 2000

/** Says which part of the server is not well. */
export class Health {
  constructor(
    private readonly parts: {
      sequelize: Sequelize
      engines: Engines
      threads: Threads
      packer: PackerThread
    },
  ) {}

  async look(): Promise<HealthAnswer> {
    const { engines, threads, packer } = this.parts
    const loading = engines.all().filter((site) => site.loading)
    const damaged = engines.all().reduce((sum, site) => sum + site.damaged.length, 0)
    const parts: HealthAnswer['parts'] = {
      database: await this.#database(),
      threads: { ok: threads.count > 0, detail: `${threads.count} threads answer questions` },
      packer: {
        ok: packer.fault === undefined && (packer.running || loading.length > 0),
        detail: packer.fault ?? (packer.running ? 'packs' : 'begins when all data has been read'),
      },
      data: {
        ok: damaged === 0,
        detail: loading.length
          ? `${loading.length} sites are still being read`
          : damaged
            ? `${damaged} blocks are damaged`
            : 'all data has been read',
      },
    }
    return { status: Object.values(parts).every(({ ok }) => ok) ? 'ok' : 'degraded', parts }
  }

  async #database(): Promise<PartHealth> {
    let timer: NodeJS.Timeout | undefined
    const late = new Promise<PartHealth>((resolve) => {
      timer = setTimeout(() => resolve({ ok: false, detail: 'does not answer' }), PATIENCE_MS)
    })
    const asked = this.parts.sequelize.query('SELECT 1', { type: QueryTypes.SELECT }).then(
      () => ({ ok: true, detail: 'answers' }),
      (error: unknown) => ({ ok: false, detail: error instanceof Error ? error.message : String(error) }),
    )
    const found = await Promise.race([asked, late])
    clearTimeout(timer)
    return found
  }
}
