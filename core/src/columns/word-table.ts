import type { Words } from './dictionary.ts'

/** Words as they lie in memory, to be handed to another thread. */
export interface PackedWords {
  /** the code of the first of them */
  first: number
  units: Uint8Array | Uint16Array
  /** by word where its characters end in `units` */
  ends: Uint32Array
  hashes: Uint32Array
}

/**
 * The same as Dictionary for very many words that are hardly ever looked at, those of visitors: their characters lie
 * one after the other in plain memory, found through a table of places (open addressing, linear probing). Strings would
 * be looked through by every garbage collection of every thread.
 */
export class WordTable implements Words {
  /** characters, in two bytes once any of them needs these */
  #units: Uint8Array | Uint16Array = new Uint8Array(256)
  /** by code where its characters end */
  #ends = new Uint32Array(32)
  #hashes = new Uint32Array(32)
  /** codes, at places that follow from the hash; 0 = free */
  #table = new Uint32Array(64)
  #size = 1
  #listed: WeakRef<string[]> | undefined

  get size(): number {
    return this.#size
  }

  code(value: string | undefined): number {
    if (!value) return 0
    const hash = hashOf(value)
    const at = this.#placeOf(value, hash)
    return this.#table[at]! || this.#add(value, hash, at)
  }

  find(value: string): number {
    if (value === '') return 0
    return this.#table[this.#placeOf(value, hashOf(value))]! || -1
  }

  word(code: number): string {
    if (code < 0 || code >= this.#size) throw new RangeError(`there is no word with code ${code}`)
    let word = ''
    for (let at = this.#start(code); at < this.#ends[code]!; at++)
      word += String.fromCharCode(this.#units[at]!)
    return word
  }

  wordsFrom(code: number): string[] {
    return Array.from({ length: this.#size - code }, (_, k) => this.word(code + k))
  }

  /** All of them, made when they are asked for, and kept as long as somebody uses them. */
  get values(): readonly string[] {
    let listed = this.#listed?.deref()
    if (!listed) this.#listed = new WeakRef((listed = this.wordsFrom(0)))
    else if (listed.length < this.#size) listed.push(...this.wordsFrom(listed.length))
    return listed
  }

  /** Those from a code on, as they lie here. */
  packedFrom(code: number): PackedWords {
    const start = this.#start(code)
    return {
      first: code,
      units: this.#units.slice(start, this.#ends[this.#size - 1]),
      ends: this.#ends.slice(code, this.#size).map((end) => end - start),
      hashes: this.#hashes.slice(code, this.#size),
    }
  }

  /**
   * Takes in words of another list that began with those which are here.
   *
   * @throws RangeError where there are words between these and those
   */
  append({ first, units, ends, hashes }: PackedWords): void {
    const found = this.#size - first
    if (found < 0) throw new RangeError(`words from ${this.#size} to ${first} are missing`)
    if (found >= ends.length) return
    const start = found > 0 ? ends[found - 1]! : 0
    const end = this.#ends[this.#size - 1]!
    this.#makeRoom(first + ends.length, end + units.length - start)
    if (units instanceof Uint16Array) this.#widen()
    this.#units.set(units.subarray(start), end)
    for (let k = found; k < ends.length; k++) this.#ends[first + k] = end + ends[k]! - start
    this.#hashes.set(hashes.subarray(found), this.#size)
    const from = this.#size
    this.#size = first + ends.length
    if (2 * this.#size > this.#table.length) this.#spread()
    else for (let code = from; code < this.#size; code++) this.#place(code)
  }

  #start(code: number): number {
    return code === 0 ? 0 : this.#ends[code - 1]!
  }

  /** Where a word is in the table, or is to be. */
  #placeOf(value: string, hash: number): number {
    const mask = this.#table.length - 1
    let at = hash & mask
    for (let code = this.#table[at]!; code !== 0; code = this.#table[(at = (at + 1) & mask)]!)
      if (this.#hashes[code] === hash && this.#is(code, value)) break
    return at
  }

  #is(code: number, value: string): boolean {
    const start = this.#start(code)
    if (this.#ends[code]! - start !== value.length) return false
    for (let k = 0; k < value.length; k++) if (this.#units[start + k] !== value.charCodeAt(k)) return false
    return true
  }

  #add(value: string, hash: number, at: number): number {
    const code = this.#size
    const start = this.#ends[code - 1]!
    this.#makeRoom(code + 1, start + value.length)
    for (let k = 0; k < value.length; k++) {
      const unit = value.charCodeAt(k)
      if (unit > 255) this.#widen()
      this.#units[start + k] = unit
    }
    this.#ends[code] = start + value.length
    this.#hashes[code] = hash
    this.#table[at] = code
    this.#size++
    if (2 * this.#size > this.#table.length) this.#spread()
    return code
  }

  #makeRoom(words: number, units: number): void {
    if (words > this.#ends.length) {
      const length = Math.max(words, 2 * this.#ends.length)
      this.#ends = longer(this.#ends, length)
      this.#hashes = longer(this.#hashes, length)
    }
    if (units > this.#units.length) this.#units = longer(this.#units, Math.max(units, 2 * this.#units.length))
  }

  #widen(): void {
    if (this.#units instanceof Uint8Array) this.#units = Uint16Array.from(this.#units)
  }

  /** Makes the table so large that half of it is free. */
  #spread(): void {
    let length = this.#table.length
    while (2 * this.#size > length) length *= 2
    this.#table = new Uint32Array(length)
    for (let code = 1; code < this.#size; code++) this.#place(code)
  }

  #place(code: number): void {
    const mask = this.#table.length - 1
    let at = this.#hashes[code]! & mask
    while (this.#table[at] !== 0) at = (at + 1) & mask
    this.#table[at] = code
  }
}

function longer<C extends Uint8Array | Uint16Array | Uint32Array>(column: C, length: number): C {
  const more = new (column.constructor as new (length: number) => C)(length)
  more.set(column)
  return more
}

/** FNV-1a over UTF-16 units, its bits mixed once more. Source: Fowler, Noll, Vo (from memory); any hash would do. */
function hashOf(value: string): number {
  let h = 0x811c9dc5
  for (let k = 0; k < value.length; k++) h = Math.imul(h ^ value.charCodeAt(k), 0x01000193)
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  return (h ^ (h >>> 13)) >>> 0
}
