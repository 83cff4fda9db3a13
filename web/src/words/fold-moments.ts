import type { SessionMoment } from '@dust-trail/api'

/** A run of the same, as one line. */
export interface FoldedMoment {
  moment: SessionMoment
  times: number
  /** since the line before */
  gapMs: number
}

/** Moments in order, runs of the same thing at the same place as one. */
export function foldMoments(moments: readonly SessionMoment[]): FoldedMoment[] {
  const folded: FoldedMoment[] = []
  let lastMs = moments[0]?.atMs ?? 0
  for (const moment of moments) {
    const own = folded[folded.length - 1]
    if (own && isSame(own.moment, moment)) own.times++
    else folded.push({ moment, times: 1, gapMs: moment.atMs - lastMs })
    lastMs = moment.atMs
  }
  return folded
}

function isSame(a: SessionMoment, b: SessionMoment): boolean {
  return (
    a.kind === b.kind &&
    a.signal === b.signal &&
    a.page === b.page &&
    a.label === b.label &&
    a.selector === b.selector
  )
}
