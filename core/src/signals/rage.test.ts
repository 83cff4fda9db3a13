import { describe, expect, it } from 'vitest'
import { casesOf } from '../../checks/cases.ts'
import type { Click } from './rage.ts'
import { rageBursts } from './rage.ts'

describe('rageBursts', () => {
  interface Inputs {
    clicks: Click[]
    window_ms: number
    radius_px: number
    least_clicks: number
  }
  const cases = casesOf<Inputs, { bursts: number; clicks_per_burst: number[] }>('trade', 'rage_click')
  it.each(cases)('finds the bursts: $id ($source)', ({ inputs, expected }) => {
    const bursts = rageBursts(inputs.clicks, {
      windowMs: inputs.window_ms,
      radiusPx: inputs.radius_px,
      leastClicks: inputs.least_clicks,
    })
    expect(bursts.map((burst) => burst.length)).toEqual(expected.clicks_per_burst)
  })
})
