// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { lanesPicture } from './lanes-picture.ts'

const page = (name: string) => ({ kind: 'page' as const, page: name })
const LANES = [
  {
    places: [page('Nights'), page('A <night> of which the name has no end')],
    sessions: 40,
    ended: 10,
    told: ['5.0 % Booked'],
  },
  { places: [page('Help')], sessions: 20, ended: 20, told: [] },
]
const read = (back: boolean) => {
  const svg = lanesPicture(LANES, { focus: 'Home', back, entered: 100 })
  const parsed = new DOMParser().parseFromString(svg, 'image/svg+xml')
  return {
    svg: parsed,
    texts: [...parsed.querySelectorAll('text')].map(({ textContent }) => textContent),
    lines: [...parsed.querySelectorAll('path')].map((line) => Number(line.getAttribute('stroke-width'))),
  }
}

describe('the picture of routes', () => {
  it('stands alone: a line for each, as thick as its share, with what became of those who walked it', () => {
    const { svg, texts, lines } = read(false)
    expect(svg.querySelector('parsererror')).toBeNull()
    expect(texts[0]).toBe('Routes from Home: 100 entered')
    expect(texts).toContain('40.0 % 40')
    expect(texts).toContain('25.0 % ended here · 5.0 % Booked')
    expect(texts).toContain('100.0 % ended here')
    expect(lines).toEqual([9.6, 4.8])
    expect(texts.some((text) => text.startsWith('A <night>') && text.endsWith('…'))).toBe(true)
  })
  it('reads towards the focus where it looks back', () => {
    const { texts } = read(true)
    const row = texts.slice(texts.indexOf('40.0 % 40') + 1, texts.indexOf('20.0 % 20'))
    expect(row[1]).toBe('Nights')
    expect(row[2]).toBe('Home')
    expect(row[3]).toBe('25.0 % began here · 5.0 % Booked')
  })
})
