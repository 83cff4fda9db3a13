import { describe, expect, it } from 'vitest'
import { Looks, partsOf } from './looks.ts'

describe('Looks', () => {
  const one = () => [['events', { kind: 'page' }]] as ['events', object][]
  it('keep what comes from where somebody looks, while they do, and nothing else', () => {
    const looks = new Looks()
    looks.note(1, '192.0.2.1', 5, one)
    expect(looks.since(1, '192.0.2.1', 0)).toEqual([])
    looks.note(1, '192.0.2.1', 6, one)
    looks.note(1, '192.0.2.2', 7, one)
    looks.note(2, '192.0.2.1', 8, one)
    const found = looks.since(1, '192.0.2.1', 0)
    expect(found).toMatchObject([{ atMs: 6, sink: 'events', text: '{"kind":"page"}' }])
    expect(looks.since(1, '192.0.2.1', found[0]!.n)).toEqual([])
  })
  it('know an address of this computer under both of its names', () => {
    const looks = new Looks()
    looks.since(1, '::1', 0)
    looks.note(1, '::ffff:127.0.0.1', 1, one)
    expect(looks.since(1, '127.0.0.1', 0)).toHaveLength(1)
  })
  it('cut what is long and say how long it was', () => {
    const looks = new Looks()
    looks.since(1, 'a', 0)
    looks.note(1, 'a', 1, () => [['page', 'x'.repeat(30_000)]])
    expect(looks.since(1, 'a', 0)).toMatchObject([{ length: 30_002, text: expect.any(String) as string }])
    expect(looks.since(1, 'a', 0)[0]!.text).toHaveLength(20_000)
  })
})

describe('partsOf', () => {
  it('leaves nothing of a batch out', () => {
    const batch = {
      ...{ v: 1, visitor: 'v', lines: [{ kind: 'page' }], snapshot: { title: 't' } },
      items: [{ k: 'move' }, { k: 'change' }, { k: 'console' }, { k: 'file' }, { k: 'new' }],
    }
    expect(partsOf(batch).map(([sink]) => sink)).toEqual([
      ...['about', 'events', 'page', 'pointer', 'changes', 'console', 'files', 'changes'],
    ])
    expect(partsOf(batch)[0]![1]).toEqual({ v: 1, visitor: 'v' })
  })
})
