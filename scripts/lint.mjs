// npm run lint: ESLint, then the rules for imports (.dependency-cruiser.mjs). Plain Node, no dependency.
import { run } from './lib/run.mjs'

const WORKSPACES = ['core', 'api', 'capture', 'replay', 'server', 'web', 'demo', 'bench', 'e2e']
const CHECKS = [
  ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0'],
  [
    'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
    ...['--config', '.dependency-cruiser.mjs', '--progress', 'none'],
    ...WORKSPACES,
  ],
]
for (const check of CHECKS) process.exitCode ||= await run(process.execPath, check)
