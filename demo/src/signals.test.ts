import { buildBlock, Dictionaries, familyName, SIGNAL_KINDS } from '@dust-trail/core'
import type { SignalKind } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import type { DecoyName, FaultName } from './simulator/scenario.ts'
import { designed } from './simulator/scenario.ts'
import { simulate } from './simulator/simulate.ts'
import type { SimulatedSession } from './simulator/visit.ts'

/* What is found of the faults that are planted, and of the decoys: the simulator knows whom each befell. */

const sessions = simulate(
  {
    ...{ seed: 77, sessions: 6000, days: 60, endMs: Date.UTC(2026, 5, 15), scenario: designed() },
    recorded: false,
  },
  readLayouts(LAYOUTS_FILE),
)
const dictionaries = new Dictionaries()
const block = buildBlock(
  sessions.map(({ visitor, lines }, id) => ({
    ...{ id, visitor, returning: false, device: {}, channel: 'Direct' as const, lines },
  })),
  dictionaries,
)

/** Sessions with a signal of a kind at an element whose selector, and on a page whose path, matches. */
function withSignal(kind: SignalKind, element: RegExp, page = /./): Set<number> {
  const found = new Set<number>()
  const { signals, events, sessions: own } = block
  for (let s = 0; s < own.count; s++)
    for (let g = own.firstSignal[s]!; g < own.firstSignal[s + 1]!; g++) {
      const event = signals.event[g]!
      if (
        SIGNAL_KINDS[signals.kind[g]!] === kind &&
        element.test(familyName(dictionaries.target.word(events.target[event]!))) &&
        page.test(dictionaries.page.word(events.page[event]!))
      )
        found.add(s)
    }
  return found
}

/** Sessions that a fault or decoy truly befell. */
function befallen(name: FaultName | DecoyName, also: (session: SimulatedSession) => boolean = () => true) {
  return new Set(sessions.flatMap((session, s) => (session.met.includes(name) && also(session) ? [s] : [])))
}

function quality(found: ReadonlySet<number>, truth: ReadonlySet<number>) {
  const both = [...found].filter((s) => truth.has(s)).length
  return { precision: both / found.size, recall: both / truth.size, of: truth.size }
}

const ANY = /(?:)/

describe('the signal of each planted fault', () => {
  it.each([
    ['deadPicture', 'dead click', /night-picture.*> svg$/, /^\/nights$/],
    ['tinyArrows', 'dead click', /div\.month-picker\S*$/, /^\/nights$/],
    ['silentPromo', 'dead click', /button\.apply$/, /\/payment$/],
    ['scriptError', 'failing click', /^#party > button/, /\/party$/],
    ['silentPhone', 'failed submit', /^#details$/, /\/details$/],
    ['brokenLink', 'not found', ANY, /midwinter-special/],
    ['seatZone', 'dead click', /seat-map.*(zone|dome|zone-name)\S*$/, /\/party$/],
  ] as const)('%s: %s is found where it is, with precision and recall of at least 0.95', (...planted) => {
    const [name, kind, element, page] = planted
    const { precision, recall, of } = quality(withSignal(kind, element, page), befallen(name))
    expect(of).toBeGreaterThan(20)
    expect(precision).toBeGreaterThanOrEqual(0.95)
    expect(recall).toBeGreaterThanOrEqual(0.95)
  })
  it('slowPage: those that took over four seconds, which is what slow means; what is not there is not slow', () => {
    const late = ({ lines }: SimulatedSession) =>
      lines.some(({ load, status }) => (load ?? 0) > 4000 && status !== 404)
    const { precision, recall } = quality(
      withSignal('slow page', ANY, /^\/nights\/./),
      befallen('slowPage', late),
    )
    expect(precision).toBeGreaterThanOrEqual(0.95)
    expect(recall).toBeGreaterThanOrEqual(0.95)
  })
})

describe('a decoy', () => {
  it.each([
    ['galleryClicks', /div\.gallery > button/],
    ['stepperTaps', /div\.stepper > button/],
  ] as const)('%s raises no rage, dead or failing click', (name, element) => {
    expect(befallen(name).size).toBeGreaterThan(20)
    for (const kind of ['rage click', 'dead click', 'failing click', 'near miss'] as const)
      expect(withSignal(kind, element).size).toBe(0)
  })
  it('textClicks raises dead clicks, and rage where there were three at once: which they really are', () => {
    const truth = befallen('textClicks')
    const { precision, of } = quality(withSignal('rage click', / p\S*$/), truth)
    expect(of).toBeGreaterThan(100)
    expect(precision).toBe(1)
    const thrice = sessions.flatMap(({ lines }, s) => {
      const clicks = lines.filter(({ kind, target }) => kind === 'click' && / p\S*$/.test(target!.selector))
      return clicks.length >= 3 ? [s] : []
    })
    for (const s of withSignal('rage click', / p\S*$/)) expect(thrice).toContain(s)
  })
  it('widgetError raises script errors and no failing click', () => {
    expect(withSignal('script error', ANY, /^\/$/).size).toBeGreaterThan(20)
    expect(withSignal('failing click', ANY, /^\/$/).size).toBe(0)
  })
})
