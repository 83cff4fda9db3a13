import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Dictionary } from './dictionary.ts'
import { WordTable } from './word-table.ts'

/** Words of one and of two bytes a character, halves of pairs among them, and many that come again. */
const word = fc.oneof(
  fc.constantFrom('', 'a', 'b', 'visitor 1', 'visitor 2', 'ü', 'ÿ', 'Ā', '訪問者'),
  fc.string({ maxLength: 12 }),
  fc
    .array(fc.integer({ min: 0, max: 0xffff }), { maxLength: 5 })
    .map((units) => String.fromCharCode(...units)),
)
const words = fc.array(word, { maxLength: 200 })

describe('WordTable', () => {
  it('gives each word the code, and each code the word, that a dictionary gives', () => {
    fc.assert(
      fc.property(words, words, (own, others) => {
        const many = new WordTable()
        const plain = new Dictionary()
        for (const one of own) expect(many.code(one)).toBe(plain.code(one))
        expect(many.code(undefined)).toBe(0)
        for (const one of [...own, ...others]) expect(many.find(one)).toBe(plain.find(one))
        expect(many.size).toBe(plain.size)
        expect(many.values).toEqual(plain.values)
        for (const one of others) many.code(one)
        for (const one of others) plain.code(one)
        expect(many.values).toEqual(plain.values)
        expect(plain.values.map((_, code) => many.word(code))).toEqual(plain.values)
      }),
    )
  })
  it('hands words on as they lie, whatever of them the other has', () => {
    fc.assert(
      fc.property(fc.array(words, { maxLength: 5 }), fc.nat(1000), fc.string(), (turns, some, unknown) => {
        const one = new WordTable()
        const other = new WordTable()
        for (const turn of turns) {
          for (const each of turn) one.code(each)
          const from = Math.min(other.size, 1 + (some % one.size))
          other.append(structuredClone(one.packedFrom(from)))
        }
        expect(other.values).toEqual(one.values)
        for (const each of one.values) expect(other.find(each)).toBe(one.find(each))
        expect(other.code(unknown)).toBe(one.code(unknown))
      }),
    )
  })
  it('says where words are missing, or there is none', () => {
    const one = new WordTable()
    for (const each of ['a', 'b', 'c']) one.code(each)
    expect(() => new WordTable().append(one.packedFrom(3))).toThrow('words from 1 to 3 are missing')
    expect(() => one.word(4)).toThrow('no word with code 4')
    expect(() => new Dictionary().word(1)).toThrow('no word with code 1')
  })
  it('holds 100,000 words', () => {
    const many = new WordTable()
    for (let k = 0; k < 100_000; k++) many.code(`v${(k * 7919) % 100_003}`)
    expect(many.size).toBe(100_001)
    for (let k = 0; k < 100_000; k += 997)
      expect(many.word(many.find(`v${(k * 7919) % 100_003}`))).toBe(`v${(k * 7919) % 100_003}`)
  })
})
