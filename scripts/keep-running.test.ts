import { EventEmitter } from 'node:events'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
// @ts-expect-error a plain script without types
import { keepRunning } from './lib/keep-running.mjs'

class Child extends EventEmitter {
  exitCode: number | null = null
  signalCode: string | null = null
  kill(): void {
    this.end()
  }
  end(): void {
    this.exitCode = 1
    this.emit('exit', 1)
  }
}

let children: Child[]
const launch = () => {
  const child = new Child()
  children.push(child)
  return child
}
const start = keepRunning as (launch: () => Child) => {
  exited: Promise<number>
  isReady: () => void
  stop: (ms: number) => Promise<void>
}

beforeEach(() => {
  children = []
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
})

const last = () => children[children.length - 1]!
/** Lets the present process live so long, then end. */
const liveAndEnd = async (ms: number) => {
  await vi.advanceTimersByTimeAsync(ms)
  last().end()
  await vi.advanceTimersByTimeAsync(400)
}

it('is started again however often it is killed, as long as it lives in between', async () => {
  const part = start(launch)
  part.isReady()
  for (let n = 0; n < 12; n++) await liveAndEnd(3000)
  expect(children).toHaveLength(13)
  void part.stop(10)
  expect(await part.exited).toBe(1)
})

it('is given up where it ends again and again soon after its start, or before it was ready', async () => {
  const part = start(launch)
  part.isReady()
  for (let n = 0; n < 6; n++) await liveAndEnd(100)
  expect(await part.exited).toBe(1)
  expect(children).toHaveLength(6)
  const never = start(launch)
  last().end()
  expect(await never.exited).toBe(1)
})
