import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { answer } from '../../columns/scan.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { visitorWays } from '../../select/chains/visitor-ways.ts'
import type { FunnelOptions } from '../../select/grammar/funnel-options.ts'
import { DEFAULT_OPTIONS } from '../../select/grammar/funnel-options.ts'
import type { Step } from '../../select/grammar/steps.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { about, answerTo, blockOf, namesOf, PAGES, rowsOf, worlds } from '../../testing/world.ts'
import { between, MISSING_SHARE } from './between.ts'

const steps: Step[] = ['/a', '/b'].map((page) => ({ type: 'page', page }))

const ask = (parts: Line[][][], per: FunnelOptions['per'] = 'session') => {
  const dictionaries = new Dictionaries()
  let id = 0
  const blocks = parts.map((part) => {
    const rows = rowsOf([...Array<Line[]>(id).fill([]), ...part]).slice(id)
    id += part.length
    return buildBlock(rows, dictionaries)
  })
  const names = namesOf(dictionaries)
  const selected = blocks.map((block) => ({ block, sessions: SessionSet.all(block.sessions.count) }))
  const asked = { steps, options: { ...DEFAULT_OPTIONS, per } }
  const context = about(names)
  const ways = per === 'visitor' ? answer(visitorWays, selected, { ...asked, ...context }) : undefined
  return answerTo(between, selected, { ...asked, ...(ways && { ways }) }, context)
}

/** One session after the other, so that none overlap. */
const spaced = (world: Line[][]): Line[][] =>
  world.map((lines, s) => lines.map((line) => ({ ...line, t: line.t + s * 1_000_000 })))

/** The obvious way: one who is followed, as sessions in order of time. */
function told(sessions: readonly Line[][]) {
  const lines = sessions.flatMap((own, session) => own.map((line) => ({ line, session })))
  const views = lines.map((one, i) => ({ ...one, i })).filter(({ line }) => line.kind === 'page')
  const a = views.find(({ line }) => line.url === '/a')
  const b = a && views.find(({ line, i }) => line.url === '/b' && i > a.i)
  const at = b ? a : views.findLast(({ line }) => line.url === '/a')
  const elsewhere =
    at && views.find((one) => one.session === at.session && one.i > at.i && one.line.url !== '/a')
  const until = Math.min(elsewhere?.line.t ?? Infinity, b?.line.t ?? Infinity)
  const erred =
    at &&
    lines.some(
      ({ session, line: { kind, t } }) =>
        session === at.session && kind === 'error' && t >= at.line.t && t < until,
    )
  const seen = new Set(a && b ? views.filter(({ i }) => i > a.i && i < b.i).map(({ line }) => line.url!) : [])
  return { entered: !!a, continued: !!b, erred: !!erred, seen }
}

describe('between', () => {
  it('proposes the pages that most continuers see on the way, and counts errors of lost and continuers at the step', () => {
    fc.assert(
      fc.property(
        worlds,
        fc.constantFrom('session' as const, 'visitor' as const),
        fc.nat(12),
        (random, per, cut) => {
          const world = spaced(random)
          const at = cut % (world.length + 1)
          const [first] = ask(per === 'session' ? [world] : [world.slice(0, at), world.slice(at)], per)
          const units =
            per === 'session'
              ? world.map((lines) => [lines])
              : [0, 1, 2].map((v) => world.filter((_, s) => s % 3 === v))
          const all = units.map(told)
          const continuers = all.filter(({ continued }) => continued)
          const lost = all.filter(({ entered, continued }) => entered && !continued)
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
        },
      ),
      { numRuns: 800 },
    )
  })
  it('must be told the ways of visitors', () => {
    const { block, names } = blockOf([])
    const options = { ...DEFAULT_OPTIONS, per: 'visitor' as const }
    const sessions = SessionSet.all(block.sessions.count)
    expect(() => between.scan(block, sessions, { steps, options, ...about(names) })).toThrow(RangeError)
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
