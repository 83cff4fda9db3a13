declare module 'jstat' {
  export const jStat: {
    erfc(x: number): number
    chisquare: { cdf(x: number, df: number): number }
  }
}
