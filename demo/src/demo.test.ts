import { describe, expect, it } from 'vitest'
import { lineSchema, SESSION_LIMIT_MS } from '@dust-trail/core'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import { fingerprint } from './measure/fingerprint.ts'
import { Dice } from './simulator/chance.ts'
import { fittsMs, reach } from './simulator/motion.ts'
import type { FaultName } from './simulator/scenario.ts'
import { DECOY_NAMES, designed, FAULT_NAMES, FAULTS, shuffled, without } from './simulator/scenario.ts'
import type { World } from './simulator/simulate.ts'
import { simulate, simulateVisitors } from './simulator/simulate.ts'
import { measureCosts } from './simulator/truth.ts'
import type { SimulatedSession } from './simulator/visit.ts'

const layouts = readLayouts(LAYOUTS_FILE)
const world: World = {
  seed: 3,
  sessions: 2500,
  days: 60,
  endMs: Date.UTC(2026, 5, 15),
  scenario: designed(),
}
const sessions = simulate(world, layouts)
const lengthOf = ({ lines }: SimulatedSession) => lines[lines.length - 1]!.t - lines[0]!.t

it('the measured pages are those that the site shows now (else: npm run measure)', () => {
  expect(layouts.fingerprint).toBe(fingerprint())
})

describe('simulate', () => {
  it('makes the same world of the same seed and another of another', () => {
    const small = { ...world, sessions: 300 }
    expect(simulate(small, layouts)).toEqual(simulate(small, layouts))
    expect(simulate({ ...small, seed: 4 }, layouts)[0]).not.toEqual(simulate(small, layouts)[0])
  })

  it('leaves everything as it is where nothing is recorded', () => {
    const small = { ...world, sessions: 200 }
    const lines = (all: SimulatedSession[]) => all.map((session) => session.lines)
    expect(lines(simulate({ ...small, recorded: false }, layouts))).toEqual(lines(simulate(small, layouts)))
  })

  it('writes lines that the format takes, with ids of their own', () => {
    const ids = new Set<string>()
    for (const { lines } of sessions.slice(0, 400))
      for (const line of lines) {
        expect(lineSchema.safeParse(line).error).toBeUndefined()
        expect(ids.has(line.id!)).toBe(false)
        ids.add(line.id!)
      }
  })

  it('puts every click inside a real element of the page it is on, where it lies at that moment', () => {
    let clicks = 0
    for (const session of sessions) {
      let document = -1
      for (const line of session.lines) {
        if (line.kind === 'page' && !line.id!.endsWith('.again')) document++
        if (line.kind !== 'click') continue
        clicks++
        const page = layouts.pages[session.documents[document]!.layout]!
        const states = [page.elements, ...Object.values(page.moves).map((move) => move.elements ?? [])]
        const inside = states.some((elements) =>
          elements.some(
            ({ selector, x, y, w, h }) =>
              selector === line.target!.selector &&
              line.x! >= x &&
              line.x! <= x + w &&
              line.y! >= y &&
              line.y! <= y + h,
          ),
        )
        expect(inside, `${line.target!.selector} at ${line.x}, ${line.y}`).toBe(true)
      }
    }
    expect(clicks).toBeGreaterThan(5000)
  })

  it('keeps lines in order, documents beside their page views, and visits of one visitor apart', () => {
    const lastMs = new Map<string, number>()
    for (const { visitor, lines, documents } of sessions) {
      lines.reduce((before, line) => {
        expect(line.t).toBeGreaterThanOrEqual(before)
        expect(line.t - before).toBeLessThan(before ? SESSION_LIMIT_MS : Infinity)
        return line.t
      }, 0)
      const views = lines.filter((line) => line.kind === 'page' && !line.id!.endsWith('.again'))
      expect(documents).toHaveLength(views.length)
      const before = lastMs.get(visitor)
      if (before !== undefined) expect(lines[0]!.t - before).toBeGreaterThan(SESSION_LIMIT_MS)
      lastMs.set(visitor, lines[lines.length - 1]!.t)
    }
  })

  it('records what it does: each click line has its click in the recording', () => {
    for (const { lines, documents } of sessions) {
      const recorded = documents.flatMap((document) => document.items.filter((item) => item.k === 'click'))
      expect(recorded).toHaveLength(lines.filter((line) => line.kind === 'click').length)
    }
  })

  it('costs little room: at most 8 kB a session beyond shared pages, even unpacked', () => {
    const bytes = sessions.reduce(
      (sum, { documents }) => sum + JSON.stringify(documents.map(({ items }) => items)).length,
      0,
    )
    expect(bytes / sessions.length).toBeLessThan(8000)
  })

  it('goes everywhere on the site', () => {
    const seen = new Set(sessions.flatMap(({ documents }) => documents.map(({ layout }) => layout)))
    const addresses = new Set([...seen].map((layout) => layout.split(' ')[1]!))
    const known = new Set(Object.keys(layouts.pages).map((layout) => layout.split(' ')[1]!))
    // All but a few rare combinations of a night and a step of its booking.
    expect(addresses.size).toBeGreaterThan(0.85 * known.size)
  })
})

