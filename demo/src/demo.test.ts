import { describe, expect, it } from 'vitest'
import { SESSION_LIMIT_MS } from '@dust-trail/core'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import { fingerprint } from './measure/fingerprint.ts'
import { Dice } from './simulator/chance.ts'
import { fittsMs, reach } from './simulator/motion.ts'
import type { World } from './simulator/simulate.ts'
import { simulate } from './simulator/simulate.ts'

const layouts = readLayouts(LAYOUTS_FILE)
const world: World = {
  seed: 3,
  sessions: 400,
  days: 14,
  endMs: Date.UTC(2026, 5, 15),
  faults: { deadPicture: true, tinyArrows: true },
}
const sessions = simulate(world, layouts)

it('the measured pages are those that the site shows now (else: npm run measure)', () => {
  expect(layouts.fingerprint).toBe(fingerprint())
})

describe('simulate', () => {
  it('makes the same world of the same seed and another of another', () => {
    expect(simulate(world, layouts)).toEqual(sessions)
    expect(simulate({ ...world, seed: 4 }, layouts)[0]).not.toEqual(sessions[0])
  })

  it('puts every click inside a real element of the page it is on', () => {
    let clicks = 0
    for (const session of sessions) {
      let document = -1
      for (const line of session.lines) {
        if (line.kind === 'page') document++
        if (line.kind !== 'click') continue
        clicks++
        const page = layouts.pages[session.documents[document]!.layout]!
        const element = page.elements.find((candidate) => candidate.selector === line.target!.selector)!
        expect(line.x).toBeGreaterThanOrEqual(element.x)
        expect(line.x).toBeLessThanOrEqual(element.x + element.w)
        expect(line.y).toBeGreaterThanOrEqual(element.y)
        expect(line.y).toBeLessThanOrEqual(element.y + element.h)
      }
    }
    expect(clicks).toBeGreaterThan(500)
  })

  it('keeps lines in order, documents beside their page views, and visits of one visitor apart', () => {
    const lastMs = new Map<string, number>()
    for (const { visitor, lines, documents } of sessions) {
      lines.reduce((before, line) => {
        expect(line.t).toBeGreaterThanOrEqual(before)
        return line.t
      }, 0)
      expect(documents).toHaveLength(lines.filter((line) => line.kind === 'page').length)
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

  it('costs little room: at most 8 kB a session beyond shared pages', () => {
    const bytes = sessions.reduce(
      (sum, { documents }) => sum + JSON.stringify(documents.map(({ items }) => items)).length,
      0,
    )
    expect(bytes / sessions.length).toBeLessThan(8000)
  })

  it('has session lengths skewed to the right, as in life', () => {
    const lengths = sessions
      .map(({ lines }) => lines[lines.length - 1]!.t - lines[0]!.t)
      .sort((a, b) => a - b)
    const mean = lengths.reduce((a, b) => a + b) / lengths.length
    expect(mean).toBeGreaterThan(1.15 * lengths[Math.floor(lengths.length / 2)]!)
  })

  it('changes nothing for those whom a fault never met', () => {
    const without = simulate({ ...world, faults: { deadPicture: false, tinyArrows: true } }, layouts)
    const metPicture = (
      lines: { target?: { selector: string } | undefined; effect?: string | undefined }[],
    ) => lines.some((line) => line.effect === 'none' && line.target?.selector.includes('night-picture'))
    const firstOf = (all: typeof sessions) =>
      new Map([...all].reverse().map((session) => [session.visitor, session]))
    const other = firstOf(without)
    let unmet = 0
    for (const [visitor, session] of firstOf(sessions)) {
      if (metPicture(session.lines) || !other.has(visitor)) continue
      unmet++
      expect(other.get(visitor)!.lines).toEqual(session.lines)
    }
    expect(unmet).toBeGreaterThan(200)
    expect(without.every((session) => !metPicture(session.lines))).toBe(true)
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

describe('faults', () => {
  const booked = (faults: World['faults']) =>
    simulate({ ...world, sessions: 900, faults }, layouts).filter((session) => session.booked !== null).length
  it('cost bookings: with one switched off more are made', () => {
    const all = booked(world.faults)
    expect(booked({ ...world.faults, deadPicture: false })).toBeGreaterThan(all)
    expect(booked({ ...world.faults, tinyArrows: false })).toBeGreaterThan(all)
  })
  it('are marked in exactly the sessions that show their clicks', () => {
    for (const { lines, met } of sessions) {
      const dead = lines.filter((line) => line.kind === 'click' && line.effect === 'none')
      expect(met.includes('deadPicture')).toBe(
        dead.some((line) => line.target!.selector.includes('night-picture')),
      )
      expect(met.includes('tinyArrows')).toBe(
        dead.some((line) => line.target!.selector.endsWith('month-picker')),
      )
    }
  })
  it('never leave the simulator: no line says what was met', () => {
    expect(JSON.stringify(sessions.map(({ lines }) => lines))).not.toMatch(/deadPicture|tinyArrows/)
  })
})
