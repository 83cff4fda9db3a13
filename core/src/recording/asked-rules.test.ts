import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { eachAskedRule } from './asked-rules.ts'

const keysOf = (rules: string) => {
  const keys: string[] = []
  eachAskedRule(rules, (key) => {
    keys.push(key)
    return ''
  })
  return keys
}
const put = (rules: string) => eachAskedRule(rules, () => '[K]')

describe('rules that ask for what a recording lacks', () => {
  it('are those for addresses, for what runs, for names, and for parts of words', () => {
    expect(put('a[href$=".pdf"], a[target=_blank] > b {}')).toBe('a[K], a[K] > b {}')
    expect(put('[onclick] [name="q" i] [title*=Sale] [loading]')).toBe('[K] [K] [K] [K]')
  })
  it('are not those for what a recording has', () => {
    const kept =
      'a[href] img[src] [class*="col-"] [data-plan="big one"] [type=text] [title="Whole"] [hidden] p[lang|=en]'
    expect(put(kept)).toBe(kept)
  })
  it('have the same key however they are written, and another where they ask for something else (property)', () => {
    const word = fc.stringMatching(/^[a-z]{1,8}$/)
    const asks = fc.tuple(
      fc.constantFrom('href', 'target', 'download', 'NAME', 'onclick'),
      fc.constantFrom('=', '^=', '$=', '*=', '~='),
      word,
      fc.constantFrom('', ' i', ' S'),
    )
    const plain = ([name, by, value, flag]: [string, string, string, string]) =>
      [name.toLowerCase(), by, value, flag.trim().toLowerCase()].join()
    fc.assert(
      fc.property(asks, asks, (one, other) => {
        const [name, by, value, flag] = one
        const [key] = keysOf(`[${name}${by}${value}${flag}]`)
        for (const way of [
          `[${name.toLowerCase()}${by}"${value}"${flag}]`,
          `[ ${name} ${by} '${value}'${flag} ]`,
        ])
          expect(keysOf(`p${way}:hover {}`)).toEqual([key])
        expect(keysOf(`[${other.join('')}]`)[0] === key).toBe(plain(one) === plain(other))
      }),
    )
  })
})
