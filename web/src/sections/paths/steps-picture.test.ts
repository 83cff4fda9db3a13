// @vitest-environment happy-dom
import type { PathStepsAnswer } from '@dust-trail/core'
import { describe, expect, it } from 'vitest'
import { stepsPicture } from './steps-picture.ts'

const page = (name: string, sessions: number) => ({ kind: 'page' as const, page: name, sessions, ended: 0 })
const ANSWER: PathStepsAnswer = {
  ...{ sessions: 100, ended: 20 },
  steps: [
    {
      sessions: 80,
      places: [page('Home & <away>', 60), page('Help', 20)],
      links: [{ from: null, to: 0, sessions: 60 }],
    },
    {
      sessions: 40,
      places: [page('A page with a name of which there is no end', 40)],
      links: [
        { from: 0, to: 0, sessions: 30 },
        { from: 1, to: 0, sessions: 10 },
      ],
    },
  ],
}

describe('the picture of steps', () => {
  it('stands alone, with a box for each place and a line for each link, as wide as what walked it', () => {
    const svg = new DOMParser().parseFromString(
      stepsPicture(ANSWER, { focus: 'Start "here"', back: false }),
      'image/svg+xml',
    )
    expect(svg.querySelector('parsererror')).toBeNull()
    const texts = [...svg.querySelectorAll('text')].map(({ textContent }) => textContent)
    expect(texts[0]).toBe('From Start "here": 100 entered')
    expect(texts).toContain('Home & <away>')
    expect(texts).toContain('60.0 %')
    expect(texts.some((text) => text.endsWith('…') && text.length <= 22)).toBe(true)
    const lines = [...svg.querySelectorAll('path')].map((line) => Number(line.getAttribute('stroke-width')))
    expect(lines).toEqual([7.2, 2.4])
    expect(svg.documentElement.outerHTML).not.toContain('http://127')
  })
  it('reads from right to left where paths go back', () => {
    const placeX = (back: boolean) => {
      const svg = new DOMParser().parseFromString(stepsPicture(ANSWER, { focus: 'x', back }), 'image/svg+xml')
      return [...svg.querySelectorAll('.soft')].map((text) => Number(text.getAttribute('x')))
    }
    expect(placeX(false)).toEqual([...placeX(false)].sort((a, b) => a - b))
    expect(placeX(true)).toEqual([...placeX(true)].sort((a, b) => b - a))
  })
})
