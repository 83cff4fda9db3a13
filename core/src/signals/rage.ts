export interface Click {
  t: number
  x: number
  y: number
}

export interface RageOptions {
  /** longest pause between one click of a burst and the next */
  windowMs: number
  /** farthest a click may lie from the first of its burst */
  radiusPx: number
  leastClicks: number
}

/**
 * Bursts of clicks on one spot. A longer burst is one burst. Clicks may be given in any order.
 *
 * @returns for each burst the indexes of its clicks in the input, in order of time
 */
export function rageBursts(clicks: readonly Click[], options: RageOptions): number[][] {
  const order = clicks.map((_, i) => i).sort((a, b) => clicks[a]!.t - clicks[b]!.t || a - b)
  const bursts: number[][] = []
  let burst: number[] = []
  const close = () => {
    if (burst.length >= options.leastClicks) bursts.push(burst)
    burst = []
  }
  for (const i of order) {
    const click = clicks[i]!
    const last = burst.length ? clicks[burst[burst.length - 1]!]! : undefined
    const first = burst.length ? clicks[burst[0]!]! : undefined
    const goesOn =
      last !== undefined &&
      first !== undefined &&
      click.t - last.t <= options.windowMs &&
      Math.hypot(click.x - first.x, click.y - first.y) <= options.radiusPx
    if (!goesOn) close()
    burst.push(i)
  }
  close()
  return bursts
}
