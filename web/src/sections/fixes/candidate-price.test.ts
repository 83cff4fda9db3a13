import type { Candidate } from '@dust-trail/core'
import { expect, it } from 'vitest'
import { candidateFor } from './candidate-price.tsx'

const one = (more: Partial<Candidate>): Candidate =>
  ({
    ...{ page: 'Details', selector: '#details > button', kind: 'refused form', met: { type: 'everyone' } },
    ...more,
  }) as Candidate
const dead = one({ kind: 'dead click', selector: 'ul > li > svg', page: 'Nights' })
const slow = one({ kind: 'became slow', selector: '', page: 'Nights' })
const all = [one({}), dead, slow]

it('finds the candidate of a signal at its element, whatever its place among siblings', () => {
  const signal = { type: 'signal' as const, kind: 'dead click' as const, page: 'Nights' }
  expect(candidateFor(all, { ...signal, selector: 'ul > li > svg:nth-of-type(2)' })).toBe(dead)
  expect(candidateFor(all, { ...signal, selector: 'ul > li > a' })).toBeUndefined()
  expect(candidateFor(all, { ...signal, page: 'Details', selector: 'ul > li > svg' })).toBeUndefined()
})

it('knows which signals are told of the form or of the page', () => {
  const signal = { type: 'signal' as const, selector: '#details' }
  expect(candidateFor(all, { ...signal, kind: 'failed submit', page: 'Details' })).toBe(all[0])
  expect(candidateFor(all, { ...signal, kind: 'slow page', page: 'Nights', selector: '' })).toBe(slow)
})

it('knows a candidate by its own selection, and no other', () => {
  const met = { type: 'page' as const, page: 'Search' }
  const search = one({ kind: 'no results', page: 'Search', met })
  expect(candidateFor([...all, search], met)).toBe(search)
  expect(candidateFor(all, met)).toBeUndefined()
})
