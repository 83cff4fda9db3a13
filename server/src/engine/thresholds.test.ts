import { pathToFileURL } from 'node:url'
import type { Line, SessionRow, SignalThresholds } from '@dust-trail/core'
import {
  buildDenseBlock,
  decodeColumns,
  Dictionaries,
  encodeBlock,
  friction,
  signalPreview,
  THRESHOLDS,
  withSignals,
} from '@dust-trail/core'
import { afterAll, describe, expect, it } from 'vitest'
import { SiteEngine } from './site-engine.ts'
import type { Threads } from './threads.ts'
import { startThreads } from './threads.ts'

const DAY = Date.UTC(2026, 5, 1, 12)
const lens = { from: '2026-06-01', to: '2026-06-01', devices: [] }

/** A session with one page that took so long. */
const row = (id: number, load: number): SessionRow => ({
  id,
  visitor: `v${id}`,
  returning: false,
  device: { class: 'desktop' },
  channel: 'Direct',
  lines: [{ visitor: `v${id}`, t: DAY + id, kind: 'page', url: '/a', load } satisfies Line],
})
const shared = (bytes: number) => new SharedArrayBuffer(bytes)

describe('thresholds of a site', () => {
  const threads = startThreads(pathToFileURL('dist/engine-worker.mjs'), 2)
  afterAll(() => threads.close())

  const cases: [string, Threads | undefined][] = [
    ['threads', threads],
    ['one thread', undefined],
  ]
  it.each(cases)('hold for the past at once, wherever sessions lie: %s', async (name, own) => {
    let thresholds: SignalThresholds = THRESHOLDS
    const rules: never[] = []
    const source = { key: `slow ${name}`, rules: () => rules, timeZone: () => 'UTC', answers: 10 }
    const stored = Array.from({ length: 3 }, (_, k) => {
      const dictionaries = new Dictionaries()
      return encodeBlock(
        buildDenseBlock([row(10 * k, 3000), row(10 * k + 1, 5000)], dictionaries),
        dictionaries,
      )
    })
    const fetch = (id: number) => Promise.resolve(stored[id])
    const site = new SiteEngine({ ...source, fetch, thresholds: () => thresholds }, own)
    const read = (k: number) =>
      withSignals(decodeColumns(stored[k]!, site.dictionaries, shared), thresholds, shared)
    site.addPacked(read(0), [], { stored: 0 })
    // This one does not fit into memory.
    site.addPacked(read(1), [], { stored: 1, inMemory: false })
    site.replace([row(100, 3000), row(101, 5000)], [], Date.now())
    const slow = async () => {
      const { spots } = await site.ask(friction, lens, {})
      return spots.map(({ kind, met }) => `${kind} ${met.hits} of ${met.base}`)
    }
    expect(await slow()).toEqual(['slow page 3 of 6'])
    const preview = await site.ask(signalPreview, lens, {
      kind: 'slow page',
      thresholds: { slowMs: 2000 },
    })
    expect(preview).toMatchObject({
      now: { signals: 3, sessions: 3 },
      then: { signals: 6, sessions: 6 },
    })
    expect(preview.examples.map(({ change }) => change)).toEqual(['found', 'found', 'found'])
    // A block that was being read while the thresholds changed has signals of before.
    const late = read(2)
    const before = thresholds
    thresholds = { ...THRESHOLDS, slowMs: 2000 }
    site.addPacked(late, [], { stored: 2, thresholds: before })
    expect(await Promise.all([slow(), slow()])).toEqual([['slow page 8 of 8'], ['slow page 8 of 8']])
    const { block, session } = (await site.find('0'))!
    expect(block.sessions.firstSignal[session + 1]! - block.sessions.firstSignal[session]!).toBe(1)
    thresholds = { ...THRESHOLDS, slowMs: 6000 }
    expect(await slow()).toEqual([])
  })
})
