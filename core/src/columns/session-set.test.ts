import fc from 'fast-check'
import { expect, it } from 'vitest'
import { SessionSet } from './session-set.ts'

const members = fc.uniqueArray(fc.nat(99), { maxLength: 60 })
const make = (of: number[]) => SessionSet.where(100, (s) => of.includes(s))
const sorted = (values: Iterable<number>) => [...values].sort((a, b) => a - b)

it('behaves as a plain set does', () => {
  fc.assert(
    fc.property(members, members, (a, b) => {
      const [x, y] = [make(a), make(b)]
      expect(x.count()).toBe(a.length)
      expect([...x]).toEqual(sorted(a))
      expect([...x.and(y)]).toEqual(sorted(a.filter((s) => b.includes(s))))
      expect([...x.or(y)]).toEqual(sorted(new Set([...a, ...b])))
      expect([...x.without(y)]).toEqual(sorted(a.filter((s) => !b.includes(s))))
      expect(a.every((s) => x.has(s))).toBe(true)
      const visited: number[] = []
      x.forEach((s) => visited.push(s))
      expect(visited).toEqual(sorted(a))
      const list = new Uint32Array(100)
      expect([...list.subarray(0, x.listInto(list))]).toEqual(sorted(a))
      const codes = Uint8Array.from({ length: 100 }, (_, s) => s % 3)
      expect([...x.whereCode(codes, Uint8Array.of(0, 1, 1))]).toEqual(sorted(a.filter((s) => s % 3 > 0)))
      const numbers = Float64Array.from({ length: 100 }, (_, s) => (s === 50 ? NaN : s / 2))
      expect([...x.whereWithin(numbers, 10, 40)]).toEqual(
        sorted(a.filter((s) => s >= 20 && s < 80 && s !== 50)),
      )
      expect(x.isIn(y)).toBe(a.every((s) => b.includes(s)))
      expect(x.isEmpty()).toBe(a.length === 0)
      expect([...x.where((s) => s % 2 === 0)]).toEqual(sorted(a.filter((s) => s % 2 === 0)))
      for (const s of b) x.delete(s)
      expect([...x]).toEqual(sorted(a.filter((s) => !b.includes(s))))
    }),
  )
})

it('holds every session of a block whatever its size', () => {
  for (const size of [0, 1, 31, 32, 33, 64]) expect(SessionSet.all(size).count()).toBe(size)
})

it('refuses sessions outside and sets of other blocks', () => {
  expect(() => new SessionSet(3).add(3)).toThrow(RangeError)
  expect(() => new SessionSet(3).and(new SessionSet(4))).toThrow(RangeError)
})
