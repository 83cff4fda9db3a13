/*
 * Memory that is used again and again: to allocate it takes longer than to fill it. Each piece belongs to one owner, the
 * module that makes a Scratch or a ScratchPool; what it lends out is valid only until the owner lends or takes it again.
 */

type Column = Uint8Array | Uint16Array | Uint32Array | Int32Array | Float64Array

/** In tests what is no longer valid is overwritten, so that reading it too late is noticed. */
export const scratchRules = { overwriteReturned: false }

/** Columns of one purpose that are lent out until the next time they are asked for. */
export class Scratch<Columns extends Record<string, Column | Column[]>> {
  #columns: Columns | undefined
  #rows = -1

  /** @param make  makes the columns with room for so many rows */
  constructor(private readonly make: (rows: number) => Columns) {}

  /**
   * Lends the columns with room for so many rows. What is in them is left from before; what was lent before is no longer
   * valid.
   *
   * @param exactly  the columns must have just so many rows, not more
   */
  lend(rows: number, exactly = false): Columns {
    if (scratchRules.overwriteReturned && this.#columns) {
      for (const column of Object.values(this.#columns).flat()) column.fill(0x5a)
      this.#columns = undefined
    }
    if (!this.#columns || this.#rows < rows || (exactly && this.#rows !== rows)) {
      this.#rows = exactly ? rows : rows + (rows >>> 1)
      this.#columns = this.make(this.#rows)
    }
    return this.#columns
  }
}

/** Pieces of memory that are taken and given back. */
export class ScratchPool {
  /** the shortest first */
  readonly #free: Int32Array[] = []

  /**
   * @param most        how many pieces are kept at most
   * @param mostLength  longer ones are let go
   */
  constructor(
    private readonly most: number,
    private readonly mostLength: number,
  ) {}

  /** A piece of at least such a length; the caller owns it until it is given back. Its content is undefined. */
  take(length: number): Int32Array {
    const at = this.#free.findIndex((piece) => piece.length >= length)
    return at < 0 ? new Int32Array(length) : this.#free.splice(at, 1)[0]!
  }

  /** Gives a piece back; it must not be read or written afterwards. */
  giveBack(piece: Int32Array): void {
    if (scratchRules.overwriteReturned) piece.fill(0x5a5a5a5a)
    if (piece.length > this.mostLength) return
    this.#free.push(piece)
    this.#free.sort((a, b) => a.length - b.length)
    if (this.#free.length > this.most) this.#free.shift()
  }
}
