import type { Segment } from '@dust-trail/api'
import type { Condition, Lens, Noise } from '@dust-trail/core'
import { together } from '../words/sentences.ts'

/** A segment with those it was cut from, the first of all first. */
export function lineageOf(segment: Segment, all: readonly Segment[]): Segment[] {
  const line = [segment]
  for (let up = segment.parentId; up !== null;) {
    const parent = all.find(({ id }) => id === up)
    if (!parent || line.includes(parent)) break
    line.unshift(parent)
    up = parent.parentId
  }
  return line
}

/** What the sessions of a segment meet: its own condition and those of all it was cut from. */
export function segmentCondition(segment: Segment, all: readonly Segment[]): Condition | undefined {
  return together(lineageOf(segment, all).map(({ cut }) => cut.condition))
}

export function segmentNoise(segment: Segment, all: readonly Segment[]): Noise[] {
  return lineageOf(segment, all).flatMap(({ cut }) => cut.clean)
}

/** The lens narrowed down to a segment. */
export function lensOf(lens: Lens, segment: Segment, all: readonly Segment[]): Lens {
  const where = together([lens.where, segmentCondition(segment, all)])
  const clean = [...(lens.clean ?? []), ...segmentNoise(segment, all)]
  return { ...lens, ...(where && { where }), ...(clean.length && { clean }) }
}

/** Colours and patterns of things that lie side by side, in order. */
export const SIDES = [
  { colour: 'var(--spruce)', dash: '' },
  { colour: 'var(--iris)', dash: '6 3' },
  { colour: 'var(--ochre)', dash: '2 3' },
  { colour: 'var(--clay)', dash: '8 3 2 3' },
  { colour: 'var(--stone)', dash: '1 3' },
  { colour: 'var(--ink)', dash: '12 4' },
] as const
export const MOST_SIDES = SIDES.length
