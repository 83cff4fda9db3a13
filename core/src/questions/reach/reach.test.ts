import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { casesOf } from '../../../checks/cases.ts'
import { Dictionaries } from '../../columns/dictionaries.ts'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { buildBlock } from '../../signals/blocks.ts'
import { about, answerTo, namesOf, rowsOf } from '../../testing/world.ts'
import { IDLE_MS } from '../../select/engaged-time.ts'
import { BANDS, reach } from './reach.ts'
import { unseen } from './unseen.ts'

const WINDOW_PX = 800
const PAGE_PX = 4000

const scrolled = (top: number) => ({
  kind: 'scroll' as const,
  top,
  depth: (top + WINDOW_PX) / PAGE_PX,
})
const button = { selector: '#buy', tag: 'button', text: 'Buy', interactive: true }
const heading = { selector: 'h1', tag: 'h1', text: 'Seats' }

const sessionOf = (events: readonly (readonly [number, Partial<Line>])[]): Line[] => {
  let t = 0
  return [
    { visitor: 'v', t, kind: 'page', url: '/a' },
    ...events.map(([gap, more]) => ({ visitor: 'v', t: (t += gap), ...more }) as Line),
  ]
}
const eventful = fc
  .array(
    fc.tuple(
      fc.constantFrom(0, 1000, 20_000, 45_000),
      fc.oneof(
        fc.constantFrom(0, 400, 1600, 3200).map(scrolled),
        fc.constantFrom({ kind: 'page' as const, url: '/a' }, { kind: 'page' as const, url: '/b' }),
        fc.constantFrom(
          { kind: 'hide' as const },
          { kind: 'show' as const },
          { kind: 'leave' as const, ms: 1 },
        ),
        fc.constantFrom(
          { kind: 'seen' as const, target: button, y: 900 },
          { kind: 'seen' as const, target: heading, y: 20 },
          { kind: 'click' as const, target: button },
        ),
      ),
    ),
    { maxLength: 14 },
  )
  .map(sessionOf)

function ask(sessions: Line[][], parts = 1) {
  const dictionaries = new Dictionaries()
  const rows = rowsOf(sessions).map((row) => ({ ...row, device: { ...row.device, height: WINDOW_PX } }))
  const size = Math.max(1, Math.ceil(rows.length / parts))
  const blocks = Array.from({ length: Math.max(1, Math.ceil(rows.length / size)) }, (_, k) => {
    const own = rows.slice(k * size, (k + 1) * size)
    return { block: buildBlock(own, dictionaries), sessions: SessionSet.all(own.length) }
  })
  const context = about(namesOf(dictionaries))
  return {
    reached: answerTo(reach, blocks, { page: '/a' }, context),
    few: answerTo(unseen, blocks, {}, context),
  }
}

/** Views of a page in the lines of a session: its own line and those up to the next page. */
function viewsOf(lines: Line[], url: string): { own: Line[]; next: Line | undefined }[] {
  return lines.flatMap((line, i) => {
    if (line.kind !== 'page' || line.url !== url) return []
    const to = lines.findIndex((other, k) => k > i && other.kind === 'page')
    return [{ own: lines.slice(i, to < 0 ? undefined : to), next: to < 0 ? undefined : lines[to] }]
  })
}

