import { gzipSync } from 'node:zlib'
import type { RecordItem } from '@dust-trail/core'
import type { Express } from 'express'
import fc from 'fast-check'
import { QueryTypes } from 'sequelize'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Engines } from '../engine/engines.ts'
import { readRecording } from '../store/recordings.ts'
import { searchRecordings } from '../store/search-recordings.ts'
import { deleteVisitor } from '../store/retention.ts'
import { testApp, testDatabase } from '../test-database.ts'

let database: Awaited<ReturnType<typeof testDatabase>>
let engines: Engines
let app: Express
beforeAll(async () => {
  database = await testDatabase()
  ;({ app, engines } = await testApp(database))
})
afterAll(async () => {
  await engines.stop()
  await database.close()
})

const began = Date.now()
let visitors = 0
const post = (body: string | Buffer) =>
  request(app).post('/collect?site=shop').set('content-type', 'text/plain').send(body)

/** A document of a visitor in so many batches: the page, lines, then steps a second apart, with numbers that are its own. */
function documentOf(pieces: number) {
  const visitor = `pieces-${++visitors}`
  const document = `document-${visitor}`
  const head = { v: 1, site: 'shop', visitor, document, tab: 't', startMs: began, sentMs: Date.now() }
  const snapshot = {
    ...{ url: 'https://shop.example/', title: document, width: 800, height: 600 },
    root: { id: 1, tag: 'html' },
  }
  const lines = [{ t: began, id: `${document}.0`, kind: 'page', url: 'https://shop.example/' }]
  const batches: object[] = [
    { ...head, n: 0, piece: 0, lines: [], items: [], snapshot },
    { ...head, n: 1, lines, items: [] },
  ]
  for (let piece = 1; piece < pieces; piece++) {
    const items: RecordItem[] = [{ at: piece * 1000, k: 'scroll', id: 0, x: 0, y: piece }]
    batches.push({ ...head, n: piece + 1, piece, lines: [], items })
  }
  return { visitor, document, batches }
}

async function recordingOf(visitor: string) {
  const [row] = await database.sequelize.query<{ id: number }>('SELECT id FROM sessions WHERE visitor = ?', {
    replacements: [visitor],
    type: QueryTypes.SELECT,
  })
  return readRecording(database.sequelize, String(row!.id))
}

describe('pieces of recordings', () => {
  it('lost, repeated and in any order: the replay is as without it, or says exactly what is missing', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 6 }),
        fc.array(fc.nat(), { minLength: 14, maxLength: 14 }),
        fc.array(fc.boolean(), { minLength: 7, maxLength: 7 }),
        fc.array(fc.boolean(), { minLength: 7, maxLength: 7 }),
        async (pieces, order, lost, twice) => {
          const { visitor, document, batches } = documentOf(pieces)
          // The lines come, else there is no session.
          const sent = batches
            .flatMap((batch, k) => (k !== 1 && lost[k] ? [] : twice[k] ? [batch, batch] : [batch]))
            .map((batch, k) => ({ batch, by: order[k]! }))
            .sort((a, b) => a.by - b.by)
          for (const { batch } of sent) await post(JSON.stringify(batch)).expect(204)
          const here = Array.from({ length: pieces }, (_, piece) => !lost[piece === 0 ? 0 : piece + 1])
          const { documents, missing } = await recordingOf(visitor)
          const times = here.flatMap((is, piece) => (is && piece ? [piece * 1000] : []))
          expect(documents.map((one) => [one.document, one.items.map(({ at }) => at)])).toEqual(
            here[0] ? [[document, times]] : [],
          )
          // By hand: each run of pieces that are missing before one that is there.
          const holes: { fromMs: number; toMs: number; pieces: number; whole: boolean }[] = []
          let run = 0
          let last = 0
          here.forEach((is, piece) => {
            if (!is) run++
            else {
              if (run) holes.push({ fromMs: last, toMs: piece * 1000, pieces: run, whole: false })
              run = 0
              last = piece * 1000
            }
          })
          if (here[0]) expect(missing.map(({ document: _, startMs: __, ...hole }) => hole)).toEqual(holes)
          else
            expect(missing).toEqual(
              times.length
                ? [
                    {
                      ...{ document, startMs: began, fromMs: 0, toMs: last, whole: true },
                      pieces: holes.reduce((sum, hole) => sum + hole.pieces, 0),
                    },
                  ]
                : [],
            )
        },
      ),
      { numRuns: 40 },
    )
  })

  it('that come before any line of a new visitor do not go to an old session, and are deleted with the visitor', async () => {
    const { visitor, batches } = documentOf(2)
    await post(JSON.stringify(batches[0])).expect(204)
    const waiting = () =>
      database.sequelize.query<{ visitor: string }>(
        'SELECT visitor FROM recordings WHERE session_id = 0 AND visitor = ?',
        { replacements: [visitor], type: QueryTypes.SELECT },
      )
    expect(await waiting()).toHaveLength(1)
    await deleteVisitor(database.sequelize, database.site.id, visitor)
    expect(await waiting()).toHaveLength(0)
  })

  it('may come packed; what is damaged or unpacks to too much is refused and named', async () => {
    const { visitor, batches } = documentOf(1)
    for (const batch of batches) await post(gzipSync(JSON.stringify(batch))).expect(204)
    expect((await recordingOf(visitor)).documents).toHaveLength(1)
    await post(gzipSync('x'.repeat(9 * 2 ** 20))).expect(413)
    const cut = await post(gzipSync(JSON.stringify(batches[0])).subarray(0, 40)).expect(400)
    expect((cut.body as { detail: string }).detail).toContain('cannot be unpacked')
  })

  it('are found by what was on the page, first or later, by text or by element', async () => {
    const sessionsOf: Record<string, number> = {}
    for (const [name, text, later] of [
      ['first', 'No seats are left', undefined],
      ['later', 'Seats', { id: 7, tag: 'aside', a: { id: 'price-helper' } }],
      ['neither', 'Seats', undefined],
    ] as const) {
      const { visitor, batches } = documentOf(1)
      const [page, lines] = batches as { snapshot: { root: object } }[]
      page!.snapshot.root = { id: 1, tag: 'html', c: [{ id: 2, text: `${text} ${name}` }] }
      await post(JSON.stringify(page)).expect(204)
      await post(JSON.stringify(lines)).expect(204)
      if (later) {
        const change = { at: 500, k: 'change', add: [[1, 0, later]] }
        await post(JSON.stringify({ ...lines, n: 2, piece: 1, lines: [], items: [change] })).expect(204)
      }
      const [row] = await database.sequelize.query<{ id: number }>(
        'SELECT id FROM sessions WHERE visitor = ?',
        {
          replacements: [visitor],
          type: QueryTypes.SELECT,
        },
      )
      sessionsOf[name] = Number(row!.id)
    }
    const { first, later, neither } = sessionsOf as Record<'first' | 'later' | 'neither', number>
    const ids = [neither, later, first]
    const search = (words: string, hasTime = () => true) =>
      searchRecordings(database.sequelize, ids, words, hasTime)
    expect(await search('no SEATS')).toEqual({ found: [first], looked: 3 })
    expect(await search('#price-helper')).toEqual({ found: [later], looked: 3 })
    expect(await search('seats')).toEqual({ found: ids, looked: 3 })
    expect(await search('seats', () => false)).toEqual({ found: [], looked: 0 })
  })
})
