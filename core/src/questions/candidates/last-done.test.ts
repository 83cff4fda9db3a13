import { expect, it } from 'vitest'
import { buyIf, world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'
import { DID } from './journeys.ts'
import { afterLastDone, lastDone, telling } from './last-done.ts'
import type { Stages } from './stages.ts'

it('who leaves over a price presses on it before: it is compared with those who weighed it as long and did not', () => {
  const lines = world(6000, 101, (going) => {
    going.page('/price')
    if (going.roll() < 0.1) return going.leave()
    going.click('#size', 'change')
    const poor = going.roll()
    for (let k = 0; k < 3 && going.roll() < 0.8 * poor; k++) {
      going.click('#size', 'change')
      if (going.roll() < 0.4) going.click('div.sum', 'none')
    }
    if (going.roll() < 0.8 * poor ** 2) return going.leave()
    going.click('a.on', 'navigate')
    return buyIf(going, going.roll() < 0.75)
  })
  expect(pricesIn(lines).candidates.filter(({ selector }) => selector.includes('sum'))).toEqual([])
})

/** A page of which each view is a list of things done, as families, 5 seconds apart; negative: a field filled in. */
function views(lists: readonly (readonly number[])[], on: readonly number[]): Stages {
  const acts = lists.flatMap((list) =>
    list.map((family, k) => ({
      family: Math.abs(family),
      did: family < 0 ? DID.filled : DID.worked,
      atMs: 5000 * (k + 1),
    })),
  )
  const firstAct = [0]
  for (const list of lists) firstAct.push(firstAct.at(-1)! + list.length)
  return {
    journeys: {
      acts: {
        family: Float64Array.from(acts, ({ family }) => family),
        did: Float64Array.from(acts, ({ did }) => did),
        atMs: Float64Array.from(acts, ({ atMs }) => atMs),
      },
    },
    firstAct: Uint32Array.from(firstAct),
    on: Uint8Array.from(on),
  } as unknown as Stages
}

const FIELD = -7
const SIZE = 3
const OTHER = 4
const BROKEN = 9
const many = <T>(n: number, one: T) => Array.from({ length: n }, () => one)

it('what was done before tells only where enough who did it went on to something else', () => {
  const met = many(10, [SIZE, FIELD, BROKEN])
  const exposed = met.map((_, view) => ({ view, atMs: 15_000 }))
  const never = (others: readonly number[][]) => others.map((_, i) => met.length + i)
  const told = (others: number[][], on: number[]) =>
    telling(views([...met, ...others], [...many(10, 0), ...on]), exposed, never(others))
  // Nearly all who fill in the field press next what never works; who does not leaves.
  const leavers = many(20, [SIZE, FIELD])
  expect(told(leavers, many(20, 0))).toEqual({ states: new Set(), fields: false })
  // Who does something else after it can be compared.
  const goOn = told(many(20, [SIZE, FIELD, OTHER]), many(20, 0))
  expect(goOn).toEqual({ states: new Set([7 * 4 + 1]), fields: true })
  // Who is further next has done something else as well.
  expect(told(leavers, many(20, 1))).toEqual(goOn)
})

it('an outcome is likelier after one thing than after another, as far as enough cases tell', () => {
  const lists = [...many(100, [SIZE]), ...many(100, [SIZE, SIZE]), ...many(10, [OTHER])]
  const stages = views(lists, many(210, 0))
  const last = lists.map((_, view) => lastDone(stages, { view, atMs: 60_000 }))
  const outcome = lists.map((list, i) => (list.length === 2 ? Number(i % 10 === 0) : Number(i % 2 === 0)))
  const after = afterLastDone(last, outcome)
  expect(after(last[0]!)).toBeGreaterThan(0.5)
  expect(after(last[100]!)).toBeLessThan(-0.7)
  // Before the second time it is the first; ten cases tell nothing, nor does what is not to tell anything.
  expect(lastDone(stages, { view: 100, atMs: 8000 })).toBe(last[0])
  expect(after(last[205]!)).toBe(0)
  expect(
    afterLastDone(
      last.map(() => -1),
      outcome,
    )(-1),
  ).toBe(0)
})