describe('reach', () => {
  it('counts views, depths, times in view and elements as lines read one by one do', () => {
    fc.assert(
      fc.property(fc.array(eventful, { maxLength: 5 }), (sessions) => {
        const { reached } = ask(sessions)
        const views = sessions.flatMap((lines) => viewsOf(lines, '/a'))
        const deepest = views.flatMap(({ own }) => {
          const depths = own.flatMap(({ depth }) => depth ?? [])
          return depths.length ? Math.max(...depths) : []
        })
        expect(reached).toMatchObject({ views: views.length, measured: deepest.length })
        reached.bands.forEach((band, k) =>
          expect(band.reached).toBe(deepest.filter((depth) => depth >= (k + 0.5) / BANDS).length),
        )
        const times = new Array<number>(BANDS).fill(0)
        let attended = 0
        for (const { own, next } of views) {
          const lines = next && own.at(-1)!.kind !== 'leave' ? [...own, next] : own
          let known = false
          lines.forEach((line, i) => {
            const before = lines.slice(0, i)
            const top = before.findLast(({ kind }) => kind === 'scroll')?.top
            const shown = before.findLast(({ kind }) => kind === 'hide' || kind === 'show')?.kind !== 'hide'
            if (top === undefined || !shown) return
            known = true
            for (let band = 0; band < BANDS; band++) {
              const [from, to] = [(band / BANDS) * PAGE_PX, ((band + 1) / BANDS) * PAGE_PX]
              const part = Math.max(0, Math.min(to, top + WINDOW_PX) - Math.max(from, top)) / (to - from)
              times[band]! += part * Math.min(IDLE_MS, line.t - before.at(-1)!.t)
            }
          })
          if (known) attended++
        }
        expect(reached.attended).toBe(attended)
        reached.bands.forEach(({ seconds }, k) => {
          if (attended) expect(seconds).toBeCloseTo(times[k]! / attended / 1000, 6)
          else expect(seconds).toBeNull()
        })
        const telling = views.filter(({ own }) => own.some(({ kind }) => kind === 'seen'))
        expect(reached.telling).toBe(telling.length)
        const buy = reached.elements.find(({ selector }) => selector === '#buy')
        const seenBuy = telling.filter(({ own }) =>
          own.some(({ kind, target }) => kind === 'seen' && target === button),
        )
        expect(buy?.seen.hits ?? 0).toBe(seenBuy.length)
        if (buy)
          expect(buy).toMatchObject({
            interactive: true,
            y: 900,
            clicked: seenBuy.filter(({ own }) => own.some(({ kind }) => kind === 'click')).length,
          })
      }),
      { numRuns: 400 },
    )
  })
  it('is the same however sessions are cut into blocks', () => {
    fc.assert(
      fc.property(fc.array(eventful, { minLength: 2, maxLength: 6 }), (sessions) => {
        const [whole, cut] = [ask(sessions), ask(sessions, 3)]
        expect({ ...cut.reached, bands: 0 }).toEqual({ ...whole.reached, bands: 0 })
        expect(cut.reached.bands.map((band) => band.reached)).toEqual(
          whole.reached.bands.map((band) => band.reached),
        )
        expect(cut.few).toEqual(whole.few)
      }),
      { numRuns: 100 },
    )
  })
  interface Scrolled {
    scroll_tops: number[]
    viewport_height: number
    document_height: number
  }
  const cases = casesOf<Scrolled, { depth: number }>('trade', 'scroll_depth')
  it.each(cases)('goes as far as the deepest point seen: $id ($source)', ({ inputs, expected }) => {
    const { scroll_tops: tops, viewport_height: windowPx, document_height: pagePx } = inputs
    const depthAt = (top: number) => Math.min(1, (top + windowPx) / pagePx)
    const { reached } = ask([
      sessionOf(tops.map((top) => [500, { kind: 'scroll', top, depth: depthAt(top) }] as const)),
    ])
    const middles = reached.bands.map((_, k) => (k + 0.5) / BANDS)
    expect(reached.bands.map((band) => band.reached)).toEqual(
      middles.map((middle) => (expected.depth >= middle ? 1 : 0)),
    )
  })
  it('says how high windows are, and what the data do not tell', () => {
    const { reached } = ask([sessionOf([[1000, scrolled(0)]])])
    expect(reached.folds.map(({ px }) => px)).toEqual([800, 800, 800, 800, 800])
    expect(reached.bands.filter((band) => band.reached).length).toBe(10)
    expect(ask([sessionOf([])])).toMatchObject({
      reached: { measured: 0, telling: 0 },
      few: { measured: false },
    })
  })
})

describe('calls to action that few see', () => {
  const views = (n: number, ...events: [number, Partial<Line>][]) =>
    Array.from({ length: n }, () => sessionOf(events))
  const top: [number, Partial<Line>] = [100, { kind: 'seen', target: heading }]
  const down: [number, Partial<Line>] = [500, { kind: 'seen', target: button }]
  const click: [number, Partial<Line>] = [900, { kind: 'click', target: button }]

  it('are those in view in less than half of the views, worst first by the clicks that are missed', () => {
    const { few } = ask([...views(60, top), ...views(30, top, down), ...views(10, top, down, click)])
    expect(few.elements).toHaveLength(1)
    expect(few.elements[0]).toMatchObject({
      page: '/a',
      selector: '#buy',
      seen: { hits: 40, base: 100 },
      clicked: { hits: 10, base: 40 },
      missed: 15,
    })
  })
  it('are none where half see them, nobody clicks them, or too few views tell', () => {
    expect(ask([...views(50, top), ...views(50, top, down, click)]).few.elements).toEqual([])
    expect(ask([...views(60, top), ...views(40, top, down)]).few.elements).toEqual([])
    expect(ask([...views(20, top), ...views(9, top, down, click)]).few.elements).toEqual([])
    // Views that told nothing of what came into view are no views without it.
    expect(ask([...views(60), ...views(60, top, down, click)]).few.elements).toEqual([])
  })
})
