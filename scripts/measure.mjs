// Measures the stand-in site's pages anew; run it after changing them.
import { run } from './lib/run.mjs'
process.exitCode = await run(process.execPath, ['--import', 'tsx', 'demo/src/measure/measure.ts'])
