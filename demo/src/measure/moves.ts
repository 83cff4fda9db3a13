import { QUESTIONS } from '../site/content/help.ts'
import { nightBySlug } from '../site/content/nights.ts'
import { GALLERY } from '../site/sections/nights.ts'

/** Something a visitor can do to a page that changes it: measured once, played again by simulated visitors. */
export interface Move {
  name: string
  selector: string
  /** what is typed into fields before */
  fill?: Record<string, string>
}

const MONTHS = 3

/** What can be done on a page, in an order in which it can be done. */
export function movesOf(path: string): Move[] {
  if (path === '/nights')
    return [
      ...months(),
      ...['1', '2', '3', '0'].map((kind) => ({
        name: `kind:${kind}`,
        selector: `.filters [data-kind="${kind}"]`,
      })),
    ]
  if (path === '/hire')
    return ['1', '2', '3', '0'].map((kind) => ({
      name: `kind:${kind}`,
      selector: `.filters [data-kind="${kind}"]`,
    }))
  if (path.startsWith('/nights/') && nightBySlug(path.slice('/nights/'.length)))
    return [
      ...Array.from({ length: GALLERY }, (_, i) => ({
        name: `picture:${(i + 1) % GALLERY}`,
        selector: '.gallery .on',
      })),
      { name: 'guarantee', selector: '.guarantee summary' },
    ]
  if (path === '/help')
    return QUESTIONS.map(({ id }) => ({ name: `question:${id}`, selector: `#${id} summary` }))
  if (path.includes('/party')) return [{ name: 'guests', selector: '.stepper .more' }]
  if (path.endsWith('/payment'))
    return [{ name: 'promo', selector: '.apply', fill: { '#promo': 'WINTER-10' } }]
  return []
}

function months(): Move[] {
  const on = Array.from({ length: MONTHS }, (_, i) => ({
    name: `month:${i}>${i + 1}`,
    selector: '.month-picker .on',
  }))
  const back = Array.from({ length: MONTHS }, (_, i) => ({
    name: `month:${MONTHS - i}>${MONTHS - i - 1}`,
    selector: '.month-picker .back',
  }))
  return [...on, ...back]
}
