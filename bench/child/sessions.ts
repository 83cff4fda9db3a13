/** Generated sessions, the same every time, for the benchmarks. */
import type { Lens, Line, SessionRow } from '../../core/src/index.ts'

export const PAGES = 60
const T0 = Date.UTC(2026, 0, 1)
export const DEVICES = ['desktop', 'mobile', 'tablet'] as const
/** A fifth of the sessions are of the first country. */
export const COUNTRIES = ['AA', 'BB', 'CC', 'DD', 'EE'] as const
/** The days on which all of them lie. */
export const LENS: Lens = { from: '2026-01-01', to: '2026-12-31', devices: [] }

/** One event as all peers hold it. */
export interface Made {
  ms: number
  kind: 0 | 1
  page: number
  target: number
}

/** Whole numbers that look random, always the same. */
function numbers(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return (Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) >>> 0) / 4_294_967_296
  }
}

export function makeSession(id: number): { device: number; country: number; events: Made[] } {
  const next = numbers(id * 2_654_435_761 + 12_345)
  for (let i = 0; i < 4; i++) next()
  const device = Math.floor(next() * 3)
  const country = Math.floor(next() * 5)
  const count = 1 + Math.floor(-19 * Math.log(1 - next() * 0.999))
  const events: Made[] = []
  let ms = 0
  let page = Math.floor(PAGES * next() ** 2.5)
  for (let i = 0; i < count; i++) {
    const view = i === 0 || next() < 0.45
    if (view) page = Math.floor(PAGES * next() ** 2.5)
    events.push({ ms, kind: view ? 0 : 1, page, target: view ? 0 : 1 + Math.floor(next() * 200) })
    ms += 200 + Math.floor(20_000 * next() ** 2)
  }
  return { device, country, events }
}

export function rowOf(id: number, { device, country, events }: ReturnType<typeof makeSession>): SessionRow {
  const startMs = T0 + (id % 300) * 86_400_000 + (id % 80_000) * 1000
  const visitor = `v${id}`
  return {
    id: id + 1,
    visitor,
    returning: false,
    device: { class: DEVICES[device] },
    country: COUNTRIES[country],
    channel: 'Direct',
    lines: events.map(({ ms, kind, page, target }): Line => {
      const url = `/p${page}`
      return kind === 0
        ? { visitor, t: startMs + ms, kind: 'page', url }
        : {
            visitor,
            t: startMs + ms,
            kind: 'click',
            url,
            effect: 'change',
            target: { selector: `#t${target}` },
          }
    }),
  }
}
