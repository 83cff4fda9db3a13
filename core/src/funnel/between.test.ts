import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../events/dictionaries.ts'
import type { Line } from '../events/line.ts'
import { answer } from '../sets/analysis.ts'
import { SessionSet } from '../sets/session-set.ts'
import { blockOf, PAGES, worlds } from '../test-world.ts'
import { between, MISSING_SHARE } from './between.ts'
import type { Step } from './spec.ts'

const steps: Step[] = ['/a', '/b'].map((page) => ({ type: 'page', page }))

const ask = (parts: Line[][][]) => {
  const dictionaries = new Dictionaries()
  const blocks = parts.map((part) => blockOf(part, dictionaries))
  return answer(
    between,
    blocks.map(({ block }) => ({ block, sessions: SessionSet.all(block.sessions.count) })),
    { steps, names: blocks[blocks.length - 1]!.names },
  )
}

describe('between', () => {
  it('proposes the pages that most continuers see on the way, and counts errors of lost and continuers at the step', () => {
    fc.assert(
      fc.property(worlds, (world) => {
        const [first] = ask([world])
        const told = world.map((lines) => {
          const views = lines.map((line, i) => ({ line, i })).filter(({ line }) => line.kind === 'page')
          const a = views.find(({ line }) => line.url === '/a')
          const b = a && views.find(({ line, i }) => line.url === '/b' && i > a.i)
          const at = b ? a : views.findLast(({ line }) => line.url === '/a')
          const elsewhere = at && views.find(({ line, i }) => i > at.i && line.url !== '/a')
          const until = Math.min(elsewhere?.line.t ?? Infinity, b?.line.t ?? Infinity)
          const erred = at && lines.some(({ kind, t }) => kind === 'error' && t >= at.line.t && t < until)
          const seen = new Set(
            a && b ? views.filter(({ i }) => i > a.i && i < b.i).map(({ line }) => line.url!) : [],
          )
          return { entered: !!a, continued: !!b, erred: !!erred, seen }
        })
        const continuers = told.filter(({ continued }) => continued)
        const lost = told.filter(({ entered, continued }) => entered && !continued)
        expect(first!.continued).toBe(continuers.length)
        expect(first!.lost).toBe(lost.length)
        const missing = PAGES.filter((page) => page !== '/a' && page !== '/b')
          .map((page) => ({ page, hits: continuers.filter(({ seen }) => seen.has(page)).length }))
          .filter(({ hits }) => hits > 0 && hits / continuers.length >= MISSING_SHARE)
        expect(new Map(first!.missing.map(({ page, rate }) => [page, rate.hits]))).toEqual(
          new Map(missing.map(({ page, hits }) => [page, hits])),
        )
        const error = first!.causes.find(({ cause }) => cause === 'error')
        expect(error?.lost.hits ?? 0).toBe(lost.filter(({ erred }) => erred).length)
        expect(error?.continued.hits ?? 0).toBe(continuers.filter(({ erred }) => erred).length)
      }),
      { numRuns: 400 },
    )
  })
  it('gives the same over two blocks as over one', () => {
    fc.assert(
      fc.property(worlds, worlds, (a, b) => {
        expect(ask([a, b])).toEqual(ask([[...a, ...b]]))
      }),
      { numRuns: 100 },
    )
  })
})
