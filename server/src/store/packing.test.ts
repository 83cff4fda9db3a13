import type { Line } from '@dust-trail/core'
import { closeUp, Dictionaries, funnel } from '@dust-trail/core'
import fc from 'fast-check'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { Threads } from '../engine/threads.ts'
import { startThreads } from '../engine/threads.ts'
import { allSessions, exportLines } from '../routes/export.ts'
import { testApp, testDatabase } from '../test-database.ts'
import { inTransaction, onConnection } from './database.ts'
import { packEnded } from './pack-sessions.ts'
import { MOST_LINES, placeLines } from './place-lines.ts'
import type { Unpack } from './read-blocks.ts'
import { readBlocks, unpackHere } from './read-blocks.ts'
import { deleteSessions } from './reopen-sessions.ts'
import {
  BATCHES_KEPT_MS,
  deleteVisitor,
  forgetBatches,
  OLD_BATCHES,
  OLD_RECORDINGS,
  OLD_SESSIONS,
} from './retention.ts'
import { rewriteBlock } from './rewrite-blocks.ts'
import { UNSEEN_PAGES } from './unseen-pages.ts'

const MINUTE = 60_000
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
  for (const table of ['events', 'sessions', 'recordings', 'blocks'])
    await database.sequelize.query(`DELETE FROM ${table}`)
})

const view = (visitor: string, minute: number, id?: string): Line => ({
  visitor,
  t: T + Math.round(minute * MINUTE),
  kind: 'page',
  url: `/p${Math.round(minute) % 5}`,
  ...(id !== undefined && { id }),
})
const place = (lines: Line[]) =>
  inTransaction(database.sequelize, (connection) => placeLines(connection, database.site, lines))
const pack = (least = 1) => packEnded(database.sequelize, database.site, EVER, least)
const count = async (sql: string) =>
  Number(
    (
      await database.sequelize.query<{ n: number }>(`SELECT COUNT(*) AS n FROM ${sql}`, {
        type: QueryTypes.SELECT,
      })
    )[0]!.n,
  )
/** All blocks, as somebody reads them. */
async function all(unpack: Unpack, dictionaries = new Dictionaries(), ahead?: number) {
  const read = []
  for await (const one of readBlocks(database.sequelize, database.site.id, dictionaries, unpack, ahead))
    read.push(one)
  return read
}

/** Everything there is, session by session, whatever its numbers. */
async function stored(): Promise<string[]> {
  const ids = await allSessions(database.sequelize, database.site.id)
  const sessions: string[] = []
  for (const id of ids) for await (const text of exportLines(database.sequelize, [id])) sessions.push(text)
  return sessions.sort()
}

describe('packing', () => {
  it('changes nothing of what is stored, wherever it comes in between: late, repeated and joining lines included', async () => {
    const line = fc.record({
      v: fc.nat(2),
      minute: fc.nat(300),
      id: fc.option(fc.nat(30), { nil: undefined }),
    })
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.array(line, { minLength: 1, maxLength: 8 }), fc.boolean()), { maxLength: 6 }),
        async (batches) => {
          const run = async (packing: boolean) => {
            for (const table of ['events', 'sessions', 'blocks'])
              await database.sequelize.query(`DELETE FROM ${table}`)
            let repeated = 0
            for (const [own, then] of batches) {
              // The same id always means the same line, as with senders that try again.
              const lines = own.map(({ v, minute, id }) =>
                id === undefined ? view(`v${v}`, minute) : view(`v${id % 3}`, (id * 37) % 300, `line-${id}`),
              )
              repeated += (await place(lines)).repeated
              if (packing && then) await pack()
            }
            return { repeated, sessions: await stored() }
          }
          expect(await run(true)).toEqual(await run(false))
        },
      ),
      { numRuns: 40 },
    )
  }, 60_000)

  it('leaves no rows, and opens again just the session that a late line belongs to', async () => {
    await place([view('a', 0), view('a', 5), view('b', 0), view('b', 200)])
    expect(await pack()).toEqual({ sessions: 3, events: 4 })
    expect(await count('events')).toBe(0)
    const late = await place([view('a', 20)])
    expect(late.changed).toHaveLength(1)
    expect(await count('events')).toBe(3)
    expect(await count('block_holes')).toBe(1)
    expect(await stored()).toHaveLength(3)
    // What was opened can be packed once more; of the old block only its holes and the others stay.
    expect(await pack()).toEqual({ sessions: 1, events: 3 })
    expect(await count('events')).toBe(0)
  })

  it('opens nothing for lines that are there already, known by their id or by their content', async () => {
    const lines = [view('a', 0, 'one'), view('a', 1)]
    await place(lines)
    await pack()
    expect(await place(lines)).toMatchObject({ changed: [], gone: [], repeated: 2 })
    expect(await count('events')).toBe(0)
    expect(await count('block_holes')).toBe(0)
  })

  it('waits until it is worth its while', async () => {
    await place([view('a', 0)])
    expect(await pack(2)).toEqual({ sessions: 0, events: 0 })
    expect(await count('events')).toBe(1)
  })

  it('answers after a start as before it', async () => {
    await place(Array.from({ length: 60 }, (_, i) => view(`v${i % 20}`, (i * 13) % 400)))
    const ask = async () => {
      const { engines } = await testApp(database)
      const { engine } = engines.get('shop')!
      const lens = { from: '2026-05-01', to: '2026-05-02', devices: [] }
      const steps = ['/p0', '/p3'].map((page) => ({ type: 'page' as const, page }))
      return [
        await engine.ask(funnel, lens, { steps }),
        await engine.ask(closeUp, lens, { selection: { type: 'page', page: '/p1' } }),
        engine.extent(),
      ]
    }
    const before = await ask()
    await pack()
    expect(await ask()).toEqual(before)
    await place([view('v3', 14, 'late')])
    const open = await ask()
    await pack()
    expect(await ask()).toEqual(open)
  })
})

