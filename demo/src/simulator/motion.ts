import type { PointerSample } from '@dust-trail/core'

export interface Point {
  x: number
  y: number
}

/**
 * Time to move a pointer onto a target, by Fitts' law in Shannon's form: a + b·log2(D/W + 1).
 *
 * @param distance  px from the pointer to the target's centre
 * @param width     px, the target's smaller side
 * @see Fitts (1954), J. Exp. Psychol. 47:381; MacKenzie (1992), Human–Computer Interaction 7:91. The constants
 *      (230 ms, 166 ms/bit) are of the size reported for mice there; written down from memory.
 */
export function fittsMs(distance: number, width: number): number {
  return 230 + 166 * Math.log2(distance / Math.max(1, width) + 1)
}

const SAMPLE_MS = 60

/**
 * A reach from one point to another with the bell-shaped speed of human movement and a slight bow.
 *
 * @param bow  how far the path bends sideways, as a share of its length
 * @returns samples in ascending time, the last exactly at the end
 * @see Flash, Hogan (1985), J. Neurosci. 5:1688 (minimum jerk)
 */
export function reach(
  from: Point,
  to: Point,
  startMs: number,
  durationMs: number,
  bow: number,
): PointerSample[] {
  const samples: PointerSample[] = []
  const steps = Math.max(1, Math.round(durationMs / SAMPLE_MS))
  for (let i = 1; i <= steps; i++) {
    const tau = i / steps
    const s = tau ** 3 * (10 - 15 * tau + 6 * tau * tau)
    const side = bow * Math.sin(Math.PI * s)
    samples.push([
      Math.round(startMs + tau * durationMs),
      Math.round(from.x + (to.x - from.x) * s - (to.y - from.y) * side),
      Math.round(from.y + (to.y - from.y) * s + (to.x - from.x) * side),
    ])
  }
  return samples
}
