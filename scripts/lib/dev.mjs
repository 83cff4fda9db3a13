// What npm run dev runs: a server that starts again with every change, and Vite in front of it. Plain Node.
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { watchBuild } from './build.mjs'
import { ROOT } from './run.mjs'
import { startProgram } from './service.mjs'

/** Resolves to { exited, stop } once the first server is ready; the web application is served at the port given. */
export async function startChanging(env, { port, host, server }) {
  let current
  let turn = Promise.resolve()
  let ready
  const isReady = new Promise((resolve) => (ready = resolve))
  const restart = async () => {
    await current?.stop()
    current = undefined
    try {
      current = await startProgram('server.mjs', env)
      console.log(`${new Date().toLocaleTimeString()} the server runs`)
    } catch (error) {
      console.error(error.message)
    }
    ready()
  }
  const watching = await watchBuild(() => (turn = turn.then(restart)))
  await isReady
  const vite = spawn(
    process.execPath,
    [join(ROOT, 'node_modules/vite/bin/vite.js'), '--port', String(port), '--host', host, '--strictPort'],
    {
      cwd: join(ROOT, 'web'),
      env: { ...process.env, DEV_SERVER: server },
      stdio: ['ignore', 'ignore', 'inherit'],
    },
  )
  const exited = new Promise((resolve) => vite.on('exit', resolve))
  return {
    exited,
    stop: async () => {
      await watching.stop()
      vite.kill('SIGTERM')
      await turn
      await current?.stop()
      await exited
    },
  }
}
