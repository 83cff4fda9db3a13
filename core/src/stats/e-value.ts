/**
 * How much a hidden cause would have to do to explain an effect away: by what factor it would have to raise both the chance
 * of the exposure and that of the outcome.
 *
 * @param ratio  of the chances of the outcome with and without the exposure, above 0
 * @returns 1 where there is no effect
 * @see VanderWeele, Ding (2017), Ann. Intern. Med. 167:268
 */
export function eValue(ratio: number): number {
  const up = ratio < 1 ? 1 / ratio : ratio
  return up + Math.sqrt(up * (up - 1))
}
