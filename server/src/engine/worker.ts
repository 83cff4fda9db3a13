/** A thread of the engine: knows the blocks of all sites, in memory it shares with the server, and scans those it is told. */
import { parentPort } from 'node:worker_threads'
import { SharedSites } from './shared-sites.ts'
import type { ThreadAnswer, ThreadMessage } from './threads.ts'

const port = parentPort!
const sites = new SharedSites()

port.on('message', (message: ThreadMessage) => {
  if (message.type !== 'ask') {
    sites.take(message)
    return
  }
  const { ask, stop } = message
  const flag = new Int32Array(stop)
  let answer: ThreadAnswer
  try {
    answer = { ask, partial: sites.scan(message, () => Atomics.load(flag, 0) === 1) }
  } catch (error) {
    answer = { ask, error: error instanceof Error ? error.message : String(error) }
  }
  port.postMessage(answer)
})
