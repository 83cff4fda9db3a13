// npm run truth: hands over to demo/src/truth.ts.
import { ensurePackages } from './lib/install.mjs'
import { run } from './lib/run.mjs'

await ensurePackages()
process.exitCode = await run(process.execPath, [
  '--import',
  'tsx',
  'demo/src/truth.ts',
  ...process.argv.slice(2),
])
