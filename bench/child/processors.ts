/** What a second thread is worth on this machine when it has nothing to share: twice as much, or less. */
import { once } from 'node:events'
import { Worker } from 'node:worker_threads'

const LOOP = `
const { parentPort } = require('node:worker_threads')
parentPort.on('message', (turns) => {
  let state = 1
  for (let i = 0; i < turns; i++) state = (Math.imul(state ^ i, 1664525) + 1013904223) | 0
  parentPort.postMessage(state)
})`
const TURNS = 60_000_000
const RUNS = 11

/** How many times as fast two threads are as one at a plain loop, medians of interleaved runs. */
export async function secondThread(): Promise<number> {
  const workers = [new Worker(LOOP, { eval: true }), new Worker(LOOP, { eval: true })]
  const run = async (count: number) => {
    const start = performance.now()
    const done = workers.slice(0, count).map((worker) => once(worker, 'message'))
    for (const worker of workers.slice(0, count)) worker.postMessage(TURNS / count)
    await Promise.all(done)
    return performance.now() - start
  }
  const times: [number[], number[]] = [[], []]
  for (let i = 0; i < RUNS + 2; i++)
    for (const count of [1, 2] as const) {
      const ms = await run(count)
      // The first ones are compiled on the way.
      if (i > 1) times[count - 1]!.push(ms)
    }
  await Promise.all(workers.map((worker) => worker.terminate()))
  const [one, two] = times.map((runs) => runs.sort((a, b) => a - b)[RUNS >> 1]!)
  return one! / two!
}
