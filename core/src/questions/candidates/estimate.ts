/** A number with its standard deviation. */
export interface Estimate {
  value: number
  sd: number
}
