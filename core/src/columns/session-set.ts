import { countBits } from '../stats/bit-count.ts'

/** A set of the sessions of one block, one bit each. */
export class SessionSet {
  readonly #bits: Uint32Array

  constructor(
    /** how many sessions the block has */
    readonly size: number,
    bits?: Uint32Array,
  ) {
    this.#bits = bits ?? new Uint32Array((size + 31) >>> 5)
  }

  /** The set of those sessions for which the test holds. */
  static where(size: number, test: (session: number) => boolean): SessionSet {
    const set = new SessionSet(size)
    for (let s = 0; s < size; s++) if (test(s)) set.add(s)
    return set
  }

  static all(size: number, bits?: Uint32Array): SessionSet {
    const set = new SessionSet(size, bits)
    set.#bits.fill(0xffff_ffff)
    if (size & 31) set.#bits[size >>> 5] = (1 << (size & 31)) - 1
    return set
  }

  /** Those of this set whose code in a column the table marks with 1; for what is tested on very many sessions. */
  whereCode(codes: ArrayLike<number>, table: Uint8Array): SessionSet {
    const set = new SessionSet(this.size)
    for (let w = 0; w < this.#bits.length; w++) {
      const word = this.#bits[w]!
      if (word === 0) continue
      set.#bits[w] = word & marked(codes, table, w << 5, Math.min(this.size, (w + 1) << 5))
    }
    return set
  }

  /** Those of this set whose number in a column lies in [from, to], ends included; NaN lies nowhere. */
  whereBetween(numbers: Float64Array, from: number, to: number): SessionSet {
    const set = new SessionSet(this.size)
    for (let w = 0; w < this.#bits.length; w++) {
      let word = this.#bits[w]!
      let found = 0
      for (; word !== 0; word &= word - 1) {
        const bit = 31 - Math.clz32(word & -word)
        const number = numbers[(w << 5) + bit]!
        if (number >= from && number <= to) found |= 1 << bit
      }
      set.#bits[w] = found
    }
    return set
  }

  /** Those of this set whose number in a column is at least `from` and below `end`; branch-free, see whereCode. */
  whereWithin(numbers: Float64Array, from: number, end: number): SessionSet {
    const set = new SessionSet(this.size)
    for (let w = 0; w < this.#bits.length; w++) {
      const word = this.#bits[w]!
      if (word === 0) continue
      const first = w << 5
      const last = Math.min(32, this.size - first)
      let within = 0
      for (let bit = 0; bit < last; bit++) {
        const number = numbers[first + bit]!
        within |= (Number(number >= from) & Number(number < end)) << bit
      }
      set.#bits[w] = word & within
    }
    return set
  }

  add(session: number): void {
    if (!(session >= 0 && session < this.size))
      throw new RangeError(`session ${session} is not in [0, ${this.size})`)
    this.#bits[session >>> 5]! |= 1 << (session & 31)
  }

  delete(session: number): void {
    this.#bits[session >>> 5]! &= ~(1 << (session & 31))
  }