describe('blocks', () => {
  it('are read by threads as they are read here, in the same order and with the same codes', async () => {
    // The first are by far the largest, so that threads are done with later ones earlier.
    for (let k = 0; k < 7; k++) {
      const visitors = k === 6 ? 900 : 3 + k
      await place(
        Array.from({ length: visitors }, (_, v) => ({
          ...view(`v${k}/${v}`, v),
          url: `/own/${k}/${v % 50}`,
        })),
      )
      await pack()
    }
    const [here, there] = [new Dictionaries(), new Dictionaries()]
    const one = await all(unpackHere(), here)
    const other = await all(threads.unpack, there, 4)
    expect(there).toEqual(here)
    expect(one).toHaveLength(7)
    const columns = (read: typeof one) =>
      read.map((block) => 'block' in block && { ...block, block: JSON.stringify(block.block) })
    expect(columns(other)).toEqual(columns(one))
  })
})

describe('a damaged block', () => {
  it('is named and set aside; the others are read, and its own lines still come out', async () => {
    await place([view('a', 0)])
    await pack()
    await place([view('b', 0)])
    await pack()
    const [{ id }] = (await database.sequelize.query<{ id: number }>('SELECT MIN(id) AS id FROM blocks', {
      type: QueryTypes.SELECT,
    })) as [{ id: number }]
    await database.sequelize.query(
      `UPDATE blocks SET \`columns\` = CONCAT('x', \`columns\`) WHERE id = ${id}`,
    )
    for (const unpack of [unpackHere(), threads.unpack])
      expect(await all(unpack)).toEqual([
        expect.objectContaining({ holes: [], of: 2 }),
        { damaged: { id: Number(id), sessions: 1, reason: 'its checksum is wrong' }, of: 2 },
      ])
    const { engines } = await testApp(database)
    expect(engines.get('shop')!.damaged).toHaveLength(1)
    expect(engines.get('shop')!.engine.extent()!.sessions).toBe(1)
    expect(await stored()).toHaveLength(2)
  })
  it('with damaged lines stays closed: what comes late makes a session of its own', async () => {
    await place([view('a', 0)])
    await pack()
    await database.sequelize.query(`UPDATE block_lines SET body = CONCAT('x', body)`)
    await place([view('a', 5)])
    expect(await count('sessions')).toBe(2)
    expect(await count('events')).toBe(1)
  })
})

describe('deleteSessions', () => {
  it('takes them away at once, and nothing of them is left once their block is rewritten', async () => {
    const text = 'erased-one'
    await place([view(text, 0), view('kept-one', 0), view('kept-two', 3), view('kept-one ', 5)])
    await pack()
    const [{ id }] = (await database.sequelize.query<{ id: number }>(
      "SELECT id FROM sessions WHERE visitor = 'erased-one'",
      { type: QueryTypes.SELECT },
    )) as [{ id: number }]
    const before = await stored()
    await inTransaction(database.sequelize, (connection) => deleteSessions(connection, [Number(id)]))
    expect(await stored()).toEqual(before.filter((lines) => !lines.includes(text)))
    const rewritten = await rewriteBlock(database.sequelize, database.site)
    expect(rewritten).toMatchObject({ siteId: database.site.id })
    expect(await rewriteBlock(database.sequelize, database.site)).toBeUndefined()
    expect(await stored()).toHaveLength(3)
    expect(await count('blocks')).toBe(1)
    expect(await count('block_holes')).toBe(0)
    const [read] = await all(unpackHere())
    expect(JSON.stringify(read)).not.toContain(text)
    const { engines } = await testApp(database)
    expect(engines.get('shop')!.engine.extent()!.sessions).toBe(3)
    expect(engines.get('shop')!.engine.dictionaries.visitor.values).not.toContain(text)
  })
})

