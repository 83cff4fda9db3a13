import { Worker } from 'node:worker_threads'
import { describe, expect, it } from 'vitest'
import { agreedCuts, bytesOfCuts } from './cuts.ts'

describe('agreedCuts', () => {
  it('gives all what the first proposes', () => {
    const memory = new SharedArrayBuffer(bytesOfCuts(3))
    expect(agreedCuts(memory, () => [2 ** 40, 2 ** 41])).toEqual([2 ** 40, 2 ** 41])
    expect(agreedCuts(memory, () => [1, 2])).toEqual([2 ** 40, 2 ** 41])
  })
  it('gives all nothing where the first proposes nothing, or fails', () => {
    const none = new SharedArrayBuffer(bytesOfCuts(2))
    expect(agreedCuts(none, () => undefined)).toBeUndefined()
    expect(agreedCuts(none, () => [1])).toBeUndefined()
    const failed = new SharedArrayBuffer(bytesOfCuts(2))
    const fail = () => {
      throw new Error('no cuts')
    }
    expect(() => agreedCuts(failed, fail)).toThrow('no cuts')
    expect(agreedCuts(failed, () => [1])).toBeUndefined()
  })
  it('lets the others wait while the first makes up its mind', async () => {
    const memory = new SharedArrayBuffer(bytesOfCuts(2))
    // Another thread says so once it waits, and is told by what happens here.
    const waiter = new Worker(
      `const { parentPort, workerData } = require('node:worker_threads')
       const state = new Int32Array(workerData, 0, 1)
       while (Atomics.load(state, 0) === 0);
       Atomics.wait(state, 0, 1)
       parentPort.postMessage(Array.from(new Float64Array(workerData, 8)))`,
      { eval: true, workerData: memory },
    )
    const told = new Promise((resolve) => waiter.once('message', resolve))
    await new Promise((resolve) => waiter.once('online', resolve))
    agreedCuts(memory, () => {
      const until = Date.now() + 50
      while (Date.now() < until);
      return [7]
    })
    expect(await told).toEqual([7])
    await waiter.terminate()
  })
})
