import type { Scan } from '../columns/scan.ts'

/** How many sessions there are in the lens. */
export const sessionCount: Scan<object, { count: number }, number> = {
  name: 'session count',
  scan: (_block, sessions) => ({ count: sessions.count() }),
  merge: (a, b) => ({ count: a.count + b.count }),
  finish: ({ count }) => count,
}
