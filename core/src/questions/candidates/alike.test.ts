import { describe, expect, it } from 'vitest'
import type { Going } from '../../testing/going.ts'
import { buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'

/** Times of several days, each a button of its own; a press may fail, and some leave over that. */
function times(fails: (element: number, going: Going) => boolean) {
  let lost = 0
  const lines = world(6000, 151, (going) => {
    going.page('/times')
    if (going.roll() < 0.3) return going.leave()
    const element = Math.floor(going.roll() * 30)
    const selector = `#times > div:nth-of-type(${1 + (element % 5)}) > button:nth-of-type(${1 + Math.floor(element / 5)})`
    const pays = going.roll() < 0.75
    const request = (status: number) =>
      going.atOnce('request', {
        ...{ method: 'POST', path: '/hold', status, ms: 200 },
        target: { selector, tag: 'button' },
      })
    if (fails(element, going)) {
      going.click(selector, 'none')
      request(409)
      if (going.roll() < 0.4) {
        if (pays) lost++
        return going.leave()
      }
    }
    going.click(selector, 'navigate')
    request(200)
    return buyIf(going, pays)
  })
  return { lines, lost }
}

const failed = ({ candidates }: ReturnType<typeof pricesIn>) =>
  candidates.filter(({ kind }) => kind === 'failed request')

describe('elements alike', () => {
  it('that fail now here and now there are one trouble, with the cost of all', () => {
    const { lines, lost } = times((_, going) => going.roll() < 0.15)
    const priced = pricesIn(lines)
    expect(failed(priced)).toMatchObject([
      { selector: '#times > div > button', design: 'attempt', confident: true },
    ])
    const truth = (lost * 30) / priced.days
    expect(failed(priced)[0]!.price.value / truth).toBeGreaterThan(0.85)
    expect(failed(priced)[0]!.price.value / truth).toBeLessThan(1.15)
  })

  it('of which one fails stay apart: that one is named', () => {
    const { lines } = times((element, going) => element === 7 && going.roll() < 0.8)
    expect(failed(pricesIn(lines))).toMatchObject([
      { selector: '#times > div:nth-of-type(3) > button:nth-of-type(2)' },
    ])
  })
})
