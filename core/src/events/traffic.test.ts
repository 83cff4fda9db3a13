import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../columns/session-set.ts'
import { lensSessions } from '../select/lens.ts'
import { buildBlock } from '../signals/blocks.ts'
import { Dictionaries } from '../columns/dictionaries.ts'
import { namesOf, rowsOf } from '../testing/world.ts'
import type { Line } from './line.ts'
import type { SessionClass, TrafficClass } from './traffic.ts'
import { trafficClass } from './traffic.ts'

const lines = (n: number, gapMs: number, more: Partial<Line> = {}): Line[] =>
  Array.from({ length: n }, (_, k) => ({
    ...{ visitor: 'v', t: k * gapMs, kind: 'page' as const, url: '/', tab: 't' },
    ...more,
  }))

// The limits are common practice, no source.
describe('trafficClass', () => {
  it('takes what says so for a robot', () => {
    expect(trafficClass(lines(1, 0, { robot: true }))).toBe('robot')
    expect(trafficClass(lines(1, 0))).toBeUndefined()
  })
  it('takes more than forty views or two hundred acts a second, over five seconds, for no person', () => {
    expect(trafficClass(lines(201, 25))).toBe('implausible')
    expect(trafficClass(lines(201, 26))).toBeUndefined()
    expect(trafficClass(lines(200, 1))).toBeUndefined()
    const click = { kind: 'click' as const, target: { selector: '#x' } }
    expect(trafficClass(lines(1001, 5, click))).toBe('implausible')
    expect(trafficClass(lines(1001, 6, click))).toBeUndefined()
    // The page says much by itself; that is not what a visitor does.
    expect(trafficClass(lines(3000, 1, { kind: 'request', path: '/x' }))).toBeUndefined()
  })
  it('leaves imports alone: they name no tab', () => {
    expect(trafficClass(lines(1000, 1, { tab: undefined }))).toBeUndefined()
  })
  it('finds what a count in every window of five seconds finds', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(52), { minLength: 190, maxLength: 260 }), (gaps) => {
        let t = 0
        const own = gaps.map((gap) => ({ ...lines(1, 0)[0]!, t: (t += gap) }))
        const most = Math.max(
          ...own.map(({ t: from }) => own.filter(({ t: at }) => at >= from && at <= from + 5000).length),
        )
        expect(trafficClass(own)).toBe(most > 200 ? 'implausible' : undefined)
      }),
    )
  })
})

describe('a lens', () => {
  const kinds: (TrafficClass | undefined)[] = [undefined, 'robot', undefined, 'implausible', 'robot']
  const dictionaries = new Dictionaries()
  const rows = rowsOf(kinds.map(() => [{ visitor: 'v', t: 1000, kind: 'page', url: '/' }]))
  const block = buildBlock(
    rows.map((row, k) => ({ ...row, traffic: kinds[k] })),
    dictionaries,
  )
  const through = (devices: SessionClass[]) => {
    const lens = { from: '1970-01-01', to: '1970-01-01', devices }
    const found: SessionSet = lensSessions(block, lens, 'UTC', namesOf(dictionaries))
    return [...found].map((s) => s)
  }
  it('leaves out what is no person’s, unless it is chosen', () => {
    expect(through([])).toEqual([0, 2])
    expect(through(['robot'])).toEqual([1, 4])
    expect(through(['implausible'])).toEqual([3])
    expect(through(['desktop', 'robot'])).toEqual([0, 1, 2, 4])
  })
})
