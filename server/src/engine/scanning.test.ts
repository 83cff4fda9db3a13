import { expect, it } from 'vitest'
import type { AnyScan, Steps } from '@dust-trail/core'
import { atOnce } from '@dust-trail/core'
import type { Gathering } from './scanning.ts'
import { finish, finishWithPauses } from './scanning.ts'

function* counted(total: object): Steps<number> {
  let n = 0
  for (const value of Object.values(total) as number[]) {
    n += value
    yield
  }
  return n
}
const scan: AnyScan = {
  name: 'sum',
  scan: () => ({}),
  merge: (a, b) => ({ ...a, ...b }),
  finish: (total) => atOnce(counted(total)),
  finishInSteps: counted,
}
const gathering = { scan, spec: {}, found: undefined } as unknown as Gathering

it('comes to the same with pauses and without, whatever part is missing', async () => {
  const found = [{ a: 1, b: 2 }, undefined, { c: 4 }]
  let pauses = 0
  const goOn = () => Promise.resolve((pauses++, true))
  expect(await finishWithPauses(gathering, found, false, goOn)).toBe(finish(gathering, found))
  expect(pauses).toBe(3)
  expect(await finishWithPauses(gathering, [undefined], false, goOn)).toBeUndefined()
})

it('stops at the next pause where nobody waits any more', async () => {
  let pauses = 0
  const goOn = () => Promise.resolve(++pauses < 2)
  expect(await finishWithPauses(gathering, [{ a: 1, b: 2, c: 4 }], false, goOn)).toBeUndefined()
  expect(pauses).toBe(2)
})