/* Heavy tails: what holds of people on websites in general. Common practice, no source. */
describe('people', () => {
  const sorted = (numbers: number[]) => numbers.sort((a, b) => a - b)
  const shareOfTop = (numbers: number[], top: number) => {
    const all = sorted([...numbers])
    const sum = (list: number[]) => list.reduce((a, b) => a + b, 0)
    return sum(all.slice(Math.floor(all.length * (1 - top)))) / sum(all)
  }
  const variation = (numbers: number[]) => {
    const m = numbers.reduce((a, b) => a + b, 0) / numbers.length
    return Math.sqrt(numbers.reduce((s, n) => s + (n - m) ** 2, 0) / numbers.length) / m
  }

  it('stay for times with a heavy tail: a tenth of the sessions makes over a third of the time', () => {
    const lengths = sessions.map(lengthOf).filter((ms) => ms > 0)
    expect(shareOfTop(lengths, 0.1)).toBeGreaterThan(0.33)
    const mean = lengths.reduce((a, b) => a + b) / lengths.length
    expect(mean).toBeGreaterThan(1.5 * sorted(lengths)[Math.floor(lengths.length / 2)]!)
  })
  it('act in bursts: times between events vary more than those of a steady stream (exponential: 1)', () => {
    const gaps = sessions.flatMap(({ lines }) => lines.slice(1).map((line, i) => line.t - lines[i]!.t))
    expect(variation(gaps)).toBeGreaterThan(1.5)
  })
  it('crowd on few pages: the top tenth of addresses has over half of the views', () => {
    const views = new Map<string, number>()
    for (const { documents } of sessions)
      for (const { layout } of documents) {
        const address = layout.split(' ')[1]!
        views.set(address, (views.get(address) ?? 0) + 1)
      }
    expect(shareOfTop([...views.values()], 0.1)).toBeGreaterThan(0.5)
  })
  it('come when people do: evenings more than nights, Sundays more than Tuesdays', () => {
    const hours = new Array<number>(24).fill(0)
    const days = new Array<number>(7).fill(0)
    for (const { lines } of sessions) {
      hours[new Date(lines[0]!.t).getUTCHours()]!++
      days[new Date(lines[0]!.t).getUTCDay()]!++
    }
    expect(hours[20]).toBeGreaterThan(4 * hours[4]!)
    expect(days[0]).toBeGreaterThan(days[2]!)
  })
  it('among whom one comes twenty times and one stays for three hours', () => {
    const visits = new Map<string, number>()
    for (const { visitor } of sessions) visits.set(visitor, (visits.get(visitor) ?? 0) + 1)
    expect(Math.max(...visits.values())).toBe(20)
    expect(Math.max(...sessions.map(lengthOf))).toBeGreaterThan(3 * 3_600_000)
  })
  it('are counted twice for two days and only then', () => {
    const again = sessions.flatMap(({ lines }) => lines.filter(({ id }) => id!.endsWith('.again')))
    const days = new Set(again.map(({ t }) => Math.floor(t / 86_400_000)))
    expect(again.length).toBeGreaterThan(100)
    expect(days.size).toBeLessThanOrEqual(3)
    const during = sessions.filter(({ lines }) => lines.some(({ id }) => id!.endsWith('.again')))
    for (const { lines } of during) {
      const views = lines.filter(({ kind }) => kind === 'page')
      expect(views.filter(({ id }) => id!.endsWith('.again'))).toHaveLength(views.length / 2)
    }
  })
})

