/** Earlier times are mistakes: nothing of the kind was recorded then. */
const EARLIEST_MS = Date.UTC(1990, 0, 1)
const DAY_MS = 86_400_000

/**
 * What is wrong with the time of an imported line; undefined where it is plausible.
 *
 * @param t      milliseconds since 1970
 * @param nowMs  later than a day after this nothing can have happened
 */
export function timeProblem(t: number, nowMs: number): string | undefined {
  const latest = nowMs + DAY_MS
  if (t > latest) {
    const [unit, factor] =
      t / 1e6 <= latest ? (t / 1e3 <= latest ? ['microseconds', 1e3] : ['nanoseconds', 1e6]) : ['', 0]
    if (factor && t / factor >= EARLIEST_MS) return `looks like ${unit}: give milliseconds since 1970`
    return 'lies in the future, by more than a day'
  }
  if (t >= EARLIEST_MS) return undefined
  return t * 1000 >= EARLIEST_MS && t * 1000 <= latest
    ? 'looks like seconds: give milliseconds since 1970'
    : 'lies before 1990'
}
