import { describe, expect, it } from 'vitest'
import { casesOf } from '../../../core/checks/cases.ts'
import type { ColourRole } from './tokens.ts'
import { THEMES } from './tokens.ts'

/** Contrast ratio of two sRGB colours. @see WCAG 2.2, definitions of relative luminance and contrast ratio */
function contrast(a: string, b: string): number {
  const luminance = (hex: string) => {
    const [r, g, blue] = [1, 3, 5].map((i) => {
      const c = parseInt(hex.slice(i, i + 2), 16) / 255
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
    })
    return 0.2126 * r! + 0.7152 * g! + 0.0722 * blue!
  }
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x)
  return (high! + 0.05) / (low! + 0.05)
}

describe('contrast', () => {
  const cases = casesOf<Record<string, string>, { ratio: number }>('web', 'contrast_ratio')
  it.each(cases)('is measured as published: $id ($source)', ({ inputs, expected }) => {
    const [a, b] = Object.values(inputs)
    expect(contrast(a!, b!)).toBeCloseTo(expected.ratio, 2)
  })
})

const TEXT: [ColourRole, ColourRole][] = [
  ...(['ink', 'ink-soft', 'spruce', 'clay', 'ochre-text'] as const).flatMap((text) =>
    (['chalk', 'sheet'] as const).map((ground): [ColourRole, ColourRole] => [text, ground]),
  ),
  ['on-spruce', 'spruce'],
  ['ink', 'ochre-soft'],
  ['ink-soft', 'ochre-soft'],
  ['ochre-text', 'ochre-soft'],
  ['spruce', 'ochre-soft'],
  ['clay', 'ochre-soft'],
  ['ink', 'clay-soft'],
  ['ink', 'spruce-soft'],
]
const SHAPES: [ColourRole, ColourRole][] = [
  ['spruce', 'sheet'],
  ['clay', 'sheet'],
  ['ochre', 'sheet'],
  ['stone', 'sheet'],
]

describe.each(['light', 'dark'] as const)('%s theme', (theme) => {
  const colours = THEMES[theme]
  it.each(TEXT)('%s on %s can be read (4.5:1)', (text, ground) => {
    expect(contrast(colours[text], colours[ground])).toBeGreaterThanOrEqual(4.5)
  })
  it.each(SHAPES)('%s on %s can be seen (3:1)', (shape, ground) => {
    expect(contrast(colours[shape], colours[ground])).toBeGreaterThanOrEqual(3)
  })
})
