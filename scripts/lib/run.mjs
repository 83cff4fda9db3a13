import { spawn } from 'node:child_process'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The project's folder. */
export const ROOT = join(dirname(fileURLToPath(import.meta.url)), '../..')

/** Runs a program in the project's folder with its output shown. Resolves to its exit code. */
export function run(program, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { cwd: ROOT, stdio: 'inherit', ...options })
    child.on('error', reject)
    child.on('exit', (code, signal) => resolve(signal ? 130 : code))
  })
}
