// npm run bench: installs what is missing, then hands over to bench/main.ts.
import { checkNode, CHROMIUM, ensurePackages, ensurePrograms, MARIADB, Stop } from './lib/install.mjs'
import { ensureBuilt } from './lib/build.mjs'
import { run } from './lib/run.mjs'

try {
  checkNode()
  ensurePrograms([MARIADB, CHROMIUM])
  await ensurePackages()
  await ensureBuilt()
  process.exitCode = await run(process.execPath, [
    '--import',
    'tsx',
    'bench/main.ts',
    ...process.argv.slice(2),
  ])
} catch (error) {
  console.error(error instanceof Stop ? error.message : error)
  process.exitCode = 1
}
