import { inflateRawSync } from 'node:zlib'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Line } from '../events/line.ts'
import { withSignals } from '../signals/find-signals.ts'
import { rowsOf, worlds } from '../testing/world.ts'
import {
  amountAt,
  blockBytes,
  COLUMN_LAYOUT,
  numberAt,
  partsOf,
  rowOf,
  viewBlock,
  viewsBefore,
} from './block.ts'
import { compactColumns } from './compact.ts'
import type { DenseBlock } from './dense-block.ts'
import { denseCounts, eachDenseColumn } from './dense-block.ts'
import { buildDenseBlock } from './dense-sessions.ts'
import { Dictionaries } from './dictionaries.ts'
import { KIND_CODE } from './event-codes.ts'
import { shapeOf } from './layout.ts'
import { decodeColumns, decodeDense, encodeBlock } from './packing.ts'

/** A block's columns as plain lists, codes as the words they mean, so that blocks of different dictionaries compare. */
function plain(block: DenseBlock, dictionaries: Dictionaries): Record<string, unknown[]> {
  const words: Record<string, keyof Dictionaries> = {
    'sessions.visitor': 'visitor',
    'sessions.browser': 'browser',
    'sessions.os': 'os',
    'sessions.country': 'country',
    'sessions.channel': 'channel',
    'sessions.source': 'source',
    'sessions.campaign': 'campaign',
    'props.key': 'propKey',
    'props.text': 'propText',
  }
  for (const column of ['page', 'target', 'text', 'name'] as const) words[`events.${column}`] = column
  const lists: Record<string, unknown[]> = {}
  eachDenseColumn(denseCounts(block), (table, column) => {
    const values = (block[table] as unknown as Record<string, ArrayLike<number>>)[column]!
    const dictionary = words[`${table}.${column}`]
    lists[`${table}.${column}`] = Array.from(values, (value) =>
      dictionary ? dictionaries[dictionary].values[value] : value,
    )
  })
  return lists
}

const oddities: fc.Arbitrary<Partial<Line>> = fc.record(
  {
    x: fc.oneof(fc.integer({ min: -50, max: 90_000 }), fc.double({ min: -1e6, max: 1e6, noNaN: true })),
    rx: fc.oneof(
      fc.integer({ min: 0, max: 1000 }).map((n) => n / 1000),
      fc.double({ min: 0, max: 1, noNaN: true }),
    ),
    value: fc.double({ min: -1e9, max: 1e9, noNaN: true }),
    load: fc.nat(20_000),
    name: fc.string({ minLength: 1, maxLength: 20, unit: 'grapheme' }),
    props: fc.dictionary(
      fc.string({ minLength: 1, maxLength: 5 }),
      fc.oneof(
        fc.string({ maxLength: 5 }),
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.boolean(),
      ),
      { maxKeys: 3 },
    ),
  },
  { requiredKeys: [] },
)

/** These rows as version 2 wrote them, compressed. */
const VERSION_2 =
  '5ZTfSsMwFMZPsg58jm+3gXVT6ui1uIcYvahdrIWuKUnaqaV3vorvKae7kUFxzA0EQwiH73f+cRLyOSXq0GrrClMhXipkpqm8Q9zBaceqG2Td6kGOFGpraoc4VHBFXqUl2z0Hls2OvTcdno3dIUazgsLeFt7rQ3LnNYd62+hejbl9J4toFK1OI7djVd+1NWc5Li/Axru/RrXLd3l0MdGpswsV8vTHJxCdRI5zn8vuf9v8X/e7/gjDf80Shb2x2+HTrNNcI95gnkJh/sRHhkTBpzbXnsnsFQqzNxbbwhXeWFbbEArtgtXsJa0qXbL6UFideSR9L8T08W59Q0JSIIWQkj7WWxI0CYiIJE0okCTYOizJ+ws='

