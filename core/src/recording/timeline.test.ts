import { describe, expect, it } from 'vitest'
import { idleStretches, timeline } from './timeline.ts'
import type { DocumentRecording, RecordItem } from './types.ts'

const recording = (startMs: number, items: RecordItem[]): DocumentRecording => ({
  document: `d${startMs}`,
  startMs,
  snapshot: { url: `/${startMs}`, title: '', width: 100, height: 100, root: { id: 1, tag: 'html' } },
  items,
})
const click = (at: number): RecordItem => ({ at, k: 'click', id: 1, x: 0, y: 0 })

describe('timeline', () => {
  const axis = timeline(
    [recording(11_000, [click(500)]), recording(1000, [click(200), click(9000)])],
    1000,
    20_000,
  )
  it('puts documents one after another in order of their start', () => {
    expect(axis.documents.map(({ index, fromMs, toMs }) => [index, fromMs, toMs])).toEqual([
      [1, 0, 10_000],
      [0, 10_000, 19_000],
    ])
    expect(axis.durationMs).toBe(19_000)
  })
  it('finds where nothing happens, with a margin', () => {
    expect(axis.idle).toEqual([
      { fromMs: 700, toMs: 8500 },
      { fromMs: 11_000, toMs: 18_500 },
    ])
  })
  it('counts everything that happened once', () => {
    expect(axis.activity.reduce((a, b) => a + b)).toBe(5)
  })
})

it('reaches as far as the pointer moved, though something else was told later', () => {
  const move: RecordItem = {
    at: 100,
    k: 'move',
    p: [
      [100, 1, 1],
      [900, 2, 2],
    ],
  }
  expect(timeline([recording(1000, [move, click(300)])], 1000, 1000).durationMs).toBe(900)
})

it('idleStretches is empty for what never rests', () => {
  expect(idleStretches([0, 2000, 4000], 5000)).toEqual([])
})
