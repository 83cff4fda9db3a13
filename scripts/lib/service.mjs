// The parts that run: database, demo, stand-in site, server. Used by start and by the tests. Plain Node.
import { fork, spawn } from 'node:child_process'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { Stop } from './install.mjs'
import { keepRunning } from './keep-running.mjs'
import { ROOT } from './run.mjs'

const STOP_MS = 8000

/** Throws where somebody else listens on the port. */
export function checkPort(port, host, variable) {
  return new Promise((resolve, reject) => {
    const server = createServer()
    server.on('error', (error) =>
      reject(
        new Stop(
          error.code === 'EADDRINUSE'
            ? `Port ${port} is taken by another program. Stop it, or start with ${variable}=<another port>.`
            : `Cannot listen on ${host}:${port}: ${error.message}`,
        ),
      ),
    )
    server.listen(port, host, () => server.close(resolve))
  })
}

/** Loads the demo into an empty database. */
export function loadDemo(env, quiet = false) {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [join(ROOT, 'dist/load-demo.mjs')], {
      cwd: ROOT,
      env: { ...process.env, ...env },
      stdio: ['ignore', quiet ? 'ignore' : 'inherit', 'inherit'],
    })
    child.on('error', reject)
    child.on('exit', (code) =>
      code === 0 ? resolve() : reject(new Stop('The demo could not be loaded: see above.')),
    )
  })
}

/**
 * Starts a built program that reports when it is ready; one that ends unexpectedly afterwards is started again. Resolves
 * to { child, exited, stop, loaded }.
 */
export function startProgram(file, env) {
  return new Promise((resolve, reject) => {
    const launch = () =>
      fork(join(ROOT, 'dist', file), { cwd: ROOT, env: { ...process.env, ...env }, detached: true })
    const part = keepRunning(launch, () => console.error(`${file} had ended and was started again.`))
    const { child, exited } = part
    const stop = () => part.stop(STOP_MS)
    const loaded = new Promise((settle) =>
      child.on('message', (message) => message?.type === 'loaded' && settle()),
    )
    child.on('message', (message) => {
      if (message?.type === 'ready') {
        part.isReady()
        resolve({ child, exited, stop, loaded })
      }
      if (message?.type === 'failed') reject(new Stop(`${file} cannot start: ${message.message}`))
    })
    void exited.then((code) =>
      reject(new Stop(`${file} ended before it was ready (code ${code}): see above.`)),
    )
  })
}
