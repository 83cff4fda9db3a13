/** Codes below this are counted in a column, others in a map: most things have few codes. */
const DENSE = 1 << 16

/** Counts by code, for what is counted very many times. */
export class Tally {
  #dense = new Uint32Array(256)
  readonly #sparse = new Map<number, number>()

  /** Counts one more of a code, a whole number from 0 on. */
  add(code: number): void {
    if (code >= DENSE) {
      this.#sparse.set(code, (this.#sparse.get(code) ?? 0) + 1)
      return
    }
    if (code >= this.#dense.length) {
      const more = new Uint32Array(Math.min(DENSE, Math.max(code + 1, 2 * this.#dense.length)))
      more.set(this.#dense)
      this.#dense = more
    }
    this.#dense[code]!++
  }

  /** The codes that were counted, each with its count. */
  counts(): Map<number, number> {
    const counts = new Map(this.#sparse)
    for (let code = 0; code < this.#dense.length; code++)
      if (this.#dense[code]!) counts.set(code, this.#dense[code]!)
    return counts
  }
}
