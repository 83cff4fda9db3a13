import { describe, expect, it } from 'vitest'
import { tokenName } from './token-names.ts'

describe('tokenName', () => {
  const selector = 'body > main > div.columns > a.button'
  it('says the text of the element where it is known, else the end of its selector', () => {
    const click = { kind: 'click' as const, page: 'A night', what: selector }
    expect(tokenName(click, 'Book this night')).toBe('click “Book this night” on A night')
    expect(tokenName(click, undefined)).toBe('click div.columns > a.button on A night')
  })
  it('leaves alone what is no element', () => {
    expect(tokenName({ kind: 'error', page: 'A night', what: 'a > b > c' }, 'text')).toBe(
      'error a > b > c on A night',
    )
    expect(tokenName({ kind: 'page', page: 'A night', what: '' }, undefined)).toBe('A night')
  })
})
