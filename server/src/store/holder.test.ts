import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { connect, onConnection } from './database.ts'
import { databaseProblem } from './database-problem.ts'
import { DatabaseHolder, undurable } from './holder.ts'
import { PackerThread } from './packer-thread.ts'
import { testDatabase } from '../test-database.ts'

let database: Awaited<ReturnType<typeof testDatabase>>
beforeAll(async () => {
  database = await testDatabase()
})
afterAll(() => database.close())

describe('the one server that works on a database', () => {
  it('keeps others out until it is gone, and takes the lock again when its connection was cut', async () => {
    const other = connect(database.url)
    const lost: string[] = []
    const first = new DatabaseHolder(database.sequelize, () => lost.push('first'), 50)
    const second = new DatabaseHolder(other, () => lost.push('second'), 50)
    expect(await first.take(0)).toBe(true)
    expect(await second.take(0)).toBe(false)
    await onConnection(other, async (connection) => {
      const [row] = await connection.query<{ id: number | null }[]>(
        "SELECT IS_USED_LOCK(CONCAT('dust-trail ', LEFT(DATABASE(), 50))) AS id",
      )
      await connection.query(`KILL ${Number(row!.id)}`)
    })
    await expect
      .poll(
        () =>
          onConnection(other, async (connection) => {
            const [row] = await connection.query<{ id: number | null }[]>(
              "SELECT IS_USED_LOCK(CONCAT('dust-trail ', LEFT(DATABASE(), 50))) AS id",
            )
            return row!.id
          }),
        { timeout: 5000 },
      )
      .not.toBeNull()
    expect(lost).toEqual([])
    await first.stop()
    expect(await second.take(2000)).toBe(true)
    await second.stop()
    await other.close()
  })

  it('works only on a database that keeps what it acknowledges', async () => {
    expect(await undurable(database.sequelize)).toEqual([])
  })
})

describe('the packer', () => {
  it('is started again when it ends, and says meanwhile that something is the matter', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'dust-trail-packer-'))
    const file = join(folder, 'packer.mjs')
    writeFileSync(
      file,
      "import { parentPort } from 'node:worker_threads'\nparentPort.postMessage({ sessions: 1, events: 1 })\nsetTimeout(() => { throw new Error('broken') }, 50)\nparentPort.once('message', () => process.exit(0))\n",
    )
    const said: object[] = []
    const packer = new PackerThread(
      pathToFileURL(file),
      { databaseUrl: '' },
      (message) => said.push(message),
      20,
    )
    packer.start()
    await expect
      .poll(() => said.filter((one) => 'sessions' in one).length, { timeout: 10_000 })
      .toBeGreaterThan(1)
    expect(said).toContainEqual({ error: 'broken' })
    await packer.stop()
    rmSync(folder, { recursive: true })
  })
})

describe('databaseProblem', () => {
  it.each([
    [{ errno: 1021, sqlMessage: 'Disk full (/tmp); waiting for someone to free some space' }, 'disk-full'],
    [
      { parent: { errno: 1114, code: 'ER_RECORD_FILE_FULL', sqlMessage: "The table 'events' is full" } },
      'disk-full',
    ],
    [
      { errno: 3, sqlMessage: 'Error writing file \'./x\' (Errcode: 28 "No space left on device")' },
      'disk-full',
    ],
    [{ name: 'SequelizeConnectionRefusedError', parent: { code: 'ECONNREFUSED' } }, 'database-away'],
    [{ errno: 45012, message: 'Connection timeout: failed to create socket' }, 'database-away'],
    [{ errno: 1927, sqlMessage: 'Connection was killed' }, 'database-away'],
  ])('says what is the matter: %o', (error, code) => {
    expect(databaseProblem(error)).toMatchObject({ code, status: 503 })
  })
  it('leaves other errors alone', () => {
    expect(databaseProblem({ errno: 1062, sqlMessage: 'Duplicate entry' })).toBeUndefined()
    expect(databaseProblem(new Error('a mistake of ours'))).toBeUndefined()
  })
})
