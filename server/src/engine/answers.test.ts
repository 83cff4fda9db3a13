import { describe, expect, it } from 'vitest'
import { Answers } from './answers.ts'

describe('Answers', () => {
  const ask = (answers: Answers, key: string, answer: unknown, made: string[] = []) =>
    answers.get(key, () => (made.push(key), Promise.resolve(answer)), undefined, true)
  it('say when one had to go for want of room, and only then', async () => {
    let full = 0
    const answers = new Answers(10, 5000, () => full++)
    const large = 'x'.repeat(1000)
    await ask(answers, 'a', large)
    await ask(answers, 'b', large)
    expect(full).toBe(0)
    const made: string[] = []
    await ask(answers, 'a', large, made)
    expect(made).toEqual([])
    await ask(answers, 'c', large)
    expect(full).toBe(1)
    // The one that was asked for longest ago went.
    await ask(answers, 'a', large, made)
    expect(made).toEqual([])
    await ask(answers, 'b', large, made)
    expect(made).toEqual(['b'])
  })
  it('that are forgotten because the data changed did not have to go', async () => {
    let full = 0
    const answers = new Answers(10, 5000, () => full++)
    await ask(answers, 'a', 'x')
    answers.forgetAll()
    expect(full).toBe(0)
  })
})
