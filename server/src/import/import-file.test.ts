import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import type { Line } from '@dust-trail/core'
import { KINDS, orderLines } from '@dust-trail/core'
import { parse } from 'csv-parse/sync'
import fc from 'fast-check'
import { QueryTypes } from 'sequelize'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { casesOf } from '../../../core/checks/cases.ts'
import { allSessions, exportLines } from '../routes/export.ts'
import { testDatabase } from '../test-database.ts'
import type { ImportResult, ImportTask } from './import-file.ts'
import { importFile } from './import-file.ts'

const MINUTE = 60_000
let database: Awaited<ReturnType<typeof testDatabase>>
const folder = mkdtempSync(join(tmpdir(), 'dust-trail-import-'))

beforeAll(async () => {
  database = await testDatabase()
})
afterAll(async () => {
  await database.close()
  rmSync(folder, { recursive: true })
})
beforeEach(() => empty())

/** Takes everything away that was stored. */
async function empty(): Promise<void> {
  for (const table of ['events', 'sessions', 'blocks']) await database.sequelize.query(`DELETE FROM ${table}`)
}

let files = 0
const fileOf = (content: string | Buffer) => {
  const file = join(folder, `file-${++files}`)
  writeFileSync(file, content)
  return file
}
const ndjson = (lines: readonly object[]) => lines.map((line) => `${JSON.stringify(line)}\n`).join('')
const take = (content: string | Buffer, more: Partial<ImportTask> = {}): Promise<ImportResult> =>
  importFile({
    sequelize: database.sequelize,
    site: database.site,
    file: fileOf(content),
    nowMs: Date.UTC(2026, 0, 1),
    kind: 'clickstream',
    signal: new AbortController().signal,
    wrote: () => undefined,
    ...more,
  })
const exported = async (): Promise<Line[]> => {
  const texts: string[] = []
  for await (const text of exportLines(
    database.sequelize,
    await allSessions(database.sequelize, database.site.id),
  ))
    texts.push(text)
  return texts
    .join('')
    .split('\n')
    .filter(Boolean)
    .map((text) => JSON.parse(text) as Line)
}
const sessions = async () =>
  (
    await database.sequelize.query<{ visitor: string; start_ms: number; end_ms: number }>(
      'SELECT visitor, start_ms, end_ms FROM sessions ORDER BY visitor, start_ms',
      { type: QueryTypes.SELECT },
    )
  ).map((row) => [row.visitor, Number(row.start_ms), Number(row.end_ms)])
/** Lines of each visitor in their order. */
const sorted = (lines: readonly Line[]) =>
  orderLines(lines).sort((a, b) => (a.visitor < b.visitor ? -1 : a.visitor > b.visitor ? 1 : 0))

const text = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 20 })
const line = fc
  .record(
    {
      visitor: fc.constantFrom('ann', 'Ann', 'bö 😀'),
      t: fc.integer({ min: 1_700_000_000_000, max: 1_700_000_000_000 + 300 * MINUTE }),
      kind: fc.constantFrom(...KINDS),
      url: fc.constantFrom('/', '/a?x=1', 'https://shop.example/ü'),
      target: fc.record({ selector: text, tag: fc.constant('a'), interactive: fc.boolean() }),
      props: fc.dictionary(
        text.filter((name) => name !== '__proto__'),
        fc.oneof(text, fc.boolean(), fc.integer()),
        { maxKeys: 3 },
      ),
      title: text,
      x: fc.double({ noNaN: true, noDefaultInfinity: true }).map((x) => x + 0),
      device: fc.record({
        class: fc.constantFrom('desktop' as const, 'mobile' as const),
        width: fc.integer({ min: 1, max: 20_000 }),
      }),
      campaign: fc.record({ source: text, medium: text }),
    },
    { requiredKeys: ['visitor', 't', 'kind', 'url', 'target'] },
  )
  .map(
    (own) =>
      // Through JSON, as from a file: minus zero and the like are no values of it.
      JSON.parse(
        JSON.stringify({
          ...own,
          depth: 0.5,
          message: 'm',
          path: '/p',
          ms: 5,
          name: 'n',
          experiment: 'e',
          variant: 'v',
          question: 'q',
        }),
      ) as Line,
  )

describe('round trip', () => {
  it('gives out what was taken in, equal, whatever the lines', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(line, { minLength: 1, maxLength: 60 }),
        fc.boolean(),
        async (lines, zipped) => {
          await empty()
          const content = ndjson(lines)
          const result = await take(zipped ? gzipSync(content) : content)
          expect(result).toMatchObject({ state: 'done', good: lines.length, bad: 0 })
          expect(sorted(await exported())).toEqual(sorted(lines))
        },
      ),
      { numRuns: 40 },
    )
  })
})

