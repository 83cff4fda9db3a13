/** Import of a clickstream beside MariaDB's own LOAD DATA of the same rows, in one run. */
import { spawn } from 'node:child_process'
import { createWriteStream, mkdtempSync, rmSync } from 'node:fs'
import { once } from 'node:events'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { mariadb } from './peers.ts'
import type { Report } from './report.ts'

export const about = 'lines a second and memory of an import, beside LOAD DATA of the same rows'

const LINES = 300_000
/** The driver sends a file as one packet, which the server limits: so rows go in several files. */
const PART = 100_000
const RUNS = 3
const CHILD = 'bench/child/import.ts'

export async function run(): Promise<Report> {
  // @ts-expect-error a plain script without types
  const { startMariadb } = (await import('../scripts/lib/mariadb.mjs')) as {
    startMariadb: (folder: string, args?: string[]) => Promise<{ url: string; stop: () => Promise<void> }>
  }
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const database = await startMariadb(folder)
  const ours: number[] = []
  const theirs: number[] = []
  const memory: number[] = []
  try {
    const file = join(folder, 'lines.ndjson')
    const rows = Array.from({ length: LINES / PART }, (_, i) => join(folder, `rows-${i}.tsv`))
    await write(file, rows)
    for (let i = 0; i < RUNS; i++) {
      const { rate, peakMb } = await importOnce(database.url, file)
      ours.push(rate)
      memory.push(peakMb)
      theirs.push(await loadData(database.url, rows))
    }
  } finally {
    await database.stop()
    rmSync(folder, { recursive: true, force: true })
  }
  return {
    name: 'import',
    data: `${LINES} lines of ${LINES / 20} visitors, every line checked, sessions cut, ids unique; LOAD DATA fills an events table with the same indexes and no checks`,
    figures: [
      { what: 'import', unit: 'lines/s', values: ours, goal: null },
      { what: 'LOAD DATA of the same rows', unit: 'rows/s', values: theirs, goal: null },
      {
        what: 'import, of the rate of LOAD DATA',
        unit: '×',
        values: ours.map((rate, i) => rate / theirs[i]!),
        goal: { atLeast: 0.5 },
      },
      { what: 'peak memory of the importing process', unit: 'MB', values: memory, goal: { atMost: 400 } },
    ],
  }
}

/** The lines as a clickstream, and as rows of the events table. */
async function write(file: string, rows: readonly string[]): Promise<void> {
  const lines = createWriteStream(file)
  const tables = rows.map((part) => createWriteStream(part))
  for (let i = 0; i < LINES; i++) {
    const visitor = Math.floor(i / 20)
    const line = JSON.stringify({
      visitor: `v${visitor}`,
      t: 1_700_000_000_000 + visitor * 1000 + (i % 20) * 9000,
      kind: i % 4 === 0 ? 'page' : 'click',
      id: `line-${i}`,
      url: `https://shop.example/items/${i % 97}`,
      ...(i % 4 === 0
        ? { title: 'An item' }
        : {
            target: { selector: 'main > button', text: 'Buy' },
            x: i % 900,
            y: 40,
            rx: 0.5,
            ry: 0.5,
            effect: 'change',
          }),
    })
    const key = i.toString(16).padStart(32, '0')
    const more = [
      lines.write(`${line}\n`),
      tables[Math.floor(i / PART)]!.write(`${visitor}\t${1_700_000_000_000 + i}\tclick\t${key}\t${line}\n`),
    ]
    if (more[0] === false) await once(lines, 'drain')
    if (more[1] === false) await once(tables[Math.floor(i / PART)]!, 'drain')
  }
  await Promise.all([lines, ...tables].map((stream) => new Promise((resolve) => stream.end(resolve))))
}

function importOnce(url: string, file: string): Promise<{ rate: number; peakMb: number }> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, ['--import', 'tsx', CHILD, url, file], {
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    let out = ''
    child.stdout.on('data', (data: Buffer) => (out += data.toString()))
    child.on('exit', (code) =>
      code === 0
        ? resolve(JSON.parse(out) as { rate: number; peakMb: number })
        : reject(new Error('the import failed')),
    )
  })
}

async function loadData(url: string, rows: readonly string[]): Promise<number> {
  const connection = await mariadb(url)
  await connection.query('DROP TABLE IF EXISTS loaded')
  await connection.query('CREATE TABLE loaded LIKE events')
  const start = performance.now()
  for (const part of rows)
    await connection.query(
      'LOAD DATA LOCAL INFILE ? INTO TABLE loaded (session_id, t, kind, @k, body) SET line_key = UNHEX(MD5(@k))',
      [part],
    )
  const rate = LINES / ((performance.now() - start) / 1000)
  const [{ n }] = await connection.query<[{ n: bigint }]>('SELECT COUNT(*) AS n FROM loaded')
  if (Number(n) !== LINES) throw new Error(`LOAD DATA wrote ${n} rows of ${LINES}`)
  await connection.end()
  return rate
}
