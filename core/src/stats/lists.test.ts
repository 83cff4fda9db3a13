import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { GrowingLists, listOf, quantileAbove, together } from './lists.ts'
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
  it('are put together in memory of their own', () => {
    fc.assert(
      fc.property(rows, (of) => {
        const lists = listsOf(of)
        const all = together(
          Uint32Array,
          of.map((_, row) => listOf(lists, row)),
        )
        expect([...all]).toEqual(of.flat())
        all.fill(1)
        expect(plain(lists)).toEqual(of)
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