describe('naive comparisons', () => {
  const rate = (some: SimulatedSession[]) => some.filter((one) => one.converted).length / some.length
  it('flatter what the eager meet: those with dead pictures convert no less than those without', () => {
    const looked = sessions.filter(({ documents }) =>
      documents.some(({ layout }) => layout.endsWith(' /nights')),
    )
    const met = looked.filter((one) => one.met.includes('deadPicture'))
    const others = looked.filter((one) => !one.met.includes('deadPicture'))
    const cost = truth.deadPicture.conversionsLost.mean
    expect(cost).toBeGreaterThan(0)
    // The loss that a plain comparison sees is smaller than the true one.
    expect((rate(others) - rate(met)) * met.length).toBeLessThan(cost)
  })
  it('blame phones for what phones are: they convert less and meet more', () => {
    const on = (device: string) => sessions.filter(({ documents }) => documents[0]!.layout.startsWith(device))
    const met = (some: SimulatedSession[]) =>
      some.filter((one) => one.met.some((name) => name in FAULTS)).length / some.length
    expect(rate(on('mobile'))).toBeLessThan(rate(on('desktop')))
    expect(met(on('mobile'))).toBeGreaterThan(met(on('desktop')))
  })
  it('see long visits as good ones: readers stay long and hardly convert', () => {
    const readers = sessions.filter((one) => one.met.includes('longReading'))
    const median = (some: SimulatedSession[]) => some.map(lengthOf).sort((a, b) => a - b)[some.length >> 1]!
    expect(median(readers)).toBeGreaterThan(median(sessions))
    expect(rate(readers)).toBeLessThan(rate(sessions))
  })
})

describe('Dice', () => {
  it('is uniform: chi-square over 20 bins stays below the 99.9 % point of 19 degrees of freedom (43.8, from memory)', () => {
    const dice = new Dice('test')
    const bins = new Array<number>(20).fill(0)
    for (let i = 0; i < 20_000; i++) bins[Math.floor(dice.roll('x') * 20)]!++
    const chi = bins.reduce((sum, n) => sum + (n - 1000) ** 2 / 1000, 0)
    expect(chi).toBeLessThan(43.8)
  })
  it('gives each decision a number of its own, whatever was asked before', () => {
    const a = new Dice('k')
    const b = new Dice('k')
    b.roll('something else')
    expect(a.roll('x')).toBe(b.roll('x'))
    expect(a.roll('x')).not.toBe(new Dice('k').roll('x'))
  })
})

describe('human motion', () => {
  it('takes one step of the law longer for twice the distance or half the width', () => {
    expect(fittsMs(200_000, 1) - fittsMs(100_000, 1)).toBeCloseTo(166, 2)
    expect(fittsMs(1000, 5)).toBeGreaterThan(fittsMs(1000, 10))
  })
  it('ends on the target and is fastest in the middle', () => {
    const path = reach({ x: 0, y: 0 }, { x: 600, y: 0 }, 0, 600, 0)
    expect(path[path.length - 1]).toEqual([600, 600, 0])
    const steps = path.map(([, x], i) => x - (path[i - 1]?.[1] ?? 0))
    expect(Math.max(...steps)).toBe(Math.max(...steps.slice(3, 7)))
  })
})

