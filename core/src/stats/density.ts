export interface WeightedPoint {
  x: number
  y: number
  weight: number
}

/**
 * Gaussian kernel density on a raster, unnormalised weights: the value of a cell is the sum over points of
 * weight · exp(−d²/2σ²) / (2πσ²), d from the cell's centre. Kernels are cut at 4 σ, so that a value is too small by at
 * most e⁻⁸ ≈ 0.03 % of a kernel's peak per point.
 *
 * @param sigma  standard deviation of the kernel, in cells, > 0
 * @returns width × height values, row by row
 * @throws RangeError where sigma is not positive
 * @see Silverman (1986), Density Estimation for Statistics and Data Scan, ch. 4
 */
export function density(
  points: readonly WeightedPoint[],
  width: number,
  height: number,
  sigma: number,
): Float32Array {
  if (!(sigma > 0)) throw new RangeError(`sigma must be positive, got ${sigma}`)
  const raster = new Float32Array(width * height)
  const reach = Math.ceil(4 * sigma)
  const scale = 1 / (2 * Math.PI * sigma * sigma)
  for (const { x, y, weight } of points) {
    const fromX = Math.max(0, Math.floor(x - reach))
    const toX = Math.min(width - 1, Math.ceil(x + reach))
    const fromY = Math.max(0, Math.floor(y - reach))
    const toY = Math.min(height - 1, Math.ceil(y + reach))
    const across = Float64Array.from({ length: Math.max(0, toX - fromX + 1) }, (_, i) =>
      fall(fromX + i + 0.5 - x, sigma),
    )
    for (let row = fromY; row <= toY; row++) {
      const down = weight * scale * fall(row + 0.5 - y, sigma)
      for (let column = fromX; column <= toX; column++)
        raster[row * width + column]! += down * across[column - fromX]!
    }
  }
  return raster
}

function fall(distance: number, sigma: number): number {
  return Math.exp((-distance * distance) / (2 * sigma * sigma))
}
