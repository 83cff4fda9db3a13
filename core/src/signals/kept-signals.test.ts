import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { SignalTables } from '../columns/block.ts'
import { signalShape, viewSignals } from '../columns/block.ts'
import { compactColumns } from '../columns/compact.ts'
import { buildDenseBlock } from '../columns/dense-sessions.ts'
import { Dictionaries } from '../columns/dictionaries.ts'
import type { Line } from '../events/line.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import { dice } from '../testing/dice.ts'
import { rowsOf, worlds } from '../testing/world.ts'
import { findSignals } from './find-signals.ts'
import { foundUnder, packSignals, unpackSignals } from './kept-signals.ts'
import { THRESHOLD_NAMES, THRESHOLDS } from './thresholds.ts'

const columnsOf = (sessions: Line[][]) =>
  compactColumns(buildDenseBlock(rowsOf(sessions), new Dictionaries()))

const plain = ({ signals, ofSessions, ofEvents }: SignalTables) => ({
  event: [...signals.event],
  events: [...signals.events],
  kind: [...signals.kind],
  firstSignal: [...ofSessions.firstSignal],
  friction: [...ofEvents.friction],
})

/** Sessions in which everything goes wrong, the same each time. */
function troubled(seed: number, count: number): Line[][] {
  const roll = dice(seed)
  const one = <T>(...values: T[]): T => values[Math.floor(roll() * values.length)]!
  const targets = [
    { selector: '#x', tag: 'div' },
    { selector: '#y', tag: 'button', interactive: true, w: 20, h: 8 },
    { selector: 'main' },
    undefined,
  ]
  let up = false
  const made: (() => Partial<Line>)[] = [
    () => ({
      ...{ kind: 'page', url: one('/a', '/b', '/c'), status: one(200, 200, 404, 403, 503) },
      load: one(100, 4000, 4001, 9000),
    }),
    () => ({ kind: 'leave', ms: one(3000, 9000), loaded: one(true, false) }),
    () => ({
      ...{ kind: 'click', effect: one('none', 'none', 'change', undefined), target: one(...targets) },
      ...{ x: one(100, 112, 140), y: one(50, 58), rx: one(0, 0.5), ry: 0.25 },
    }),
    () => {
      up = !up
      return { kind: 'scroll', depth: 0.5, top: up ? 0 : one(200, 600, 1200) }
    },
    () => ({
      ...{ kind: 'input', target: { selector: one('#name', '#mail') }, length: 3 },
      corrections: one(0, 2, 3),
    }),
    () => ({ kind: 'error', message: 'broken', target: one(...targets) }),
    () => ({ kind: 'request', path: '/api', status: one(0, 200, 500), ms: one(20, 900) }),
    () => ({ kind: 'gesture', name: 'zoom', props: { by: one(2, 0.5) } }),
    () => ({ kind: one('hide', 'out') }),
    () => ({ kind: 'freeze', ms: one(400, 501) }),
    () => ({ kind: 'submit', target: { selector: '#form' }, ok: one(true, false) }),
    () => ({ kind: 'signal', name: 'code not accepted' }),
  ]
  return Array.from({ length: count }, () => {
    let t = 0
    // Each session has its own few habits, so that what takes several of a kind comes about.
    const habits = [one(...made), one(...made)]
    return Array.from({ length: 5 + Math.floor(roll() * 30) }, (_, k) => {
      t += one(0, 100, 400, 900, 2500, 8000)
      const event = k ? one(...habits) : made[0]!
      return { visitor: 'v', t, ...event() } as Line
    })
  })
}

describe('signals that are kept', () => {
  it('are those that were found, in whatever memory these lie', () => {
    fc.assert(
      fc.property(worlds, (sessions) => {
        const columns = columnsOf(sessions)
        const found = findSignals(columns, THRESHOLDS)
        expect(plain(unpackSignals(packSignals(found), columns))).toEqual(plain(found))
        const memory = new SharedArrayBuffer(found.signals.event.buffer.byteLength)
        new Uint8Array(memory).set(new Uint8Array(found.signals.event.buffer))
        const shared = viewSignals(signalShape(found), memory)
        expect(packSignals(shared)).toEqual(packSignals(found))
      }),
    )
  })
  it('are refused for other columns and where they are cut off', () => {
    const columns = columnsOf(troubled(1, 20))
    const bytes = packSignals(findSignals(columns, THRESHOLDS))
    expect(() => unpackSignals(bytes, columnsOf(troubled(2, 20)))).toThrow(RangeError)
    for (const length of [0, 12, bytes.length - 8])
      expect(() => unpackSignals(bytes.subarray(0, length), columns)).toThrow(RangeError)
  })
  it('are known by every threshold', () => {
    const keys = THRESHOLD_NAMES.map((name) => foundUnder({ ...THRESHOLDS, [name]: THRESHOLDS[name] + 1 }))
    expect(new Set([...keys, foundUnder(THRESHOLDS)]).size).toBe(THRESHOLD_NAMES.length + 1)
    expect(foundUnder({ ...THRESHOLDS })).toBe(foundUnder(THRESHOLDS))
  })
  it('are of a version that rises when something else is found', () => {
    const found = findSignals(columnsOf(troubled(7, 6000)), THRESHOLDS)
    for (const kind of SIGNAL_KINDS)
      expect(found.signals.kind.filter((k) => SIGNAL_KINDS[k] === kind).length, kind).toBeGreaterThan(10)
    const print = createHash('sha256')
      .update(JSON.stringify(plain(found)))
      .digest('hex')
      .slice(0, 16)
    // Where this differs, raise SIGNALS_VERSION and write both anew: else answers would mix what was found before and after.
    expect([foundUnder(THRESHOLDS).split(' ')[0], print]).toEqual(['2', '1577c46bfa5064cb'])
  })
})