describe('deleteVisitor', () => {
  it('deletes exactly that visitor: one whose name ends in a blank is somebody else', async () => {
    await place(['ann', 'ann ', 'Ann', 'änn'].map((visitor) => view(visitor, 0)))
    const gone = await deleteVisitor(database.sequelize, database.site.id, 'ann')
    expect(gone).toHaveLength(1)
    const left = (await stored()).map((lines) => (JSON.parse(lines) as Line).visitor)
    expect(left.sort()).toEqual(['Ann', 'ann ', 'änn'])
  })
})

describe('retention', () => {
  it('forgets the numbers of batches once all they could bring is too old', async () => {
    const nowMs = Date.UTC(2026, 5, 1)
    await database.sequelize.query(
      'INSERT INTO batches (site_id, document, n, received_ms) VALUES (1, ?, 0, ?), (1, ?, 0, ?)',
      { replacements: ['old', nowMs - BATCHES_KEPT_MS - 1, 'recent', nowMs - BATCHES_KEPT_MS + 1] },
    )
    await forgetBatches(database.sequelize, nowMs)
    expect(await count('batches')).toBe(1)
  })
  it('finds what is old by indexes alone, however much there is', async () => {
    const { sequelize, site } = database
    await sequelize.query(
      `INSERT INTO recordings (session_id, site_id, document, n, start_ms, page, snapshot_hash, checksum, body)
       SELECT seq, ${site.id} + seq % 3, CONCAT('document-', seq), 0, seq * 1000, '/', SHA2(seq % 500, 256), '', ''
       FROM seq_1_to_100000`,
    )
    await sequelize.query(
      `INSERT INTO sessions (site_id, visitor, start_ms, end_ms, returning_visitor)
       SELECT ${site.id} + seq % 3, CONCAT('v', seq), seq * 1000, seq * 1000, 0 FROM seq_1_to_100000`,
    )
    await sequelize.query(
      `INSERT INTO batches (site_id, document, n, received_ms)
       SELECT ${site.id}, CONCAT('document-', seq), 0, seq * 1000 FROM seq_1_to_100000`,
    )
    await onConnection(sequelize, (connection) =>
      connection.query('ANALYZE TABLE recordings, sessions, batches'),
    )
    const plan = async (sql: string, replacements: unknown[]) => {
      const rows = await onConnection(sequelize, (connection) =>
        connection.query<{ key: string | null; table: string; Extra: string | null }[]>(
          `EXPLAIN ${sql}`,
          replacements,
        ),
      )
      return rows.map(({ table, key, Extra }) =>
        `${table} ${key} ${/filesort|temporary/.test(Extra ?? '') ? 'sorts' : ''}`.trim(),
      )
    }
    expect(await plan(OLD_SESSIONS, [site.id, 5_000_000, 2000])).toEqual(['sessions by_end'])
    expect(await plan(OLD_RECORDINGS, [site.id, 5_000_000, 2000])).toEqual(['recordings by_start'])
    expect(await plan(OLD_BATCHES, [5_000_000, 5000])).toEqual(['batches by_receipt'])
    const pages = await plan(UNSEEN_PAGES, [['a'.repeat(64), 'b'.repeat(64)]])
    expect(pages).toEqual(['snapshots PRIMARY', 'recordings by_snapshot'])
  })
})

describe('packing while lines arrive', () => {
  it('makes nobody wait for anybody: no transaction is broken off', async () => {
    const { sequelize, site } = database
    let writing = true
    const packer = (async () => {
      while (writing) await packEnded(sequelize, site, EVER, 1)
    })()
    // Each client adds to the end of its visitors' sessions, and late lines to those that are packed already.
    const client = async (k: number) => {
      for (let n = 0; n < 40; n++)
        await place([
          view(`c${k}-${n % 3}`, n * 3),
          view(`c${k}-${(n + 1) % 3}`, (n * 7) % 60, `late-${k}-${n}`),
        ])
    }
    await Promise.all(Array.from({ length: 6 }, (_, k) => client(k)))
    writing = false
    await packer
    const lines = (await stored()).join('').split('\n').filter(Boolean)
    expect(lines).toHaveLength(6 * 40 * 2)
  }, 60_000)
})

describe('a session with as many lines as one may have', () => {
  it('takes no more, says so, and keeps all it has, wherever more would lie', async () => {
    const full = Array.from({ length: MOST_LINES }, (_, i) => ({ ...view('v', 10), t: T + i * 10 }))
    await place(full.slice(1))
    const last = { ...view('v', 0), t: T + MOST_LINES * 10 }
    expect((await place([last])).tooMany).toBe(0)
    // After its end, and before its beginning, packed or not.
    expect(await place([{ ...last, t: last.t + 5 }])).toMatchObject({ tooMany: 1, changed: [] })
    expect((await place([full[0]!])).tooMany).toBe(1)
    await pack()
    expect((await place([full[0]!])).tooMany).toBe(1)
    const lines = (await stored()).join('').split('\n').filter(Boolean)
    expect(lines).toHaveLength(MOST_LINES)
    expect(JSON.parse(lines[MOST_LINES - 1]!)).toEqual(last)
  }, 60_000)
})
