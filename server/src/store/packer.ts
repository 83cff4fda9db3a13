/** Packs sessions that have ended, all the time, in a thread of its own: told to stop by any message. */
import { parentPort, workerData } from 'node:worker_threads'
import { connect } from './database.ts'
import type { SiteRow } from './models.ts'
import { defineModels } from './models.ts'
import { packEnded } from './pack-sessions.ts'
import type { Rewritten } from './rewrite-blocks.ts'
import { rewriteBlock } from './rewrite-blocks.ts'

export interface PackerWork {
  databaseUrl: string
}

/** What it says: what was packed, or what went wrong. */
export type PackerMessage =
  { sessions: number; events: number } | { rewritten: Rewritten } | { error: string }

const PAUSE_MS = 5000
/** A block is worth its while from so many sessions on; fewer stay rows a little longer. */
const LEAST = 512
/** Nobody's clock is so wrong, and no batch so late, that a session grows after this and its limit. */
const GRACE_MS = 60_000

const { databaseUrl } = workerData as PackerWork
const port = parentPort!
const sequelize = connect(databaseUrl)
const { sites } = defineModels(sequelize)
let stopping = false
let awake: () => void = () => undefined
port.once('message', () => {
  stopping = true
  awake()
})

while (!stopping) {
  try {
    for (const found of await sites.findAll()) await packSite(found.get({ plain: true }))
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error)
    port.postMessage({ error: message.slice(0, 500) } satisfies PackerMessage)
  }
  if (!stopping)
    await new Promise<void>((resolve) => {
      awake = resolve
      setTimeout(resolve, PAUSE_MS)
    })
}
await sequelize.close()
port.close()

async function packSite(site: SiteRow): Promise<void> {
  while (!stopping) {
    const rewritten = await rewriteBlock(sequelize, site)
    if (!rewritten) break
    port.postMessage({ rewritten } satisfies PackerMessage)
  }
  while (!stopping) {
    const before = Date.now() - site.sessionLimitMin * 60_000 - GRACE_MS
    const packed = await packEnded(sequelize, site, before, LEAST)
    if (!packed.sessions) return
    port.postMessage(packed satisfies PackerMessage)
  }
}
