import { expect, it } from 'vitest'
import type { Going } from '../../testing/going.ts'
import { buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'

const entryOf = (going: Going) => `#sizes > div:nth-of-type(${1 + Math.floor(going.roll() * 6)})`

it('a label beside what works in each of several boxes is compared with those who used one of these, though no two are the same', () => {
  let lost = 0
  const lines = world(6000, 131, (going) => {
    going.page('/product')
    const eager = going.roll()
    if (going.roll() > 0.3 + 0.6 * eager) return going.leave()
    const [entry, pays] = [entryOf(going), going.roll() < 0.75]
    // The eager click more on names, and go on more: beside other viewers of the page it would seem to help.
    if (going.roll() < 0.1 + 0.3 * eager) {
      going.click(`${entry} > span`, 'none')
      // Who wants something often tries again.
      if (going.roll() < 0.4) going.click(`${entry} > span`, 'none')
      if (going.roll() < 0.3) {
        if (pays) lost++
        return going.leave()
      }
    }
    going.click(`${entry} > button`, 'change')
    if (going.roll() < 0.2) return going.leave()
    going.click('a.buy', 'navigate')
    return buyIf(going, pays)
  })
  const { candidates, days } = pricesIn(lines)
  expect(candidates[0]).toMatchObject({
    ...{ kind: 'dead click', selector: '#sizes > div > span', design: 'instead', confident: true },
  })
  const truth = (0.8 * lost * 30) / days
  expect(candidates[0]!.price.value / truth).toBeGreaterThan(0.85)
  expect(candidates[0]!.price.value / truth).toBeLessThan(1.15)
})

it.each([0.1, 0])(
  'words in boxes that are clicked on while they are read cost nothing, whatever leaves at any second: %f',
  (leaves) => {
    const lines = world(6000, 133, (going) => {
      going.page('/product')
      const entry = entryOf(going)
      for (let k = 0; k < 4; k++) {
        if (going.roll() < leaves) return going.leave()
        if (going.roll() < 0.06) going.click(`${entry} > span`, 'none')
        going.add('scroll', { depth: 0.3 + k / 10 })
      }
      if (going.roll() < 0.3) return going.leave()
      going.click(`${entry} > button`, 'change')
      if (going.roll() < 0.2) return going.leave()
      going.click('a.buy', 'navigate')
      return buyIf(going, going.roll() < 0.75)
    })
    expect(pricesIn(lines).candidates.filter(({ confident }) => confident)).toEqual([])
  },
)
