import { expect, it } from 'vitest'
import { Dictionary, OTHER } from './dictionary.ts'

it('tells so many strings apart, and says so where there are more', () => {
  const words = new Dictionary(3)
  const codes = ['a', 'b', 'c', 'd', 'e', 'a'].map((word) => words.code(word))
  expect(codes).toEqual([1, 2, 3, 4, 4, 1])
  expect(words.word(4)).toBe(OTHER)
  expect([words.full, words.size]).toEqual([true, 5])
  expect(new Dictionary(3).full).toBe(false)
})