const view = (visitor: string, minute: number, more: object = {}) => ({
  visitor,
  t: 1_700_000_000_000 + minute * MINUTE,
  kind: 'page',
  url: `/${minute}`,
  ...more,
})

describe('importFile', () => {
  it('counts bad lines, names them and keeps the good ones', async () => {
    const lines = Array.from({ length: 20 }, (_, i) => JSON.stringify(view('v', i)))
    lines[4] = '{"visitor":"v"'
    lines[9] = JSON.stringify({ ...view('v', 9), status: 900 })
    const result = await take(`\uFEFF${lines.join('\r\n')}\n\n`)
    expect(result).toMatchObject({ state: 'done', lines: 20, good: 18, bad: 2 })
    expect(result.problems).toEqual([
      { line: 5, field: '', reason: 'is not JSON' },
      { line: 10, field: 'status', reason: 'must be 0 to 599' },
    ])
    expect(await exported()).toHaveLength(18)
  })

  it('writes nothing of a file of another kind and says what it seems to be', async () => {
    const result = await take('<html>\n<body>\n</html>\n')
    expect(result).toMatchObject({ state: 'refused', good: 0, bad: 3 })
    expect(result.message).toContain('XML or HTML')
    expect(await exported()).toEqual([])
    expect((await take('')).message).toBe('The file is empty.')
  })

  it('adds nothing when it is given the same again', async () => {
    const content = ndjson([view('v', 0), view('v', 0), view('v', 5, { id: 'x' })])
    expect(await take(content)).toMatchObject({ good: 3, repeated: 0 })
    expect(await take(content)).toMatchObject({ good: 0, repeated: 3 })
    expect(await take(ndjson([view('v', 5, { id: 'x' })]))).toMatchObject({
      good: 0,
      repeated: 1,
    })
    expect(await exported()).toHaveLength(3)
  })

  it('makes the same sessions of lines in any order and from several files', async () => {
    const visits = (visitor: string) =>
      [0, 10, 35, 64, 100, 131, 132, 400].map((minute) => view(visitor, minute))
    const all = ['a', 'b', 'c'].flatMap(visits)
    await take(ndjson(all))
    const expected = await sessions()
    expect(expected.filter(([visitor]) => visitor === 'a')).toHaveLength(4)
    await fc.assert(
      fc.asyncProperty(
        fc.shuffledSubarray(all, { minLength: all.length }),
        fc.nat(all.length),
        async (shuffled, cut) => {
          await empty()
          await take(ndjson(shuffled.slice(0, cut)))
          await take(ndjson(shuffled.slice(cut)))
          expect(await sessions()).toEqual(expected)
        },
      ),
      { numRuns: 15 },
    )
  })

  it('keeps together what names one session, however long the pause', async () => {
    await take(ndjson([view('v', 0, { session: 's' }), view('v', 500, { session: 's' }), view('v', 10)]))
    expect(await sessions()).toHaveLength(2)
  })

  it('goes on where it was cut off and ends with the same data', async () => {
    const LINES = 140_000
    const lines = Array.from({ length: LINES }, (_, i) => view(`v${i % 2000}`, Math.floor(i / 2000)))
    const stopping = new AbortController()
    const cut = await take(ndjson(lines), {
      signal: stopping.signal,
      wrote: ({ good }) => good >= 5000 && stopping.abort(),
    })
    expect(cut.state).toBe('stopped')
    expect(cut.good).toBeLessThan(LINES)
    const rest = await take(ndjson(lines))
    expect(rest).toMatchObject({ state: 'done', repeated: cut.good, good: LINES - cut.good })
    expect(await exported()).toHaveLength(LINES)
  })

  it('reads the clickstream as CSV, and a foreign one through its columns', async () => {
    await take('visitor,t,kind,url,target.selector,rx\nv,1700000000000,click,/a,"#a, b",0.5\n', {
      kind: 'csv',
    })
    expect(await exported()).toEqual([
      {
        visitor: 'v',
        t: 1_700_000_000_000,
        kind: 'click',
        url: '/a',
        target: { selector: '#a, b' },
        rx: 0.5,
      },
    ])
    const mapping = { columns: { visitor: 'who', t: 'when', name: 'what' }, constants: { kind: 'action' } }
    await take('who,when,what\nw,2023-11-14 22:13:20,"say ""hi"""\n', { kind: 'csv', mapping })
    expect((await exported()).find(({ visitor }) => visitor === 'w')).toEqual({
      visitor: 'w',
      t: 1_700_000_000_000,
      kind: 'action',
      name: 'say "hi"',
    })
  })

  it('takes page views out of a web server’s log and says what it left out', async () => {
    const entry = (path: string, agent = 'Mozilla/5.0 (Windows NT 10.0) Firefox/128.0') =>
      `192.0.2.7 - - [14/Nov/2023:22:13:20 +0000] "GET ${path} HTTP/1.1" 200 5 "-" "${agent}"`
    const result = await take(
      [entry('/a'), entry('/b'), entry('/x.css'), entry('/c', 'crawler/1')].join('\n'),
      { kind: 'log' },
    )
    expect(result).toMatchObject({ good: 2, bad: 0, skipped: { 'an asset': 1, 'a robot': 1 } })
  })
})