const truth = measureCosts({
  layouts,
  seed: 3,
  sessions: 1800,
  populations: 2,
  scenario: designed(),
  names: [...FAULT_NAMES, ...DECOY_NAMES],
})

describe('faults and decoys', () => {
  it.each(FAULT_NAMES)('%s hits some and costs something', (name) => {
    expect(truth[name].sessionsHit.mean).toBeGreaterThan(0)
    // Rare ones may cost nobody in so small a world; none may bring a gain worth the name.
    expect(truth[name].conversionsLost.mean).toBeGreaterThan(-2)
  })
  it('cost conversions and money taken together', () => {
    const lost = FAULT_NAMES.reduce((sum, name) => sum + truth[name].conversionsLost.mean, 0)
    expect(lost).toBeGreaterThan(20)
    expect(FAULT_NAMES.reduce((sum, name) => sum + truth[name].moneyLost.mean, 0)).toBeGreaterThan(1000)
  })
  it.each(DECOY_NAMES)('%s looks bad and costs exactly nothing', (name) => {
    expect(truth[name].sessionsHit.mean).toBeGreaterThan(5)
    expect(truth[name].conversionsLost).toEqual({ mean: 0, standardError: 0 })
    expect(truth[name].moneyLost).toEqual({ mean: 0, standardError: 0 })
  })

  it.each(FAULT_NAMES)('%s changes nothing for those whom it never met', (name) => {
    const small = { ...world, sessions: 900 }
    const byVisit = (all: Iterable<SimulatedSession[]>) =>
      new Map([...all].flat().map((session) => [session.documents[0]!.document, session]))
    const on = byVisit(simulateVisitors(small, layouts))
    const off = byVisit(simulateVisitors({ ...small, scenario: without(world.scenario, name) }, layouts))
    let unmet = 0
    for (const [visit, session] of on) {
      if (session.met.includes(name) || !off.has(visit)) continue
      unmet++
      expect(off.get(visit)!.lines).toEqual(session.lines)
    }
    expect(unmet).toBeGreaterThan(500)
    for (const session of off.values()) expect(session.met).not.toContain(name)
  })

  it('never leave the simulator: no line says what was met', () => {
    const names = new RegExp([...FAULT_NAMES, ...DECOY_NAMES].join('|'))
    for (const { lines } of sessions.slice(0, 500)) expect(JSON.stringify(lines)).not.toMatch(names)
  })
  it('keep to their scope', () => {
    const half = world.endMs - 0.45 * 60 * 86_400_000
    for (const { met, documents, lines } of sessions) {
      if (met.includes('tinyArrows')) expect(documents[0]!.layout).toMatch(/^mobile/)
      if (met.includes('scriptError'))
        expect(lines.find(({ kind }) => kind === 'page')!.device!.browser).toBe('Firefox')
      if (met.includes('slowPage')) expect(lines[0]!.t).toBeGreaterThanOrEqual(half)
    }
  })
})

describe('shuffled worlds', () => {
  it('are the same for the same seed, others for others, and all can be lived in', () => {
    expect(shuffled(5)).toEqual(shuffled(5))
    const spots = new Map<FaultName, Set<string>>(FAULT_NAMES.map((name) => [name, new Set()]))
    for (let seed = 1; seed <= 12; seed++) {
      const scenario = shuffled(seed)
      for (const name of FAULT_NAMES) spots.get(name)!.add(scenario.faults[name].spot)
      const lived = simulate({ ...world, seed, sessions: 150, scenario }, layouts)
      expect(lived.length).toBeGreaterThanOrEqual(150)
    }
    for (const name of FAULT_NAMES)
      if (Object.keys(FAULTS[name].spots).length > 1) expect(spots.get(name)!.size).toBeGreaterThan(1)
  })
})
