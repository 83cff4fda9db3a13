/** From where on something is friction. Each can be set; the reasons stand in docs/signals.md. */
export interface SignalThresholds {
  /** dead clicks on one element within this are one signal */
  deadFoldMs: number
  /** an error within this after a click, with no element of its own, is the click's */
  errorWakeMs: number
  /** a click so near a control that is used within this time was meant for it */
  nearPx: number
  nearMs: number
  /** times a field's content was deleted, or the field was come back to */
  corrections: number
  returns: number
  /** a page left for the one before within this */
  backMs: number
  /** so many views in a row, each shorter than this */
  racingViews: number
  racingMs: number
  /** so many changes of direction, each of at least so many pixels, within this time */
  combingTurns: number
  combingPx: number
  combingMs: number
  /** so many times hidden within this time */
  hops: number
  hopsMs: number
  freezeMs: number
  slowMs: number
}

/**
 * Common practice, no source, but for two: a freeze of more than 500 ms is what Interaction to Next Paint calls poor
 * (from memory), and largest content after more than 4 s what Largest Contentful Paint calls poor (from memory).
 */
export const THRESHOLDS: SignalThresholds = {
  ...{ deadFoldMs: 2000, errorWakeMs: 500, nearPx: 12, nearMs: 5000 },
  ...{ corrections: 3, returns: 3, backMs: 5000, racingViews: 5, racingMs: 3000 },
  ...{ combingTurns: 4, combingPx: 300, combingMs: 30_000, hops: 3, hopsMs: 600_000 },
  ...{ freezeMs: 500, slowMs: 4000 },
}
