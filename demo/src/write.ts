/**
 * npm run demo -- --out FILE.ndjson[.gz] [--sessions N] [--seed S] [--days D] [--end ISO] [--shuffle]
 * Writes simulated sessions as a clickstream, any number in bounded memory; recordings are not part of it.
 */
import { createWriteStream } from 'node:fs'
import { once } from 'node:events'
import { resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { createGzip } from 'node:zlib'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import { scenarioOf, simulateVisitors } from './simulator/simulate.ts'

const { values } = parseArgs({
  options: {
    out: { type: 'string' },
    sessions: { type: 'string', default: '12000' },
    seed: { type: 'string', default: '1' },
    days: { type: 'string', default: '60' },
    end: { type: 'string', default: '2026-06-15T00:00:00Z' },
    'no-recordings': { type: 'boolean', default: true },
    shuffle: { type: 'boolean', default: false },
  },
})
const endMs = Date.parse(values.end)
if (!values.out || Number.isNaN(endMs))
  throw new Error(
    'usage: npm run demo -- --out FILE.ndjson[.gz] [--sessions N] [--seed S] [--days D] [--end ISO time] [--shuffle]',
  )
const file = createWriteStream(values.out)
const out = values.out.endsWith('.gz') ? createGzip({ level: 4 }) : file
if (out !== file) out.pipe(file)

const world = {
  seed: Number(values.seed),
  sessions: Number(values.sessions),
  days: Number(values.days),
  endMs,
  scenario: scenarioOf(Number(values.seed), values.shuffle),
  recorded: false,
}
let sessions = 0
let lines = 0
for (const visitor of simulateVisitors(world, readLayouts(resolve(LAYOUTS_FILE)))) {
  let text = ''
  for (const session of visitor) {
    sessions++
    lines += session.lines.length
    for (const line of session.lines) text += `${JSON.stringify(line)}\n`
  }
  if (!out.write(text)) await once(out, 'drain')
  if (sessions % 10_000 < visitor.length)
    process.stderr.write(`\r${sessions} of ${world.sessions} sessions, ${lines} lines`)
}
out.end()
await once(file, 'finish')
process.stderr.write(`\r${sessions} sessions, ${lines} lines, written to ${values.out}\n`)
