import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { rowsOf, worlds } from '../test-world.ts'
import type { Block } from './columns.ts'
import { buildBlock, countsOf, Dictionaries, eachColumn } from './columns.ts'
import type { Line } from './line.ts'
import { decodeBlock, encodeBlock } from './packing.ts'

/** A block's columns as plain lists, codes as the words they mean, so that blocks of different dictionaries compare. */
function plain(block: Block, dictionaries: Dictionaries): Record<string, unknown[]> {
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
  for (const table of ['events', 'signals'])
    for (const column of ['page', 'target', 'text', 'name'] as const) words[`${table}.${column}`] = column
  const lists: Record<string, unknown[]> = {}
  eachColumn(countsOf(block), (table, column) => {
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
        const block = buildBlock(rowsOf(sessions), dictionaries)
        const others = new Dictionaries()
        for (const word of ['/c', '/zzz', '/a']) others.page.code(word)
        const again = decodeBlock(encodeBlock(block, dictionaries), others)
        expect(plain(again, others)).toEqual(plain(block, dictionaries))
      }),
      { numRuns: 500 },
    )
  })
  it('holds its own words and no others', () => {
    const dictionaries = new Dictionaries()
    dictionaries.visitor.code('somebody else')
    const block = buildBlock(rowsOf([[{ visitor: 'v', t: 5, kind: 'page', url: '/a' }]]), dictionaries)
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
    const bytes = encodeBlock(buildBlock(rowsOf([lines]), dictionaries), dictionaries)
    expect(() => decodeBlock(bytes.subarray(0, bytes.length - 3), new Dictionaries())).toThrow(RangeError)
    const text = new TextDecoder('latin1').decode(bytes).replace('"version":1', '"version":9')
    const other = Uint8Array.from(text, (c) => c.charCodeAt(0))
    expect(() => decodeBlock(other, new Dictionaries())).toThrow(/version 9/)
  })
})
