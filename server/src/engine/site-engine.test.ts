import type { Line, SessionRow } from '@dust-trail/core'
import { funnel } from '@dust-trail/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SiteEngine } from './site-engine.ts'

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
const engine = () =>
  new SiteEngine(
    () => [],
    () => 'UTC',
    () => 30 * 60_000,
  )
const ask = (site: SiteEngine) => site.ask(funnel, lens, { steps, names: site.names() })

const paths = fc.array(fc.constantFrom('/a', '/b', '/c'), { minLength: 1, maxLength: 4 })
const change = fc.record({ id: fc.nat(5), paths, gone: fc.boolean() })

describe('SiteEngine', () => {
  it('answers after any changes as if it had been built from what stands now', () => {
    fc.assert(
      fc.property(
        fc.array(paths, { maxLength: 6 }),
        fc.array(change, { maxLength: 12 }),
        (first, changes) => {
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
          expect(ask(live)).toEqual(ask(fresh))
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

  it('packs what has ended when the tail grows long, and loses nothing by it', () => {
    const site = engine()
    for (let id = 0; id < 2500; id++) site.replace([row(id, ['/a', '/b'])], [], NOW + 3_600_000)
    expect(site.extent()).toMatchObject({ sessions: 2500, firstMs: NOW })
    expect(ask(site).converted).toBe(2500)
    expect(site.find('0')).toBeDefined()
  })

  it('has something to answer with where there is nothing', () => {
    expect(ask(engine()).entered).toBe(0)
    expect(engine().extent()).toBeUndefined()
  })
})
