/** Where what threads have found is cut into parts, on which all threads of a question agree through shared memory. */

const NOBODY = 0
const WRITING = 1
const AGREED = 2
const NOT_CUT = 3
const HEAD = 8

/** Bytes that the threads of a question need to agree. */
export function bytesOfCuts(threads: number): number {
  return HEAD + 8 * Math.max(0, threads - 1)
}

/**
 * What the first thread to ask proposes, for all of them.
 *
 * @param propose  one number fewer than there are threads; undefined where nothing is to be cut
 */
export function agreedCuts(
  memory: SharedArrayBuffer,
  propose: () => number[] | undefined,
): number[] | undefined {
  const state = new Int32Array(memory, 0, 1)
  const cuts = new Float64Array(memory, HEAD)
  if (Atomics.compareExchange(state, 0, NOBODY, WRITING) === NOBODY) {
    let proposed: number[] | undefined
    try {
      proposed = propose()
      if (proposed) cuts.set(proposed)
    } finally {
      // Whatever happens, nobody is to wait for ever.
      Atomics.store(state, 0, proposed ? AGREED : NOT_CUT)
      Atomics.notify(state, 0)
    }
    return proposed
  }
  Atomics.wait(state, 0, WRITING)
  return Atomics.load(state, 0) === AGREED ? Array.from(cuts) : undefined
}

/** Ends an agreement that a thread may have begun and cannot bring to an end, since it is no more. */
export function endAgreement(memory: SharedArrayBuffer): void {
  const state = new Int32Array(memory, 0, 1)
  if (Atomics.load(state, 0) === AGREED) return
  Atomics.store(state, 0, NOT_CUT)
  Atomics.notify(state, 0)
}
