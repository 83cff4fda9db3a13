import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { errorPlace, errorText } from './error-text.ts'

describe('errorText', () => {
  it.each([
    // Messages as browsers write them, from memory.
    [
      "Cannot read properties of undefined (reading 'price')",
      "Cannot read properties of undefined (reading 'price')",
    ],
    [
      'Unexpected token \'<\', "<!doctype"... is not valid JSON',
      'Unexpected token \'*\', "*"... is not valid JSON',
    ],
    ['No night 17 of 2026-12-01', 'No night * of *'],
    ['Loading chunk 5 failed (https://shop.example/a.3f9.js)', 'Loading chunk * failed (*)'],
    ['order 0d5c8f1e-1111-4a2b-9c3d-0123456789ab is gone', 'order * is gone'],
    ['session ab12cd34ef has ended', 'session * has ended'],
    ['anna@mail.example was refused', '* was refused'],
    ['a  b\n c', 'a b c'],
    ['', ''],
  ])('makes of %j %j', (message, text) => {
    expect(errorText(message)).toBe(text)
  })
  it('leaves what it made as it is', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60, unit: 'grapheme-ascii' }), (message) => {
        const once = errorText(message)
        expect(errorText(once)).toBe(once)
      }),
    )
  })
})

describe('errorPlace', () => {
  it('is the same in two engines and two builds', () => {
    const v8 = `TypeError: x is undefined
    at pay (https://shop.example/assets/app-3f9a2b7c.js:10:5)
    at HTMLButtonElement.<anonymous> (https://shop.example/assets/app-3f9a2b7c.js:99:1)
    at async Object.send (https://shop.example/lib/send.js?v=3:1:1)
    at last (https://shop.example/lib/send.js:1:1)`
    const other = `pay@https://shop.example/assets/app-77b21c0d.js:12:9
@https://shop.example/assets/app-77b21c0d.js:101:1
send@https://shop.example/lib/send.js?v=4:1:1`
    expect(errorPlace({ stack: v8 })).toBe('pay app-*.js < app-*.js < send send.js')
    expect(errorPlace({ stack: other })).toBe(errorPlace({ stack: v8 }))
  })
  it('is the file where there is no stack, and nothing where there is none', () => {
    expect(errorPlace({ source: 'https://shop.example/js/checkout.min.js?x=1' })).toBe('checkout.min.js')
    expect(errorPlace({ stack: 'no frames here', source: 'a.js' })).toBe('a.js')
    expect(errorPlace({})).toBe('')
  })
})