describe('a packed block', () => {
  it('is read back as it was, whatever is in it, into dictionaries of any other content', () => {
    fc.assert(
      fc.property(worlds, fc.array(oddities, { maxLength: 20 }), fc.nat(2 ** 40), (world, odd, epoch) => {
        let k = 0
        const sessions = world.map((lines) =>
          lines.map((line) => ({ ...line, ...odd[k++ % Math.max(1, odd.length)], t: line.t + epoch })),
        )
        const dictionaries = new Dictionaries()
        dictionaries.page.code('/unused')
        const block = buildDenseBlock(rowsOf(sessions), dictionaries)
        const others = new Dictionaries()
        for (const word of ['/c', '/zzz', '/a']) others.page.code(word)
        const again = decodeDense(encodeBlock(block, dictionaries), others)
        expect(plain(again, others)).toEqual(plain(block, dictionaries))
      }),
      { numRuns: 500 },
    )
  })
  it('is made the same columns straight from its bytes as by way of dense ones', () => {
    fc.assert(
      fc.property(
        worlds,
        fc.array(oddities, { maxLength: 20 }),
        fc.boolean(),
        fc.constantFrom(0, 300, 70_000),
        (world, odd, long, others) => {
          let k = 0
          const sessions = world.map((lines) =>
            lines.map((line, i) => ({
              ...line,
              ...odd[k++ % Math.max(1, odd.length)],
              t: line.t + (long && i > 0 ? 2 ** 33 : 0),
            })),
          )
          const own = new Dictionaries()
          const bytes = encodeBlock(buildDenseBlock(rowsOf(sessions), own), own)
          const dictionaries = new Dictionaries()
          for (let i = 0; i < others; i++) dictionaries.target.code(`other ${i}`)
          const columns = decodeColumns(bytes, dictionaries)
          const wanted = compactColumns(decodeDense(bytes, dictionaries))
          expect(shapeOf(COLUMN_LAYOUT, columns)).toEqual(shapeOf(COLUMN_LAYOUT, wanted))
          expect(columns).toEqual(wanted)
        },
      ),
      { numRuns: 150 },
    )
  })
  it('is read as it was written by the version before', () => {
    const at = (t: number, more: Partial<Line>): Line => ({ visitor: 'v', t, kind: 'page', ...more })
    const lines = [
      [
        at(5, { url: '/a' }),
        at(905, { kind: 'click', url: '/a', target: { selector: '#x' } }),
        at(2000, { url: '/b' }),
        at(2100, { url: '/b' }),
      ],
      [at(70, { kind: 'click', url: '/c', target: { selector: '#y' } }), at(71, { url: '/a' })],
    ]
    const rows = lines.map((own, i) => ({
      id: i + 1,
      visitor: `v${i}`,
      returning: false,
      device: { class: 'mobile' as const },
      channel: 'Direct' as const,
      lines: own,
    }))
    const dictionaries = new Dictionaries()
    const others = new Dictionaries()
    const again = decodeDense(inflateRawSync(Buffer.from(VERSION_2, 'base64')), others)
    expect(plain(again, others)).toEqual(plain(buildDenseBlock(rows, dictionaries), dictionaries))
  })
  it('holds its own words and no others', () => {
    const dictionaries = new Dictionaries()
    dictionaries.visitor.code('somebody else')
    const block = buildDenseBlock(rowsOf([[{ visitor: 'v', t: 5, kind: 'page', url: '/a' }]]), dictionaries)
    expect(new TextDecoder().decode(encodeBlock(block, dictionaries))).not.toContain('somebody else')
  })
  it('is refused where it is of another version or cut short', () => {
    const dictionaries = new Dictionaries()
    const lines: Line[] = Array.from({ length: 50 }, (_, i) => ({
      visitor: 'v',
      t: i,
      kind: 'page',
      url: `/${i}`,
    }))
    const bytes = encodeBlock(buildDenseBlock(rowsOf([lines]), dictionaries), dictionaries)
    expect(() => decodeDense(bytes.subarray(0, bytes.length - 3), new Dictionaries())).toThrow(RangeError)
    const text = new TextDecoder('latin1').decode(bytes).replace('"version":4', '"version":9')
    const other = Uint8Array.from(text, (c) => c.charCodeAt(0))
    expect(() => decodeDense(other, new Dictionaries())).toThrow(/version 9/)
  })
})

