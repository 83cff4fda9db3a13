// @vitest-environment happy-dom
import { rate } from '@dust-trail/core'
import { cleanup, render } from '@testing-library/react'
import { afterEach, describe, expect, it } from 'vitest'
import { certaintyText, Difference, verdictOf } from './difference.tsx'

afterEach(cleanup)

describe('a verdict on a difference', () => {
  it.each([
    ['more', 0.1, [0.05, 0.15], undefined],
    ['less', -0.1, [-0.15, -0.05], undefined],
    ['cannot tell', 0.1, [-0.01, 0.2], undefined],
    // Zero itself is no difference.
    ['cannot tell', 0.1, [0, 0.2], undefined],
    ['more', 0.1, [0.05, 0.15], 0.049],
    ['cannot tell', 0.1, [0.05, 0.15], 0.05],
    ['cannot tell', 0.1, [0.05, 0.15], null],
    ['nobody to compare with', null, [-1, 1], undefined],
  ] as const)('is %s', (verdict, found, [low, high], p) => {
    expect(verdictOf(found, [low, high], p)).toBe(verdict)
  })
  it('stands with the interval that it rests on', () => {
    expect(certaintyText(0.1, [0.05, 0.15])).toBe('yes: +5.0 to +15.0 pp')
    expect(certaintyText(-0.1, [-0.25, 0.05])).toBe('cannot tell: −25.0 to +5.0 pp')
    expect(certaintyText(null, [-1, 1])).toBe('nobody to compare with')
  })
  // Newcombe (1998), Statist. Med. 17:873, table II, column (a): 56/70 and 48/80, method 10: 0.0524 to 0.3339.
  it('has the interval of the published example', () => {
    const { container } = render(<Difference a={rate(56, 70)} b={rate(48, 80)} />)
    expect(container.textContent).toBe('+20.0 pp (+5.2 pp to +33.4 pp)')
  })
})
