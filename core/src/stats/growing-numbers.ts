/** Numbers of which one does not know beforehand how many there will be. */
export class GrowingNumbers {
  #values = new Float64Array(256)
  #length = 0

  push(value: number): void {
    if (this.#length === this.#values.length) {
      const more = new Float64Array(2 * this.#length)
      more.set(this.#values)
      this.#values = more
    }
    this.#values[this.#length++] = value
  }

  /** All that was put in; what is put in later is not in it. */
  values(): Float64Array {
    return this.#values.slice(0, this.#length)
  }
}
