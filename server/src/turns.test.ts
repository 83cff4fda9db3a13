import { describe, expect, it } from 'vitest'
import { InTurn, turns } from './turns.ts'

/** Keeps the thread busy. */
function work(ms: number): void {
  const untilMs = performance.now() + ms
  while (performance.now() < untilMs);
}

describe('turns', () => {
  it('let what waits be done once work has gone on for long', async () => {
    const letOthers = turns()
    let waited = true
    setImmediate(() => (waited = false))
    await letOthers()
    expect(waited).toBe(true)
    work(12)
    await letOthers()
    expect(waited).toBe(false)
  })
})

describe('InTurn', () => {
  it('does all in order, whatever one of them throws, and lets others between', async () => {
    const inTurn = new InTurn()
    const done: string[] = []
    const all = Array.from({ length: 6 }, (_, k) =>
      inTurn
        .do(() => {
          work(6)
          if (k === 2) throw new Error('no good')
          done.push(String(k))
        })
        .catch(() => done.push('failed')),
    )
    setImmediate(() => done.push('another'))
    await Promise.all(all)
    expect(done.filter((one) => one !== 'another')).toEqual(['0', '1', 'failed', '3', '4', '5'])
    expect(done.indexOf('another')).toBeLessThan(4)
  })
  it('gives what the work gives', async () => {
    expect(await new InTurn().do(() => 7)).toBe(7)
  })
})
