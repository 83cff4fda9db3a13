/** So long may work on the main thread go on before small requests that wait get their turn. */
const LONG_MS = 10

/** Work that is awaited between its pieces lets others have their turn once it has gone on for long. */
export function turns(): () => Promise<void> {
  let sinceMs = performance.now()
  return async () => {
    if (performance.now() - sinceMs < LONG_MS) return
    await new Promise(setImmediate)
    sinceMs = performance.now()
  }
}
