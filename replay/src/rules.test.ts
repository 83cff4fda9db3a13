import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { restedRules } from './rules.ts'

/** How much a selector stands for, by hand: Selectors Level 4, section 17. */
describe('restedRules', () => {
  it.each([
    ['a:hover { color: red }', 'a[data-trail-hover] { color: red }'],
    ['a:focus:not(:focus-visible) {}', 'a[data-trail-focus]:not([data-trail-focus=visible]) {}'],
    ['form:focus-within {}', 'form[data-trail-within] {}'],
    ['x-a:not(:defined) {}', 'x-a:not(:not([data-trail-undefined])) {}'],
    ['input:user-invalid, input:invalid {}', 'input[data-trail-invalid=user], input[data-trail-invalid] {}'],
    [
      'x-a:state(open), :host(:state( b-c )) {}',
      'x-a[data-trail-states~="open"], :host([data-trail-states~="b-c"]) {}',
    ],
    [
      'input:in-range {} input:out-of-range {}',
      'input[data-trail-range=in] {} input[data-trail-range=out-of] {}',
    ],
    [
      'button:default, input:default {}',
      'button:is(:where(button,[type=submit],[type=image]):default,[data-trail-default]), input:is(:where(button,[type=submit],[type=image]):default,[data-trail-default]) {}',
    ],
    [':target { top: 0 } ', '[data-trail-target] { top: 0 } '],
    [
      'canvas { width: 1px } img {}',
      'img:where([data-trail-canvas]) { width: 1px } img:where(:not([data-trail-canvas])) {}',
    ],
    [
      '@media (min-width: 1px) { b:active { color: red } }',
      '@media (min-width: 1px) { b[data-trail-active] { color: red } }',
    ],
    [
      'a[href$=".pdf"]:hover::after, a[href] { content: "[target=x]" }',
      'a[data-trail-asked~="jawpgl"][data-trail-hover]::after, a[href] { content: "[target=x]" }',
    ],
    [
      'b { content-visibility: auto; contain-intrinsic-size: auto 9px } i { content-visibility: auto; contain-intrinsic-size: 9px }',
      'b { content-visibility: visible; contain-intrinsic-size: auto 9px } i { content-visibility: auto; contain-intrinsic-size: 9px }',
    ],
    ['div { color: red; &:hover { top: 0 } }', 'div { color: red; &[data-trail-hover] { top: 0 } }'],
  ])('%s', (rules, rested) => {
    expect(restedRules(rules)).toBe(rested)
  })
  it.each([
    String.raw`.hover\:red { color: red }`,
    String.raw`.md\:focus\:x {}`,
    '@media (hover:hover) { b {} }',
    'a { content: ":hover" }',
    '.canvas, #img, [data-x=canvas], my-canvas, .img {}',
    'p { background: url(canvas.png) }',
    ':target-within {}',
    '@layer img, canvas { b {} }',
    '@keyframes canvas { from { top: 0 } }',
    'a[alt="img"] {}',
  ])('leaves %s', (rules) => {
    expect(restedRules(rules)).toBe(rules)
  })
  it.each([
    ['@media (min-width: 600px) { b {} }', '@media (max-width: 0px) { b {} }'],
    ['@media screen and (max-width:37.5em) { b {} }', '@media screen and (min-width: 0px) { b {} }'],
    [
      '@media (width >= 390px) { b {} } @media (width<390px) {}',
      '@media (min-width: 0px) { b {} } @media (max-width: 0px) {}',
    ],
    ['p { width: calc(50vw - 10px); min-width: 600px }', 'p { width: calc(195px - 10px); min-width: 600px }'],
    ['.w-50vw { background: url(a50vw.png) }', '.w-50vw { background: url(a50vw.png) }'],
  ])('of a page that was laid out narrower than it is seen: %s', (rules, laid) => {
    expect(restedRules(rules, 390)).toBe(laid)
    expect(restedRules(rules)).toBe(rules)
  })
  it('changes nothing but what stands before blocks, and nothing twice', () => {
    const part = fc.constantFrom(
      'a',
      ':hover',
      ':focus',
      '{',
      '}',
      ';',
      ' ',
      'canvas',
      'color:red',
      '@media x',
      '"',
      ',',
    )
    fc.assert(
      fc.property(fc.array(part, { maxLength: 30 }), (parts) => {
        const text = parts.join('')
        const rested = restedRules(text)
        expect(restedRules(rested).replaceAll(':where(:not([data-trail-canvas]))', '')).toBe(
          rested.replaceAll(':where(:not([data-trail-canvas]))', ''),
        )
        expect(rested.replaceAll(/[^{}]/g, '')).toBe(text.replaceAll(/[^{}]/g, ''))
        const after = (whole: string) => whole.slice(whole.lastIndexOf('{') + 1)
        expect(after(rested)).toBe(after(text))
      }),
    )
  })
  it('is done in time that grows with the length', () => {
    const long = `:root { ${'--a-variable: 1px; '.repeat(20_000)} } a:hover {}`
    expect(restedRules(long)).toContain('a[data-trail-hover]')
  })
  it('cannot end the element that they stand in', () => {
    expect(restedRules('p::before { content: "</STYLE><script>" }')).toBe(
      'p::before { content: "<\\/STYLE><script>" }',
    )
  })
})
