// npm run types: everything, then core alone without the types of browsers and Node.js. Plain Node, no dependency.
import { run } from './lib/run.mjs'

// TypeScript 7 by its path: TypeScript 6 is installed beside it, for ESLint and the rules for imports, which need its API.
const TSC = 'node_modules/typescript-7/bin/tsc'
for (const project of ['tsconfig.json', 'core/tsconfig.json'])
  process.exitCode ||= await run(process.execPath, [TSC, '--noEmit', '-p', project])
