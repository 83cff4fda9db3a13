declare module 'jstat' {
  const library: {
    jStat: {
      erfc(x: number): number
      chisquare: { cdf(x: number, df: number): number }
      studentt: { inv(p: number, df: number): number }
    }
  }
  export default library
}
