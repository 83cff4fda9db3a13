// npm run account -- --email you@example.org --name "Your Name": makes an account that owns every site. Plain Node.
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { ensureBuilt } from './lib/build.mjs'
import { quitWith, withDatabase } from './lib/database.mjs'
import { ROOT } from './lib/run.mjs'

try {
  await ensureBuilt()
  await withDatabase(
    (url) =>
      new Promise((settle, fail) => {
        const child = spawn(process.execPath, [join(ROOT, 'dist/account.mjs'), ...process.argv.slice(2)], {
          env: { ...process.env, DATABASE_URL: url },
          stdio: 'inherit',
        })
        child.on('error', fail)
        child.on('exit', (code) => {
          process.exitCode = code ?? 1
          settle()
        })
      }),
  )
} catch (error) {
  quitWith(error)
}
