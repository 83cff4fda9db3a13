import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { about, answerTo, blockOf } from '../../testing/world.ts'
import { forms } from './forms.ts'

const page = (url = '/pay'): Line => ({ visitor: 'v', t: 0, kind: 'page', url })
const input = (selector: string, length: number, more: Partial<Line> = {}): Line => ({
  ...{ visitor: 'v', t: 0, kind: 'input', target: { selector }, length },
  ...more,
})
const submit = (ok?: boolean): Line => ({
  visitor: 'v',
  t: 0,
  kind: 'submit',
  ...(ok !== undefined && { ok }),
})
const inOrder = (lines: Line[]) => lines.map((line, t) => ({ ...line, t }))
const ask = (sessions: Line[][], cut = sessions.length) => {
  const { block, names } = blockOf(sessions)
  const parts = [new SessionSet(sessions.length), new SessionSet(sessions.length)]
  sessions.forEach((_, s) => parts[s < cut ? 0 : 1]!.add(s))
  return answerTo(
    forms,
    parts.map((some) => ({ block, sessions: some })),
    {},
    about(names),
  ).forms
}

describe('forms', () => {
  it('say of each field who reached, filled, corrected and left it, and where the form was given up', () => {
    const [form, ...others] = ask([
      inOrder([
        page(),
        input('#name', 4, { ms: 2000, label: 'Name' }),
        input('#code', 0, { ms: 900, corrections: 2 }),
        input('#name', 5, { ms: 1000 }),
        submit(true),
      ]),
      inOrder([page(), input('#name', 4, { ms: 1000 }), input('#code', 0, { ms: 4000 }), submit(false)]),
      inOrder([page(), input('#name', 4, { ms: 7000 })]),
      inOrder([page()]),
    ])
    expect(others).toEqual([])
    expect(form).toMatchObject({
      ...{ page: '/pay', views: 4, started: { hits: 3, base: 4 }, sent: { hits: 1, base: 3 } },
      fields: [
        {
          ...{ selector: '#name', text: 'Name', reached: { hits: 3, base: 3 }, filled: { hits: 3, base: 3 } },
          ...{ again: { hits: 1 }, corrected: { hits: 0 }, medianMs: 3000, givenUp: { hits: 1, base: 3 } },
        },
        {
          ...{ selector: '#code', empty: { hits: 2, base: 2 }, corrected: { hits: 1 }, corrections: 2 },
          ...{ givenUp: { hits: 1, base: 2 }, medianMs: 900 },
        },
      ],
    })
  })
  it('do not say where a form is given up on a page that never sends one, nor times that are not known', () => {
    const [form] = ask([inOrder([page(), input('#q', 3)])])
    expect(form).toMatchObject({ sent: null, fields: [{ givenUp: null, medianMs: null }] })
  })

  const line = fc.oneof(
    { weight: 1, arbitrary: fc.constantFrom('/pay', '/join').map(page) },
    {
      weight: 3,
      arbitrary: fc
        .tuple(fc.constantFrom('#a', '#b', '#c'), fc.nat(2), fc.nat(2), fc.constantFrom(100, 500))
        .map(([selector, length, corrections, ms]) => input(selector, length, { corrections, ms })),
    },
    { weight: 1, arbitrary: fc.constantFrom(true, false, undefined).map(submit) },
  )
  const worlds = fc.array(
    fc.array(line, { maxLength: 10 }).map((lines) => inOrder([page(), ...lines])),
    { minLength: 1, maxLength: 8 },
  )
  it('count what a plain walk through the views counts, in one part as in two', () => {
    fc.assert(
      fc.property(worlds, fc.nat(8), (sessions, cut) => {
        const views = sessions.flatMap((lines) => {
          const cuts = lines.flatMap((one, i) => (one.kind === 'page' ? [i] : []))
          return cuts.map((from, k) => lines.slice(from, cuts[k + 1]))
        })
        const answer = ask(sessions, cut)
        expect(answer).toEqual(ask(sessions))
        for (const url of ['/pay', '/join']) {
          const own = views.filter(([first]) => first!.url === url)
          const started = own.filter((lines) => lines.some(({ kind }) => kind === 'input'))
          const form = answer.find((one) => one.page === url)
          expect(form?.started.hits ?? 0).toBe(started.length)
          const isSent = (lines: Line[]) => lines.findLast(({ kind }) => kind === 'submit')?.ok
          const tried = own.some((lines) => lines.some(({ kind }) => kind === 'submit'))
          for (const field of form?.fields ?? []) {
            const inputs = (lines: Line[]) =>
              lines.filter(({ target }) => target?.selector === field.selector)
            const reached = started.filter((lines) => inputs(lines).length)
            const sum = (of: (lines: Line[]) => number) => reached.reduce((all, lines) => all + of(lines), 0)
            expect(field.reached.hits).toBe(reached.length)
            expect(field.filled.hits).toBe(sum((lines) => +(inputs(lines).at(-1)!.length! > 0)))
            expect(field.again.hits).toBe(sum((lines) => +(inputs(lines).length > 1)))
            expect(field.corrections).toBe(
              sum((lines) => inputs(lines).reduce((all, one) => all + one.corrections!, 0)),
            )
            const givenUp = sum((lines) => {
              const last = lines.findLast(({ kind }) => kind === 'input')!
              const wasSent = lines.some(({ kind }) => kind === 'submit') && isSent(lines) !== false
              return +(last.target!.selector === field.selector && !wasSent)
            })
            expect(field.givenUp?.hits ?? null).toBe(tried ? givenUp : null)
          }
        }
      }),
      { numRuns: 200 },
    )
  })
})
