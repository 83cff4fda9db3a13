import { execFile } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { testDatabase } from '../test-database.ts'
import { inTransaction } from './database.ts'
import { DatabaseHolder } from './holder.ts'
import { packEnded } from './pack-sessions.ts'
import { placeLines } from './place-lines.ts'
import { packSnapshot, writePieces, writeSnapshots } from './recordings.ts'

const run = promisify(execFile)
const T = Date.UTC(2026, 4, 1)
const folder = mkdtempSync(join(tmpdir(), 'dust-trail-backup-'))
let from: Awaited<ReturnType<typeof testDatabase>>
let to: Awaited<ReturnType<typeof testDatabase>>
beforeAll(async () => {
  from = await testDatabase()
  to = await testDatabase()
})
afterAll(async () => {
  await from.close()
  await to.close()
  rmSync(folder, { recursive: true })
})

const command = (name: 'backup' | 'restore', url: string, ...args: string[]) =>
  run(process.execPath, [`scripts/${name}.mjs`, ...args], { env: { ...process.env, DATABASE_URL: url } })
const checksums = async ({ sequelize }: typeof from) => {
  const tables = await sequelize.query<{ name: string }>(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() ORDER BY 1',
    { type: QueryTypes.SELECT },
  )
  const sums: Record<string, unknown> = {}
  for (const { name } of tables) {
    const [row] = await sequelize.query<{ Checksum: number }>(`CHECKSUM TABLE \`${name}\``, {
      type: QueryTypes.SELECT,
    })
    sums[name] = row!.Checksum
  }
  return sums
}

it('takes everything along, recordings and blocks too, and puts it back as it was', async () => {
  const snapshot = await packSnapshot({
    ...{ url: '/', title: 'Ü', width: 80, height: 60 },
    root: { id: 1, tag: 'html', c: [{ id: 2, text: 'sky ✦' }] },
  })
  await inTransaction(from.sequelize, async (connection) => {
    const visits = Array.from({ length: 40 }, (_, i) => `v${i}`)
    const lines = visits.map((visitor, i) => ({
      visitor,
      t: T + i * 1000,
      kind: 'page' as const,
      url: '/ü?x',
    }))
    const { changed } = await placeLines(connection, from.site, lines)
    await writeSnapshots(connection, [snapshot])
    await writePieces(connection, from.site.id, [
      {
        sessionId: changed[0]!,
        document: 'document-1',
        n: 0,
        startMs: T,
        items: [{ at: 1, k: 'hide' }],
        snapshot,
      },
    ])
  })
  await packEnded(from.sequelize, from.site, T + 20_000, 1)
  const file = join(folder, 'all.sql.gz')
  await command('backup', from.url, file)
  await expect(command('backup', from.url, file)).rejects.toThrow(/never replaces/)

  await expect(command('restore', to.url, file)).rejects.toThrow(/--replace/)
  const holder = new DatabaseHolder(to.sequelize, () => undefined)
  await holder.take(1000)
  await expect(command('restore', to.url, file, '--replace')).rejects.toThrow(/Stop it first/)
  await holder.stop()
  const before = await checksums(to)
  const cut = join(folder, 'cut.sql.gz')
  writeFileSync(cut, readFileSync(file).subarray(0, -200))
  await expect(command('restore', to.url, cut, '--replace')).rejects.toThrow(
    /cannot be read|not a whole backup/,
  )
  expect(await checksums(to)).toEqual(before)

  await command('restore', to.url, file, '--replace')
  expect(await checksums(to)).toEqual(await checksums(from))
}, 60_000)
