/** Colours by role. One place for style sheet, canvases and the contrast check. */
export const THEMES = {
  light: {
    chalk: '#F5F6F2',
    sheet: '#FFFFFF',
    line: '#D9DED6',
    ink: '#18211D',
    'ink-soft': '#55615A',
    spruce: '#1F5C4D',
    'on-spruce': '#FFFFFF',
    'spruce-soft': '#DCE9E3',
    ochre: '#B87A10',
    'ochre-text': '#7A4F00',
    'ochre-soft': '#F6EBD3',
    clay: '#A6452B',
    'clay-soft': '#F3DFD8',
    iris: '#5A5794',
    stone: '#7F8781',
  },
  dark: {
    chalk: '#111815',
    sheet: '#18211D',
    line: '#33403A',
    ink: '#E9EEE9',
    'ink-soft': '#A9B5AE',
    spruce: '#6FBFA5',
    'on-spruce': '#0E1714',
    'spruce-soft': '#22392F',
    ochre: '#D99A2B',
    'ochre-text': '#E7B660',
    'ochre-soft': '#3A2F18',
    clay: '#E08467',
    'clay-soft': '#41281F',
    iris: '#A5A2DE',
    stone: '#8D968F',
  },
} as const

export type Theme = keyof typeof THEMES
export type ColourRole = keyof (typeof THEMES)['light']