  has(session: number): boolean {
    return (this.#bits[session >>> 5]! & (1 << (session & 31))) !== 0
  }

  count(): number {
    let total = 0
    for (let w = 0; w < this.#bits.length; w++) total += countBits(this.#bits[w]!)
    return total
  }

  isEmpty(): boolean {
    return this.#bits.every((word) => word === 0)
  }

  and(other: SessionSet): SessionSet {
    return this.#combine(other, (a, b) => a & b)
  }

  or(other: SessionSet): SessionSet {
    return this.#combine(other, (a, b) => a | b)
  }

  /** Those of this set that are not in the other. */
  without(other: SessionSet): SessionSet {
    return this.#combine(other, (a, b) => a & ~b)
  }

  /** Whether all of this set are in the other. */
  isIn(other: SessionSet): boolean {
    if (other.size !== this.size) return false
    for (let w = 0; w < this.#bits.length; w++) if (this.#bits[w]! & ~other.#bits[w]!) return false
    return true
  }

  /** Those of this set for which the test holds. */
  where(test: (session: number) => boolean): SessionSet {
    const set = new SessionSet(this.size)
    for (let w = 0; w < this.#bits.length; w++) {
      let word = this.#bits[w]!
      while (word !== 0) {
        const low = word & -word
        if (test((w << 5) + 31 - Math.clz32(low))) set.#bits[w]! |= low
        word ^= low
      }
    }
    return set
  }

  /**
   * A part of this set that is drawn by a hash of what a session is known by, so that it is the same every time and the
   * parts of disjoint blocks fit together.
   *
   * @param share  0 to 1, how much is kept on average
   * @param keyOf  what a session is known by, a whole number
   */
  sample(share: number, keyOf: (session: number) => number): SessionSet {
    const limit = share * 4_294_967_296
    return this.where((session) => scattered(keyOf(session)) < limit)
  }

  /**
   * Counts the members by a small number that each has, and by a code before it where one is given: a member with code
   * c and number v counts at c × wide + v. For what is counted over very many sessions.
   */
  countBy(into: Uint32Array, numbers: Uint8Array, wide = 0, codes?: ArrayLike<number>): void {
    for (let w = 0; w < this.#bits.length; w++) {
      let word = this.#bits[w]!
      const from = w << 5
      if (word === 0xffff_ffff)
        for (let s = from; s < from + 32; s++) into[(codes ? codes[s]! * wide : 0) + numbers[s]!]!++
      else
        while (word !== 0) {
          const s = from + 31 - Math.clz32(word & -word)
          into[(codes ? codes[s]! * wide : 0) + numbers[s]!]!++
          word &= word - 1
        }
    }
  }

  /** Visits the members in ascending order; faster than iterating, where every session counts. */
  forEach(visit: (session: number) => void): void {
    for (let w = 0; w < this.#bits.length; w++) {
      let word = this.#bits[w]!
      while (word !== 0) {
        visit((w << 5) + 31 - Math.clz32(word & -word))
        word &= word - 1
      }
    }
  }

  /** Writes the members in ascending order into the first places of a list that is long enough; returns how many. */
  listInto(list: Uint32Array): number {
    let length = 0
    for (let w = 0; w < this.#bits.length; w++)
      for (let word = this.#bits[w]!; word !== 0; word &= word - 1)
        list[length++] = (w << 5) + 31 - Math.clz32(word & -word)
    return length
  }

  /** Members in ascending order. */
  *[Symbol.iterator](): Generator<number> {
    for (let w = 0; w < this.#bits.length; w++) {
      let word = this.#bits[w]!
      while (word !== 0) {
        const bit = 31 - Math.clz32(word & -word)
        yield (w << 5) + bit
        word &= word - 1
      }
    }
  }

  #combine(other: SessionSet, merge: (a: number, b: number) => number): SessionSet {
    if (other.size !== this.size) throw new RangeError('sets of different blocks cannot be combined')
    return new SessionSet(
      this.size,
      this.#bits.map((word, i) => merge(word, other.#bits[i]!)),
    )
  }
}

/** At most this share of a block's sessions is looked up one by one; of more, the whole block is scanned. */
const FEW = 1 / 8

/** Whether looking up the members of a set one by one is faster than scanning all sessions of the block. */
export function isFew(among: SessionSet): boolean {
  return among.count() <= FEW * among.size
}

/** What a table says of the codes from one index to another, at most 32, as one bit each. */
function marked(codes: ArrayLike<number>, table: Uint8Array, from: number, to: number): number {
  let found = 0
  for (let i = to - 1; i >= from; i--) found = (found << 1) | table[codes[i]!]!
  return found
}

/** A whole number spread evenly over 32 bits. */
function scattered(key: number): number {
  let h = (key ^ Math.floor(key / 4_294_967_296)) >>> 0
  h = Math.imul(h ^ (h >>> 16), 0x21f0aaad)
  h = Math.imul(h ^ (h >>> 15), 0x735a2d97)
  return (h ^ (h >>> 15)) >>> 0
}
