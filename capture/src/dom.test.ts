// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest'
import { replace, toJson } from './dom.ts'

describe('JSON on a page that has changed how things are told', () => {
  const owner = Array.prototype as { toJSON?: () => string }
  afterEach(() => delete owner.toJSON)
  it('is told as the standard says, and what the page has done stays', () => {
    const own = () => 'bad'
    owner.toJSON = own
    expect(toJson({ a: [1, [2]] })).toBe('{"a":[1,[2]]}')
    expect(owner.toJSON).toBe(own)
    const round: { self?: unknown } = {}
    round.self = round
    expect(() => toJson(round)).toThrow()
    expect(owner.toJSON).toBe(own)
  })
})

describe('a function that is put in the place of another', () => {
  it('is left out where the page lets nobody', () => {
    const fixed = Object.freeze({ go: 1 })
    replace(fixed, 'go', 2)
    const open = { go: 1 }
    replace(open, 'go', 2)
    expect([fixed.go, open.go]).toEqual([1, 2])
  })
})
