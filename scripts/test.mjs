// npm test: every check there is, one after another; ends with "N passed, N failed". Plain Node, no dependency.
// npm test -- unit e2e                  runs only those named
// npm test -- unit core/src/select      runs only the tests whose paths begin so
import { closeSync, existsSync, mkdtempSync, openSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensureBuilt } from './lib/build.mjs'
import {
  checkNode,
  CHROMIUM,
  ensurePackages,
  ensurePrograms,
  findProgram,
  MARIADB,
  NGINX,
  OPENSSL,
  Stop,
} from './lib/install.mjs'
import { freePort, startMariadb } from './lib/mariadb.mjs'
import { ROOT, run } from './lib/run.mjs'
import { loadDemo, startProgram } from './lib/service.mjs'

const folder = mkdtempSync(join(tmpdir(), 'dust-trail-test-'))
const running = []
let passed = 0
let failed = 0
/** What failed, said once more at the end: between hundreds of lines it is not found. */
const failures = []
let database

/** What is said of the code without running it. */
const OF_CODE = {
  format: ['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.'],
  lint: ['scripts/lint.mjs'],
  types: ['scripts/types.mjs'],
}
const CHECKS = [...Object.keys(OF_CODE), 'unit', 'e2e']

/** Only these tests of unit and e2e. */
const paths = process.argv.slice(2).filter((name) => !CHECKS.includes(name))

for (const [signal, code] of [
  ['SIGINT', 130],
  ['SIGTERM', 143],
])
  process.on(signal, async () => {
    await cleanUp()
    process.exit(code)
  })

try {
  checkNode()
  const chosen = process.argv.slice(2).filter((name) => CHECKS.includes(name))
  const unknown = paths.find((path) => !existsSync(join(ROOT, path)))
  if (unknown)
    throw new Stop(
      `There is no check "${unknown}", and no such file or folder. Checks: ${CHECKS.join(', ')}.`,
    )
  if (paths.length && !chosen.some((name) => name === 'unit' || name === 'e2e'))
    throw new Stop('Paths go with the checks that take them: npm test -- unit core/src/select.')
  ensurePrograms([MARIADB, CHROMIUM, NGINX, OPENSSL])
  await ensurePackages()
  await ensureBuilt()
  const wanted = (name) => !chosen.length || chosen.includes(name)
  // Each keeps one core busy, and much of the unit tests another.
  await Promise.all([checkCode(Object.keys(OF_CODE).filter(wanted)), wanted('unit') && unit()])
  if (wanted('e2e')) await e2e()
} catch (error) {
  console.error(error instanceof Stop ? error.message : error)
  failed++
}
await cleanUp()
for (const failure of failures) console.log(`\nfailed: ${failure}`)
console.log(`\n${passed} passed, ${failed} failed`)
process.exitCode = failed ? 1 : 0

/** One after another; what each prints is shown when it has ended, whatever else is running. */
async function checkCode(names) {
  for (const name of names) {
    const printed = join(folder, `${name}.txt`)
    const out = openSync(printed, 'w')
    const code = await run(process.execPath, OF_CODE[name], { stdio: ['ignore', out, out] })
    closeSync(out)
    console.log(`\n— ${name}\n${readFileSync(printed, 'utf8')}${code === 0 ? 'ok' : `${name} failed`}`)
    if (code === 0) passed++
    else {
      failed++
      failures.push(`${name}\n${readFileSync(printed, 'utf8').slice(-4000)}`)
    }
  }
}

async function unit() {
  console.log('\n— unit and server')
  const database = await startDatabase()
  const report = join(folder, 'unit.json')
  const code = await run(
    process.execPath,
    [
      'node_modules/vitest/vitest.mjs',
      'run',
      ...paths,
      '--reporter=dot',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    { env: { ...process.env, TEST_DATABASE_URL: database.url } },
  )
  const { numPassedTests, numFailedTests, numFailedTestSuites, testResults } = JSON.parse(
    readFileSync(report, 'utf8'),
  )
  passed += numPassedTests
  const before = failures.length
  for (const file of testResults.filter(({ status }) => status === 'failed')) {
    const tests = file.assertionResults.filter(({ status }) => status === 'failed')
    if (!tests.length) failures.push(`${file.name}\n${file.message}`)
    for (const test of tests)
      failures.push(`${file.name} › ${test.fullName}\n${test.failureMessages.join('\n').slice(0, 4000)}`)
  }
  if (code !== 0 && failures.length === before)
    failures.push('the unit tests ended with an error that belongs to none of them: see above')
  // A file that cannot even be loaded has no failed test of its own.
  failed += numFailedTests || (code === 0 ? 0 : Math.max(1, numFailedTestSuites))
}

async function e2e() {
  console.log('\n— end to end')
  const database = await startDatabase()
  const [port, sitePort] = [await freePort(), await freePort()]
  const env = {
    DATABASE_URL: database.url,
    HOST: '127.0.0.1',
    PORT: String(port),
    SITE_PORT: String(sitePort),
    CAPTURE_ORIGIN: `http://127.0.0.1:${port}`,
  }
  // Tasks begin at an empty table.
  await loadDemo({ ...env, DEMO_WORK: '0' }, true)
  const server = await startProgram('server.mjs', env)
  running.push(server)
  await server.loaded
  running.push(await startProgram('site.mjs', env))
  const report = join(folder, 'e2e.json')
  const code = await run(process.execPath, ['node_modules/@playwright/test/cli.js', 'test', ...paths], {
    env: {
      ...process.env,
      BASE_URL: `http://127.0.0.1:${port}`,
      SITE_URL: `http://127.0.0.1:${sitePort}`,
      TEST_DATABASE_URL: database.url,
      CHROMIUM: findProgram('chromium'),
      PLAYWRIGHT_JSON_OUTPUT_FILE: report,
    },
  })
  const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'))
  for (const spec of specsOf(suites).filter(({ ok }) => !ok)) failures.push(`${spec.file} › ${spec.title}`)
  passed += stats.expected + stats.flaky
  failed += stats.unexpected + (code !== 0 && !stats.unexpected ? 1 : 0)
}

function specsOf(suites = []) {
  return suites.flatMap((suite) => [...suite.specs, ...specsOf(suite.suites)])
}

function startDatabase() {
  database ??= startMariadb(folder).then((started) => {
    running.push(started)
    return started
  })
  return database
}

async function cleanUp() {
  for (const part of running.splice(0).reverse()) await part.stop()
  rmSync(folder, { recursive: true, force: true })
}
