import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Lane } from './lane.ts'

const pause = (ms = 0) => new Promise((resolve) => setTimeout(resolve, ms))

describe('Lane', () => {
  it('does everything once, in order under each key, whatever fails and whoever holds', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ key: fc.constantFrom('a', 'b', 'c'), bad: fc.boolean(), hold: fc.boolean() }), {
          maxLength: 30,
        }),
        fc.integer({ min: 1, max: 5 }),
        async (items, most) => {
          const done: { key: string; n: number }[] = []
          const held = new Set<string>()
          const lane = new Lane<{ key: string; bad: boolean; n: number }, number>(
            ({ key }) => key,
            async (group) => {
              expect(group.length).toBeLessThanOrEqual(most)
              for (const { key } of group) expect(held.has(key)).toBe(false)
              await pause()
              if (group.some(({ bad }) => bad)) throw new Error('bad')
              done.push(...group)
              return group.map(({ n }) => n)
            },
            most,
          )
          const results = await Promise.all(
            items.map(async ({ key, bad, hold }, n) => {
              if (hold) {
                const release = await lane.hold([key])
                held.add(key)
                await pause(1)
                held.delete(key)
                release()
              }
              return lane.push({ key, bad, n }).then(
                (result) => ({ result }),
                () => 'failed' as const,
              )
            }),
          )
          expect(results).toEqual(items.map(({ bad }, n) => (bad ? 'failed' : { result: n })))
          expect(done.map(({ n }) => n).sort((a, b) => a - b)).toEqual(
            items.flatMap(({ bad }, n) => (bad ? [] : n)),
          )
          expect(lane.idle).toBe(true)
          if (items.some(({ hold }) => hold)) return
          for (const key of ['a', 'b', 'c']) {
            const order = done.filter((one) => one.key === key).map(({ n }) => n)
            expect(order).toEqual([...order].sort((a, b) => a - b))
          }
        },
      ),
      { numRuns: 60 },
    )
  })
})
