import { expect, it } from 'vitest'
import { buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'

/** A list whose entries are tried one after another until one fits; each may lead to a page that is gone. */
function tried(gone: number, givesUp: number): { lost: number; lines: ReturnType<typeof world> } {
  let lost = 0
  const lines = world(6000, 97, (going) => {
    going.page('/list')
    let again = false
    for (let k = 0; k < 6; k++) {
      if (!again && going.roll() < 0.08) return going.leave()
      again = false
      going.click('a.card', 'navigate')
      const [isGone, leaves] = [going.roll() < gone, going.roll() < givesUp]
      if (isGone) {
        going.page('/flat', { status: 404 })
        if (leaves) {
          // Of those who leave so many would have come to the basket: each further look has a chance of 0.3 for it.
          let [stays, share] = [0.92, 0.3]
          for (let n = k + 1; n < 6; n++, stays *= 0.92 * 0.7) share += 0.7 * stays * 0.3
          lost += Math.min(1, share) * 0.75
          return going.leave()
        }
        // Who goes on takes another entry instead.
        going.page('/list')
        again = true
        k--
        continue
      }
      going.page('/flat')
      if (going.roll() < 0.3) {
        going.click('a.write', 'navigate')
        return buyIf(going, going.roll() < 0.75)
      }
      going.page('/list')
    }
    return going.leave()
  })
  return { lost, lines }
}

it('what befalls one try or another is compared with tries of those who tried as often, not with those who were soon further', () => {
  const { lines, lost } = tried(0.15, 0.4)
  const { candidates, days } = pricesIn(lines)
  const own = candidates.find(({ kind }) => kind === 'not found')!
  expect(own).toMatchObject({ page: '/list', selector: 'a.card', design: 'attempt' })
  const truth = (lost * 30) / days
  expect(own.price.value / truth).toBeGreaterThan(0.87)
  expect(own.price.value / truth).toBeLessThan(1.13)
})

it('what befalls one try or another and keeps nobody costs nothing', () => {
  const { candidates } = pricesIn(tried(0.15, 0).lines)
  const own = candidates.find(({ kind }) => kind === 'not found')
  expect(own?.confident ?? false).toBe(false)
})