describe('a compact block', () => {
  const odd = fc.tuple(worlds, fc.array(oddities, { maxLength: 20 }), fc.boolean(), fc.boolean())
  it('says of every event, property, signal and session what the dense columns say, however wide they must be', () => {
    fc.assert(
      fc.property(odd, ([world, extras, long, wordy]) => {
        let k = 0
        const sessions = world.map((lines) =>
          lines.map((line, i) => ({
            ...line,
            ...extras[k++ % Math.max(1, extras.length)],
            // Some sessions last longer than 32 bits of milliseconds.
            t: line.t + (long && i > 0 ? 2 ** 33 : 0),
          })),
        )
        const dictionaries = new Dictionaries()
        if (wordy) for (let i = 0; i < 70_000; i++) dictionaries.page.code(`/unused/${i}`)
        const loose = buildDenseBlock(rowsOf(sessions), dictionaries)
        const compact = withSignals(compactColumns(loose))
        // Seen again through its shape alone, as another thread does.
        const block = viewBlock(partsOf(compact))
        const { memory, signalMemory } = partsOf(compact)
        expect(memory.byteLength + signalMemory.byteLength).toBe(blockBytes(partsOf(compact)))
        for (const column of ['event', 'events', 'kind'] as const)
          expect(block.signals[column]).toEqual(compact.signals[column])
        expect(block.sessions.firstSignal).toEqual(compact.sessions.firstSignal)
        for (const table of ['sessions', 'events', 'props'] as const)
          for (const [column, values] of Object.entries(loose[table])) {
            const compacted = (block[table] as unknown as Record<string, ArrayLike<number>>)[column]
            if (compacted !== undefined)
              expect(Array.from(compacted)).toEqual(Array.from(values as unknown as ArrayLike<number>))
          }
        const { events, points, propped } = block
        for (let i = 0; i < events.count; i++) {
          const own = loose.events
          expect([numberAt(block, i), amountAt(block, i)]).toEqual([own.number[i], own.amount[i]])
          const measure = rowOf(events.hasMeasure, events.measuresBefore, i)
          expect(measure < 0 ? NaN : block.measures.detail[measure]).toBe(own.detail[i])
          const point = rowOf(events.hasPoint, events.pointsBefore, i)
          const at = [points.x, points.y, points.rx, points.ry, points.w, points.h].map((c) =>
            point < 0 ? NaN : c[point],
          )
          expect(at).toEqual([own.x[i], own.y[i], own.rx[i], own.ry[i], own.w[i], own.h[i]])
          const row = rowOf(events.hasProps, events.propsBefore, i)
          const range = row < 0 ? [0, 0] : [propped.first[row]!, propped.first[row + 1]!]
          expect(range[1]! - range[0]!).toBe(own.firstProp[i + 1]! - own.firstProp[i]!)
          if (row >= 0) expect(range[0]).toBe(own.firstProp[i])
        }
      }),
      { numRuns: 120 },
    )
  })
  it('lists the page views in order, and all events page by page: first views, other views, then by kind and target', () => {
    fc.assert(
      fc.property(worlds, (world) => {
        const block = compactColumns(buildDenseBlock(rowsOf(world), new Dictionaries()))
        const { events, sessions, views, pages, postings } = block
        const all = Array.from(events.kind, (kind, i) => ({ kind, i }))
        expect([...views.event]).toEqual(all.filter(({ kind }) => kind === KIND_CODE.page).map(({ i }) => i))
        expect([...views.page]).toEqual([...views.event].map((i) => events.page[i]))
        for (let i = 0; i < events.count; i++)
          expect(viewsBefore(events, i)).toBe([...views.event].filter((event) => event < i).length)
        const sessionOf = (i: number) => sessions.firstEvent.findLastIndex((from) => from <= i)
        const isFirst = (i: number) =>
          !all.some(
            (one) =>
              one.kind === KIND_CODE.page &&
              one.i < i &&
              events.page[one.i] === events.page[i] &&
              sessionOf(one.i) === sessionOf(i),
          )
        const keyOf = (i: number) => [
          events.page[i]!,
          events.kind[i] !== KIND_CODE.page ? 2 : isFirst(i) ? 0 : 1,
          events.kind[i]!,
          events.target[i]!,
          i,
        ]
        const sorted = all.map(({ i }) => i).sort((a, b) => inOrder(keyOf(a), keyOf(b)))
        expect([...postings.event]).toEqual(sorted)
        for (const [at, i] of sorted.entries()) {
          const s = postings.session[at]!
          expect(sessions.firstEvent[s]! <= i && i < sessions.firstEvent[s + 1]!).toBe(true)
        }
        const ranges = Array.from({ length: pages.count }, (_, k) => {
          const own = sorted.slice(pages.first[k], pages.first[k + 1])
          expect(own.map((i) => events.page[i])).toEqual(own.map(() => pages.page[k]))
          expect(own.filter((i) => events.kind[i] === KIND_CODE.page)).toEqual(
            sorted.slice(pages.first[k], pages.other[k]),
          )
          expect(own.filter((i) => events.kind[i] === KIND_CODE.page && isFirst(i))).toEqual(
            sorted.slice(pages.first[k], pages.again[k]),
          )
          return own
        })
        expect(ranges.flat()).toEqual(sorted)
      }),
    )
  })
})

function inOrder(a: readonly number[], b: readonly number[]): number {
  const k = a.findIndex((value, i) => value !== b[i])
  return k < 0 ? 0 : a[k]! - b[k]!
}
