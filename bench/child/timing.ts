export async function timed(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now()
  await work()
  return performance.now() - start
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[sorted.length >> 1]!
}

export function geometric(values: readonly number[]): number {
  return Math.exp(values.reduce((sum, value) => sum + Math.log(value), 0) / values.length)
}

/** How long several pieces of work take, done in turn: medians, since the machine may be lent to others meanwhile. */
export async function interleaved(
  works: readonly (() => Promise<unknown>)[],
  runs = 2 * RUNS,
): Promise<number[]> {
  const times = works.map((): number[] => [])
  for (let i = 0; i < WARM; i++) for (const work of works) await work()
  for (let i = 0; i < runs; i++) for (const [k, work] of works.entries()) times[k]!.push(await timed(work))
  return times.map(median)
}

export const RUNS = 7

export const WARM = 5
