import type { Line, SignalThresholds } from '@dust-trail/core'
import { Dictionaries, THRESHOLDS } from '@dust-trail/core'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { inTransaction } from '../store/database.ts'
import { packEnded } from '../store/pack-sessions.ts'
import { placeLines } from '../store/place-lines.ts'
import type { Unpack } from '../store/read-blocks.ts'
import { readBlocks, unpackHere } from '../store/read-blocks.ts'
import { testDatabase } from '../test-database.ts'
import { Engines } from './engines.ts'
import { SignalKeeper } from './signal-keeper.ts'
import type { Threads } from './threads.ts'
import { startThreads } from './threads.ts'

const T = Date.UTC(2026, 4, 1)
const EVER = T + 1e10
let database: Awaited<ReturnType<typeof testDatabase>>
let threads: Threads
beforeAll(async () => {
  threads = startThreads(new URL('../../../dist/engine-worker.mjs', import.meta.url), 2)
  database = await testDatabase()
})
afterAll(async () => {
  await threads.close()
  await database.close()
})
beforeEach(async () => {
  for (const table of ['events', 'sessions', 'blocks']) await database.sequelize.query(`DELETE FROM ${table}`)
  await database.models.sites.update({ thresholds: {} }, { where: { id: database.site.id } })
  for (const block of [0, 1]) {
    const visitors = [0, 1, 2].map((v) => `v${block}/${v}`)
    const lines = visitors.map((visitor, v): Line => ({
      ...{ visitor, t: T + v, kind: 'page', url: '/a', load: 3000 + 1000 * v },
    }))
    await inTransaction(database.sequelize, (connection) => placeLines(connection, database.site, lines))
    await packEnded(database.sequelize, database.site, EVER, 1)
  }
})

async function read(unpack: Unpack, limits: SignalThresholds = THRESHOLDS) {
  const { sequelize, site } = database
  const all = []
  const blocks = readBlocks(sequelize, site.id, new Dictionaries(), unpack, 2, undefined, () => limits)
  for await (const one of blocks)
    all.push('damaged' in one ? 'damaged' : { signals: [...one.block.signals.event], kept: one.kept })
  return all
}
const slow = (kept: boolean) => [
  { signals: [2], kept },
  { signals: [2], kept },
]

async function loaded(): Promise<Engines> {
  const { sequelize, models } = database
  const engines = new Engines(
    sequelize,
    models,
    (error) => {
      throw error
    },
    threads,
  )
  await (
    await engines.load()
  ).loaded
  return engines
}
const failed = (error: unknown) => {
  throw error
}
const keeperOf = (engines: Engines) =>
  new SignalKeeper(database.sequelize, () => engines.all().map(({ engine }) => engine), failed, 0)
const toKeep = (engines: Engines) => engines.get('shop')!.engine.signalsToKeep().length

describe('signals of stored blocks', () => {
  it('are kept once they were found, and read instead of found, here and in threads', async () => {
    const engines = await loaded()
    expect(toKeep(engines)).toBe(2)
    for (const unpack of [unpackHere(), threads.unpack]) expect(await read(unpack)).toEqual(slow(false))
    await keeperOf(engines).now()
    expect(toKeep(engines)).toBe(0)
    for (const unpack of [unpackHere(), threads.unpack]) expect(await read(unpack)).toEqual(slow(true))
    const next = await loaded()
    expect(toKeep(next)).toBe(0)
    await engines.stop()
    await next.stop()
  })
  it('are found anew under other thresholds, where they are damaged or of other columns', async () => {
    const engines = await loaded()
    await keeperOf(engines).now()
    await engines.stop()
    const other = { ...THRESHOLDS, slowMs: 2000 }
    expect(await read(threads.unpack, other)).toEqual([
      { signals: [0, 1, 2], kept: false },
      { signals: [0, 1, 2], kept: false },
    ])
    await database.sequelize.query("UPDATE block_signals SET body = CONCAT('x', body)")
    for (const unpack of [unpackHere(), threads.unpack]) expect(await read(unpack)).toEqual(slow(false))
    await database.sequelize.query('UPDATE block_signals SET of_columns = REPEAT("0", 64)')
    expect(await read(threads.unpack)).toEqual(slow(false))
  })
  it('are kept anew after the thresholds were changed, and go with their block', async () => {
    const engines = await loaded()
    const keeper = keeperOf(engines)
    await keeper.now()
    const site = engines.get('shop')!
    site.row = { ...site.row, thresholds: { slowMs: 2000 } }
    await site.engine.find('1')
    expect(toKeep(engines)).toBe(2)
    await keeper.now()
    expect(await read(threads.unpack, { ...THRESHOLDS, slowMs: 2000 })).toMatchObject([
      { kept: true },
      { kept: true },
    ])
    await engines.stop()
    await database.sequelize.query('DELETE FROM blocks')
    const [row] = await database.sequelize.query<{ n: number }>('SELECT COUNT(*) AS n FROM block_signals', {
      type: QueryTypes.SELECT,
    })
    expect(Number(row!.n)).toBe(0)
  })
})