describe('a file that is not what it should be', () => {
  const good = Array.from({ length: 3000 }, (_, i) => JSON.stringify(view(`v${i}`, i % 50)))

  it('is named for what it is, and the good part kept: a gzip that was cut off or is damaged', async () => {
    const whole = gzipSync(`${good.join('\n')}\n`)
    const cut = await take(whole.subarray(0, whole.length / 2))
    expect(cut.message).toMatch(/gzip file is cut off/)
    expect(cut.good).toBeGreaterThan(500)
    expect(await exported()).toHaveLength(cut.good)
    const rest = await take(whole)
    expect(rest).toMatchObject({ good: 3000 - cut.good, repeated: cut.good, message: '' })
    const damaged = Buffer.from(whole)
    damaged.fill(0xff, whole.length - 900, whole.length - 300)
    await empty()
    expect((await take(damaged)).message).toMatch(/gzip file is damaged/)
  })

  it('has its bad lines named, all of them: bytes that are no text or no UTF-8, lines too long, wrong times', async () => {
    const lines: (string | Buffer)[] = good.slice(0, 400)
    lines[3] = Buffer.from([0x7b, 0xff, 0xfe, 0x7d])
    lines[5] = '{"visitor":"a\0b"}'
    lines[7] = `{"visitor":"${'x'.repeat(300_000)}"}`
    lines[9] = JSON.stringify({ ...view('v', 0), t: 1_700_000_000 })
    lines[11] = JSON.stringify({ ...view('v', 0), t: Date.UTC(2031, 0, 1) })
    lines[13] = JSON.stringify({ ...view('v', 0), t: Date.UTC(1985, 0, 1) })
    const content = Buffer.concat(lines.flatMap((line) => [Buffer.from(line), Buffer.from('\n')]))
    const problemsFile = join(folder, 'problems')
    const result = await take(content, { problemsFile })
    expect(result).toMatchObject({ state: 'done', good: 394, bad: 6 })
    const reported = readFileSync(problemsFile, 'utf8')
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { line: number; reason: string })
    expect(reported.map(({ line, reason }) => [line, reason])).toEqual([
      [4, 'is not valid UTF-8: save the file as UTF-8'],
      [6, 'holds bytes that are no text'],
      [8, 'is longer than 262144 characters'],
      [10, 'looks like seconds: give milliseconds since 1970'],
      [12, 'lies in the future, by more than a day'],
      [14, 'lies before 1990'],
    ])
  })

  it('may have quotes out of place: the record is named, and the others are read', async () => {
    const rows = Array.from({ length: 30 }, (_, i) => `v${i},1700000000000,page,/${i}`)
    rows[4] = 'v4,1700000000000,page,/a"b'
    rows[9] = 'v9,1700000000000,page,"/never closed'
    const result = await take(`visitor,t,kind,url\n${rows.join('\n')}\n`, { kind: 'csv' })
    expect(result).toMatchObject({ state: 'done', good: 29, bad: 1 })
    expect(result.problems).toEqual([{ line: 11, field: '', reason: 'opens a quote that is never closed' }])
    const urls = (await exported()).map(({ url }) => url)
    expect(urls).toContain('/a"b')
    expect(urls).toContain('/29')
  })

  it('inflates to no more than a budget', async () => {
    const result = await take(gzipSync(`${good.join('\n')}\n`), { mostBytes: 2 ** 17 })
    expect(result.message).toMatch(/More than 0 MB come out|INFLATED_MB/)
    expect(result.good).toBeLessThan(3000)
  })
})

describe('CSV reader', () => {
  const cases = casesOf<{ text: string }, { records: string[][] }>('web', 'csv_parse')
  it.each(cases)('reads as the standard says: $id ($source)', ({ inputs, expected }) => {
    expect(parse(inputs.text, { bom: true, relax_column_count: true })).toEqual(expected.records)
  })
})
