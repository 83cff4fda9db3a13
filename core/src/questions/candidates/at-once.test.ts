import { describe, expect, it } from 'vitest'
import type { Going } from '../../testing/going.ts'
import { world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'

/** Reads on by steps of about two seconds, each of which may be the last one; whether they are still there. */
function reads(going: Going, steps: number, leaves: number): boolean {
  for (let k = 0; k < steps; k++) {
    going.add('scroll', { depth: Math.min(1, 0.1 + 0.05 * k) })
    if (going.roll() < leaves) return false
  }
  return true
}

/** A page that is read for half a minute and more, on which those who want little choose a size more often, and leave sooner. */
function sizes(harm: number, seed: number) {
  let lost = 0
  const lines = world(8000, seed, (going) => {
    going.page('/list')
    const keen = going.roll() < 0.5
    const leaves = keen ? 0.008 : 0.02
    const pays = going.roll() < (keen ? 0.8 : 0.6)
    if (!reads(going, 3, leaves)) return going.leave()
    const gone = going.roll() < harm
    const meets = going.roll() < (keen ? 0.2 : 0.4)
    if (meets) {
      going.click('#size', 'none')
      going.atOnce('error', {
        message: 'size is undefined',
        target: { selector: '#size', tag: 'select' },
      })
    }
    // Drawn on, so that it is known whether they would have stayed.
    const before = going.lines.length
    const stays = reads(going, 16, leaves)
    if (meets && gone) {
      if (stays && pays) lost++
      going.lines.splice(before)
      const at = going.lines.at(-1)!.t + 1500
      going.lines.push({ visitor: 'v', t: at, kind: 'leave', ms: 1000 })
      return going.lines
    }
    if (!stays) return going.leave()
    going.click('a.more', 'navigate')
    going.page('/item')
    if (pays) going.page('/done')
    return going.leave()
  })
  return { ...pricesIn(lines), lost }
}

describe('what those who meet it leave over', () => {
  it('is priced beside other people by how many leave at once, as far as these leave more than later', () => {
    const { candidates, days, lost } = sizes(0.25, 81)
    const truth = (lost * 30) / days
    const found = candidates.find(({ selector }) => selector === '#size')!
    expect(found).toMatchObject({ kind: 'script error', design: 'page' })
    expect(found.price.low).toBeLessThan(truth)
    expect(found.price.high).toBeGreaterThan(truth)
    expect(found.price.value / truth).toBeGreaterThan(0.7)
    expect(found.price.value / truth).toBeLessThan(1.4)
    // By who they might be alone it would be as wide as itself.
    expect(found.price.low).toBeGreaterThan(0.3 * truth)
  })

  it.each([82, 83])('is nothing where those who meet it leave sooner all along', (seed) => {
    const { candidates } = sizes(0, seed)
    expect(candidates.filter(({ selector }) => selector === '#size')).toEqual([])
  })

  it('is a field that all correct who fill it in, whether or not it was filled in before', () => {
    let lost = 0
    const lines = world(5000, 84, (going) => {
      going.page('/basket')
      const pays = going.roll() < 0.75
      if (!reads(going, 3, 0.03)) return going.leave()
      if (going.roll() < 0.3) {
        going.add('input', {
          target: { selector: '#code', tag: 'input' },
          length: 8,
          corrections: 5,
          ms: 9000,
        })
        if (going.roll() < 0.25) {
          if (pays) lost++
          return going.leave()
        }
      }
      if (!reads(going, 12, 0.01)) return going.leave()
      going.click('a.pay', 'navigate')
      going.page('/pay')
      if (pays) going.page('/done')
      return going.leave()
    })
    const { candidates, days } = pricesIn(lines)
    const truth = (lost * 30) / days
    const found = candidates.find(({ selector }) => selector === '#code')!
    expect(found).toMatchObject({ kind: 'corrected field', design: 'page', confident: false })
    expect(found.price.low).toBeGreaterThan(0.1 * truth)
    expect(found.price.low).toBeLessThan(truth)
    expect(found.price.high).toBeGreaterThan(truth)
  })
})
