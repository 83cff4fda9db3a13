import type { Line, SessionRow } from '@dust-trail/core'
import { distributionOptionsSchema, pathNodes, pathOptionsSchema } from '@dust-trail/core'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { SiteEngine } from './site-engine.ts'
import type { Threads } from './threads.ts'
import { startThreads } from './threads.ts'

const NOW = Date.UTC(2026, 5, 1, 12)
const lens = { from: '2026-05-01', to: '2026-06-30', devices: [] }
const steps = ['/a', '/b'].map((page) => ({ type: 'page' as const, page }))

const row = (id: number, paths: readonly string[]): SessionRow => ({
  id,
  visitor: `v${id}`,
  returning: false,
  device: { class: 'desktop' },
  channel: 'Direct',
  lines: paths.map((url, i): Line => ({ visitor: `v${id}`, t: NOW + i * 1000, kind: 'page', url })),
})
const source = (key: string) => ({
  key,
  rules: () => [],
  timeZone: () => 'UTC',
  limitMs: () => 30 * 60_000,
})
const engine = (threads?: Threads) => new SiteEngine(source(`site-${made++}`), threads)
let made = 0
const ask = (site: SiteEngine) => site.ask('funnel', lens, { steps })

const paths = fc.array(fc.constantFrom('/a', '/b', '/c'), { minLength: 1, maxLength: 4 })
const change = fc.record({ id: fc.nat(5), paths, gone: fc.boolean() })

describe('SiteEngine', () => {
  it('answers after any changes as if it had been built from what stands now', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(paths, { maxLength: 6 }),
        fc.array(change, { maxLength: 12 }),
        async (first, changes) => {
          const live = engine()
          const now = new Map(first.map((own, id) => [id, row(id, own)]))
          live.addBlock([...now.values()])
          for (const { id, paths: own, gone } of changes) {
            if (gone) now.delete(id)
            else now.set(id, row(id, own))
            live.replace(gone ? [] : [row(id, own)], gone ? [id] : [], NOW)
          }
          const fresh = engine()
          fresh.addBlock([...now.values()])
          expect(await ask(live)).toEqual(await ask(fresh))
          expect(live.extent()).toEqual(fresh.extent())
          for (let id = 0; id < 6; id++) {
            const place = live.find(String(id))
            expect(place && place.block.sessions.id[place.session]).toBe(now.has(id) ? id : undefined)
          }
        },
      ),
      { numRuns: 200 },
    )
  })

  it('packs what has ended when the tail grows long, and loses nothing by it', async () => {
    const site = engine()
    for (let id = 0; id < 2500; id++) site.replace([row(id, ['/a', '/b'])], [], NOW + 3_600_000)
    expect(site.extent()).toMatchObject({ sessions: 2500, firstMs: NOW })
    expect((await ask(site)).converted).toBe(2500)
    expect(site.find('0')).toBeDefined()
  })

  it('has something to answer with where there is nothing', async () => {
    expect((await ask(engine())).entered).toBe(0)
    expect(engine().extent()).toBeUndefined()
  })
})

describe('threads', () => {
  let threads: Threads
  beforeAll(() => {
    threads = startThreads(new URL('../../../dist/engine-worker.mjs', import.meta.url), 2)
  })
  afterAll(() => threads.close())

  it('say together what one alone says, whatever changes in between', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(paths, { minLength: 1, maxLength: 5 }), { maxLength: 4 }),
        fc.array(change, { maxLength: 8 }),
        async (blocks, changes) => {
          const [alone, together] = [engine(), engine(threads)]
          let id = 0
          for (const block of blocks) {
            const rows = block.map((own) => row(id++, own))
            for (const one of [alone, together]) one.addBlock(rows)
          }
          for (const { id: changed, paths: own, gone } of changes) {
            for (const one of [alone, together])
              one.replace(gone ? [] : [row(changed, own)], gone ? [changed] : [], NOW)
            const selection = { type: 'page', page: '/a' } as const
            for (const kernel of [
              'closeUp',
              'onwardPaths',
              'sessionIds',
              'distribution',
              'watchList',
            ] as const) {
              const spec = {
                selection,
                order: 'telling' as const,
                ...pathOptionsSchema.parse({}),
                most: 3,
                ...distributionOptionsSchema.parse({ measure: 'pages', by: 'entry page' }),
              }
              const [a, b] = [await together.ask(kernel, lens, spec), await alone.ask(kernel, lens, spec)]
              // Trees are told apart by what they say, not by who was met first.
              const read = (one: typeof a) => ('tree' in one ? pathNodes(one) : one)
              expect(read(a)).toEqual(read(b))
            }
            expect(await ask(together)).toEqual(await ask(alone))
          }
        },
      ),
      { numRuns: 40 },
    )
  })

  it('stop where nobody waits any more', async () => {
    const site = engine(threads)
    for (let b = 0; b < 20; b++) site.addBlock([row(b, ['/a', '/b'])])
    const gone = new AbortController()
    const answer = site.ask('funnel', lens, { steps }, gone.signal)
    gone.abort()
    await expect(answer).rejects.toThrow(/abort/i)
    expect((await ask(site)).converted).toBe(20)
  })

  it('pass on what goes wrong in them', async () => {
    const site = engine(threads)
    site.addBlock([row(1, ['/a'])])
    const broken = { selection: { type: 'no such' } } as never
    await expect(site.ask('closeUp', lens, broken)).rejects.toThrow()
  })
})
