// npm run import -- --site KEY FILE…: brings files into a running Dust Trail. Plain Node, no dependency.
import { createReadStream, existsSync, statSync } from 'node:fs'
import { basename } from 'node:path'
import { Readable } from 'node:stream'
import { parseArgs } from 'node:util'

const USAGE = `npm run import -- --site KEY [--kind clickstream|csv|log] [--mapping JSON] FILE…

Clickstream (NDJSON), CSV with a header, or a web server's log in the combined format; each may be gzipped.
DUST_TRAIL_TOKEN is the token of an editor, where people sign in (Setup, Tokens for programs).
--mapping names for each field of the clickstream the column of a foreign CSV that holds it, such as
  '{"columns":{"visitor":"user_id","t":"time","url":"page"},"constants":{"kind":"page"}}'
Ctrl-C stops an import after the piece it is writing; giving the same file again adds only what is missing.`

const base = `http://${process.env.HOST ?? '127.0.0.1'}:${process.env.PORT ?? 4180}/api/v1`
const POLL_MS = 400
const PATIENCE_MS = 60_000
/** whether the server has answered once */
let reached = false

let options
try {
  options = parseArgs({
    allowPositionals: true,
    options: {
      site: { type: 'string' },
      kind: { type: 'string' },
      mapping: { type: 'string' },
      help: { type: 'boolean' },
    },
  })
} catch (error) {
  quit(`${error.message}\n\n${USAGE}`)
}
const { values, positionals: files } = options
if (values.help || !values.site || !files.length) quit(USAGE)
for (const file of files)
  if (!existsSync(file) || !statSync(file).isFile()) quit(`There is no file "${file}".`)

let running
let stopped = false
process.on('SIGINT', () => {
  stopped = true
  if (running)
    void ask(`/sites/${values.site}/imports/${running}/stop`, () => ({
      method: 'POST',
      body: '{}',
      headers: { 'content-type': 'application/json' },
    }))
})

let good = true
for (const file of files) {
  if (stopped) break
  good = (await bring(file)) && good
}
process.exitCode = good ? 0 : 1

async function bring(file) {
  const query = new URLSearchParams({ name: basename(file) })
  if (values.kind) query.set('kind', values.kind)
  if (values.mapping) query.set('mapping', values.mapping)
  process.stdout.write(`${file}: sending …`)
  let state = await ask(`/sites/${values.site}/imports?${query}`, () => ({
    method: 'POST',
    body: Readable.toWeb(createReadStream(file)),
    duplex: 'half',
    headers: { 'content-type': 'application/octet-stream' },
  }))
  running = state.id
  while (state.state === 'running') {
    await new Promise((resolve) => setTimeout(resolve, POLL_MS))
    state = await ask(`/sites/${values.site}/imports/${state.id}`)
    process.stdout.write(`\r\u001b[K${file}: ${progressText(state)}`)
  }
  running = undefined
  const { progress } = state
  const skipped = Object.entries(progress.skipped).map(([reason, n]) => `, left out ${n} (${reason})`)
  console.log(
    `\r\u001b[K${file}: ${state.state}. ${progress.lines} lines: ${progress.good} written, ${progress.repeated} there already, ${progress.bad} bad${skipped.join('')}.`,
  )
  if (state.message) console.log(`  ${state.message}`)
  for (const { line, field, reason } of state.problems)
    console.log(`  line ${line}: ${field ? `${field} ` : ''}${reason}`)
  if (progress.bad > state.problems.length)
    console.log(`  all of them: ${base}/sites/${values.site}/imports/${state.id}/problems.ndjson`)
  return state.state === 'done'
}

function progressText({ progress, startedMs }) {
  const seconds = Math.max(0.001, (Date.now() - startedMs) / 1000)
  const share = progress.totalBytes ? progress.bytes / progress.totalBytes : 0
  const left = share > 0.01 ? `, ${Math.ceil((seconds / share) * (1 - share))} s left` : ''
  return `${Math.floor(share * 100)} %, ${Math.round(progress.lines / seconds)} lines a second${left}`
}

/**
 * Asks the server; while it is away, as when it is started again, it is asked once more, for a minute.
 *
 * @param options  makes what is sent, anew for each try
 */
async function ask(path, options = () => undefined) {
  const untilMs = Date.now() + PATIENCE_MS
  for (;;) {
    let why
    try {
      const response = await fetch(base + path, withToken(options()))
      const answer = await response.json()
      reached = true
      if (response.ok) return answer
      if (response.status !== 503) quit(`\n${answer.detail} ${answer.hint}`)
      why = answer.detail
    } catch (error) {
      why = error.cause?.code ?? error.message
    }
    // One that never was there is not waited for.
    if (!reached || Date.now() > untilMs)
      quit(
        `\nDust Trail cannot be reached at ${base} (${why}). Start it with npm start; HOST and PORT say where it is. Giving the file again adds only what is missing.`,
      )
    process.stdout.write(`\r\u001b[KWaiting for the server (${why}) …`)
    await new Promise((resolve) => setTimeout(resolve, 1000))
  }
}

/** Where people sign in a program shows its token. */
function withToken(options = {}) {
  const token = process.env.DUST_TRAIL_TOKEN
  return token ? { ...options, headers: { ...options.headers, authorization: `Bearer ${token}` } } : options
}

function quit(message) {
  console.error(message)
  process.exit(1)
}
