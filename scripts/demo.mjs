// npm run demo: hands over to demo/src/write.ts.
import { ensurePackages } from './lib/install.mjs'
import { run } from './lib/run.mjs'

await ensurePackages()
process.exitCode = await run(process.execPath, [
  '--import',
  'tsx',
  'demo/src/write.ts',
  ...process.argv.slice(2),
])
