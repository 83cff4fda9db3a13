import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import { errorPlace, errorText } from '../../events/error-text.ts'
import type { Line } from '../../events/line.ts'
import type { Selection } from '../../select/grammar/conditions.ts'
import { about, answerTo, blockOf } from '../../testing/world.ts'
import { size } from '../size/size.ts'
import { errors } from './errors.ts'

const page = (t: number, url: string, more: Partial<Line> = {}): Line => ({
  ...{ visitor: 'v', t, kind: 'page', url },
  ...more,
})
const error = (t: number, message: string, more: Partial<Line> = {}): Line => ({
  ...{ visitor: 'v', t, kind: 'error', message },
  ...more,
})
const world = (sessions: Line[][]) => {
  const { block, names } = blockOf(sessions)
  return { blocks: [{ block, sessions: SessionSet.all(sessions.length) }], context: about(names) }
}
const ask = (sessions: Line[][]) => {
  const { blocks, context } = world(sessions)
  return answerTo(errors, blocks, {}, context)
}

describe('errors', () => {
  it('are one where message and stack differ only in what changes, and say where and since when', () => {
    const stack = (build: string) => `Error\n    at pay (https://s.example/app-${build}.js:1:2)`
    const answer = ask([
      [
        page(0, '/a', { props: { release: '4.1' } }),
        error(100, 'order 17 failed', { stack: stack('3f9a2b7c'), target: { selector: '#pay' } }),
        error(200, 'order 18 failed', { stack: stack('3f9a2b7c') }),
      ],
      [
        page(0, '/b', { props: { release: '4.2' } }),
        error(50, 'order 9 failed', { stack: stack('77b21c0d') }),
      ],
      [page(0, '/a'), error(10, 'order 3 failed')],
      [page(0, '/a')],
    ])
    expect(answer).toMatchObject({ sessions: 4, more: 0 })
    expect(answer.errors).toHaveLength(2)
    expect(answer.errors[0]).toMatchObject({
      ...{ message: 'order * failed', place: 'pay app-*.js', example: 'order 17 failed', element: '#pay' },
      ...{ met: { hits: 2, base: 4 }, visitors: 2, times: 3, firstMs: 50, lastMs: 200 },
      pages: [
        { value: '/a', sessions: 1 },
        { value: '/b', sessions: 1 },
      ],
      releases: [
        { value: '4.1', sessions: 1 },
        { value: '4.2', sessions: 1 },
      ],
    })
    expect(answer.errors[1]).toMatchObject({ place: '', met: { hits: 1 }, releases: [{ value: '' }] })
  })

  const line = fc.oneof(
    fc.constantFrom('/a', '/b').map((url) => page(0, url)),
    fc
      .tuple(
        fc.constantFrom('no 1', 'no 2', 'lost', "'x' is gone"),
        fc.constantFrom('', 'f@a.js:1:1', 'g@a.js:2:2'),
      )
      .map(([message, stack]) => error(0, message, { ...(stack && { stack }) })),
  )
  const worlds = fc.array(
    fc
      .array(line, { maxLength: 8 })
      .map((lines) => [page(0, '/a'), ...lines].map((one, t) => ({ ...one, t }))),
    { minLength: 1, maxLength: 8 },
  )
  it('count what a plain count counts, and each opens the sessions that it counts', () => {
    fc.assert(
      fc.property(worlds, (sessions) => {
        const plain = new Map<string, { times: number; sessions: Set<number> }>()
        sessions.forEach((lines, s) => {
          for (const one of lines) {
            if (one.kind !== 'error') continue
            const key = JSON.stringify([errorText(one.message!), errorPlace(one)])
            const own = plain.get(key) ?? { times: 0, sessions: new Set() }
            plain.set(key, { times: own.times + 1, sessions: own.sessions.add(s) })
          }
        })
        const { blocks, context } = world(sessions)
        const answer = answerTo(errors, blocks, {}, context)
        expect(answer.errors.length).toBe(plain.size)
        for (const { message, place, times, met } of answer.errors) {
          const own = plain.get(JSON.stringify([message, place]))!
          expect([times, met.hits]).toEqual([own.times, own.sessions.size])
          const selection: Selection = {
            type: 'where',
            condition: { type: 'event', event: { error: { message, place } } },
          }
          expect(answerTo(size, blocks, { selection }, context).hits).toBe(met.hits)
        }
      }),
      { numRuns: 200 },
    )
  })
})
