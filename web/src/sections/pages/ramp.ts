/** One hue from nothing to dark: amber, rust, near-black plum. Never lightness and hue against each other. */
const STOPS: readonly [at: number, r: number, g: number, b: number, alpha: number][] = [
  [0, 250, 196, 80, 0],
  [0.05, 250, 196, 80, 0.2],
  [0.25, 248, 182, 60, 0.6],
  [0.45, 226, 126, 32, 0.72],
  [0.7, 160, 58, 30, 0.8],
  [1, 52, 16, 40, 0.88],
]

/** Colour of a share of the greatest density, as bytes with straight alpha. */
export function heatColour(share: number): [r: number, g: number, b: number, a: number] {
  const upper = STOPS.findIndex(([at]) => at >= share)
  const high = STOPS[upper === -1 ? STOPS.length - 1 : upper]!
  const low = STOPS[Math.max(0, (upper === -1 ? STOPS.length : upper) - 1)]!
  const t = high[0] === low[0] ? 1 : Math.min(1, (share - low[0]) / (high[0] - low[0]))
  const mix = (i: 1 | 2 | 3 | 4) => low[i] + (high[i] - low[i]) * t
  return [Math.round(mix(1)), Math.round(mix(2)), Math.round(mix(3)), Math.round(255 * mix(4))]
}

/** The same for what is fewer than on the other side of a comparison: iris, from nothing to dark. */
export function fewerColour(share: number): [r: number, g: number, b: number, a: number] {
  const t = Math.min(1, Math.max(0, share))
  return [
    Math.round(150 - 90 * t),
    Math.round(146 - 88 * t),
    Math.round(214 - 104 * t),
    Math.round(225 * Math.sqrt(t)),
  ]
}

/** The ramp for a legend. */
export const RAMP_CSS = `linear-gradient(90deg, ${STOPS.map(([at, r, g, b, alpha]) => `rgb(${r} ${g} ${b} / ${alpha}) ${at * 100}%`).join(', ')})`
