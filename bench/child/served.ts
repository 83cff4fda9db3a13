/** A server of its own over a million generated sessions, stored as blocks. */
import { fork } from 'node:child_process'
import { QueryTypes } from 'sequelize'
import type { DenseBlock, SessionRow } from '../../core/src/index.ts'
import { buildDenseBlock, Dictionaries, encodeBlock } from '../../core/src/index.ts'
import { storeBlock } from '../../server/src/store/pack-sessions.ts'
import type { connect } from '../../server/src/store/database.ts'
import { inTransaction } from '../../server/src/store/database.ts'
import type { defineModels } from '../../server/src/store/models.ts'
import { compress } from '../../server/src/store/compression.ts'
import { makeSession, rowOf } from './sessions.ts'

export const SESSIONS = Number(process.env['BENCH_SESSIONS'] ?? 1_000_000)
const BLOCK = 4096

export async function addSite(models: ReturnType<typeof defineModels>, key: string) {
  const row = await models.sites.create({
    key,
    name: key,
    origins: [],
    timeZone: 'UTC',
    currency: 'EUR',
    sessionLimitMin: 30,
    goal: '',
    goals: [],
    retentionDays: null,
    recordingDays: null,
    auditDays: 730,
    rates: [],
    pageGroups: [],
    thresholds: {},
    strainWeights: {},
    capture: { text: 'patterns', consent: 'free', share: 1, drawings: false, pictures: 'kept' },
  })
  return row.get({ plain: true })
}

/** Starts the built server; resolves when it has read all its data. */
export async function startServer(
  databaseUrl: string,
  port: number,
): Promise<{ stop: () => Promise<unknown> }> {
  const server = fork('dist/server.mjs', {
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: String(port) },
  })
  await new Promise<void>((resolve) =>
    server.on('message', (message: { type: string }) => {
      if (message.type === 'loaded') resolve()
    }),
  )
  return {
    stop: () => {
      const gone = new Promise((resolve) => server.on('exit', resolve))
      server.kill('SIGTERM')
      return gone
    },
  }
}

/** Where free ports and databases come from. */
export async function starters() {
  // @ts-expect-error a plain script without types
  return (await import('../../scripts/lib/mariadb.mjs')) as {
    startMariadb: (folder: string) => Promise<{ url: string; stop: () => Promise<void> }>
    freePort: () => Promise<number>
  }
}

type Database = ReturnType<typeof connect>

export function* blocksOf(sessions: number): Generator<SessionRow[]> {
  for (let from = 0; from < sessions; from += BLOCK)
    yield Array.from({ length: Math.min(BLOCK, sessions - from) }, (_, i) =>
      rowOf(from + i, makeSession(from + i)),
    )
}

/** Stores blocks as the packer does; what it costs to make the sessions up is not counted. */
export async function pack(sequelize: Database, site: number) {
  const rates: number[] = []
  let events = 0
  let ofThree = 0
  for (const rows of blocksOf(SESSIONS)) {
    const dictionaries = new Dictionaries()
    const block = buildDenseBlock(rows, dictionaries)
    const start = performance.now()
    await inTransaction(sequelize, (connection) => storeBlock(connection, site, block, dictionaries))
    rates.push((block.events.count / (performance.now() - start)) * 1000)
    events += block.events.count
    const sizeOf = async (words: readonly string[]) =>
      (await compress(encodeBlock(only(block, words), dictionaries))).body.length
    ofThree += (await sizeOf(['kind', 'atMs', 'page'])) - (await sizeOf([]))
  }
  const [{ stored }] = (await sequelize.query(
    'SELECT SUM(LENGTH(`columns`)) AS stored FROM blocks WHERE site_id = ?',
    {
      replacements: [site],
      type: QueryTypes.SELECT,
    },
  )) as [{ stored: number | string }]
  return { rates, bytes: Number(stored) / events, bytesOfThree: ofThree / events }
}

/** The block with nothing known of its events but some columns. */
function only(block: DenseBlock, words: readonly string[]): DenseBlock {
  const events = Object.fromEntries(
    Object.entries(block.events).map(([name, column]) => [
      name,
      typeof column === 'number' || words.includes(name) ? column : column.slice().fill(0),
    ]),
  )
  return { ...block, events: events as unknown as DenseBlock['events'] }
}
