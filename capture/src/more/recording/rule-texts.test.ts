// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest'
import { ruleText, rulesText, wrote } from './rule-texts.ts'

/** As a browser tells of `.a { border: 1px solid var(--line); border-bottom-color: red }` (seen in Chromium). */
const told = (selectorText: string) =>
  ({
    selectorText,
    cssText: `${selectorText} { border-top-width: ; border-top-style: ; border-bottom-color: red; }`,
  }) as CSSStyleRule

describe('ruleText', () => {
  afterEach(() => document.body.replaceChildren())

  it('is what a script wrote, without what its author noted there', () => {
    const rule = told('.a')
    wrote(rule, '.a { border: 1px solid var(--line); /* for ada@example.org */ border-bottom-color: red }')
    expect(ruleText(rule, document)).toBe('.a { border: 1px solid var(--line);  border-bottom-color: red }')
    ;(rule as { cssText: string }).cssText = '.a { border-top-width: ; border-bottom-color: blue; }'
    // It has been changed since.
    expect(ruleText(rule, document)).toContain('blue')
  })
  it('is read off an element for which it holds, but for what the browser tells', () => {
    document.body.innerHTML = '<p class="a" style="border-top: 3px solid red">x</p>'
    expect(ruleText(told('.a'), document)).toBe(
      '.a { border-top-width: 3px; border-top-style: solid; border-bottom-color: red; }',
    )
    const inside = told('.a')
    const media = {
      cssText: `@media print {\n  ${inside.cssText}\n}`,
      cssRules: [inside],
    } as unknown as CSSRule
    expect(rulesText([media], document)).toBe(`@media print {\n  ${ruleText(inside, document)}\n}\n`)
  })
  it('stays as it is told where nothing is known, or nothing is lost', () => {
    for (const rule of [told('.nobody'), told(':::'), { cssText: '.a { --x: ; color: red; }' } as CSSRule])
      expect(ruleText(rule, document)).toBe(rule.cssText)
  })
})
