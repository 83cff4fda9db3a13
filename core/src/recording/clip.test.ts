import { describe, expect, it } from 'vitest'
import { clipped } from './clip.ts'
import type { DocumentRecording, RecordItem } from './types.ts'

const START = 1_000_000
const text = (at: number, word: string): RecordItem => ({ at, k: 'change', text: [[3, word]] })
const recording = (name: string, startMs: number, items: RecordItem[]): DocumentRecording => ({
  document: name,
  startMs: START + startMs,
  snapshot: {
    ...{ url: `/${name}`, title: name, width: 10, height: 10 },
    root: { id: 1, tag: 'html', c: [{ id: 2, tag: 'body', c: [{ id: 3, text: `${name} at first` }] }] },
  },
  items,
})

describe('a clip', () => {
  const documents = [
    recording('first', 0, [text(100, 'secret of the first')]),
    recording('second', 1000, [
      text(200, 'before'),
      { at: 300, k: 'scroll', id: 0, x: 0, y: 70 },
      {
        at: 450,
        k: 'move',
        p: [
          [450, 1, 1],
          [550, 2, 2],
          [650, 3, 3],
        ],
      },
      text(600, 'within'),
      text(900, 'afterwards'),
    ]),
    recording('third', 3000, [text(50, 'never')]),
  ]
  const all = clipped(documents, START, 1500, 1800)

  it('shows the page as it stood, and what happened within, on its own clock', () => {
    expect(all).toHaveLength(1)
    const [{ startMs, snapshot, items }] = all as [DocumentRecording]
    expect(startMs).toBe(START + 1500)
    expect(JSON.stringify(snapshot.root)).toContain('before')
    expect(items).toEqual([
      { at: 0, k: 'scroll', id: 0, x: 0, y: 70 },
      {
        at: 50,
        k: 'move',
        p: [
          [50, 2, 2],
          [150, 3, 3],
        ],
      },
      { at: 100, k: 'change', text: [[3, 'within']] },
    ])
  })

  it('has nothing in it of what lay before or after', () => {
    const whole = JSON.stringify(all)
    for (const word of ['secret', 'at first', 'afterwards', 'never', 'third'])
      expect(whole).not.toContain(word)
  })

  it('of the whole is the whole', () => {
    expect(clipped(documents, START, 0, Infinity)).toEqual(documents)
  })
})
