import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { GrowingLists, joinLists, listOf, quantileAbove, sliceLists } from './lists.ts'
import { quantile } from './quantile.ts'

const rows = fc.array(fc.array(fc.nat(), { maxLength: 40 }), { minLength: 1, maxLength: 6 })
const plain = (lists: Parameters<typeof listOf>[0]) =>
  Array.from({ length: lists.first.length - 1 }, (_, row) => [...listOf(lists, row)])
const listsOf = (of: readonly (readonly number[])[], order = of.map((_, row) => row)) => {
  const growing = new GrowingLists(Uint32Array)
  of.forEach((numbers, row) => {
    growing.addRow()
    for (const number of numbers) growing.add(row, number)
  })
  return growing.packed(order)
}

describe('lists by row', () => {
  it('hold what was added, in the order of rows that is asked for', () => {
    fc.assert(
      fc.property(rows, (of) => {
        const order = of.map((_, row) => row).reverse()
        expect(plain(listsOf(of, order))).toEqual([...of].reverse())
      }),
    )
  })
  it('are cut between rows and put together again', () => {
    fc.assert(
      fc.property(rows, fc.nat(6), (of, cut) => {
        const at = Math.min(cut, of.length)
        const lists = listsOf(of)
        const [low, high] = [sliceLists(lists, 0, at), sliceLists(lists, at, of.length)]
        expect([...plain(low), ...plain(high)]).toEqual(of)
        const places = of.map((_, row) => ({ a: row < at ? row : -1, b: row < at ? -1 : row - at }))
        expect(plain(joinLists(Uint32Array, low, high, places))).toEqual(of)
      }),
    )
  })
  it('tell a quantile of which some lie below all', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(), { minLength: 1 }), fc.nat(50), (numbers, below) => {
        const all = [...new Array<number>(below).fill(-1), ...numbers].sort((a, b) => a - b)
        const found = quantileAbove(Float64Array.from(numbers), below, 0.75)
        if ((all.length - 1) * 0.75 < below) expect(found).toBeNull()
        else expect(found).toBeCloseTo(quantile(all, 0.75)!, 6)
      }),
    )
  })
})
