import { countedRows } from './count-sorted.ts'
import type { Digits } from './path-keys.ts'
import { digitsOf } from './path-keys.ts'
import type { ListedPlaces } from './tree-columns.ts'
import { tooRare } from './tree-columns.ts'

/**
 * The places that most sessions came through, of paths as rows of numbers; see mostOf. Step by step: where a place is too
 * rare to be listed, so is all that lies behind it, and is not looked at.
 */
export function mostWalked(
  rows: readonly Int32Array[],
  groups: number,
  depth: number,
  most: number | null,
): ListedPlaces {
  const digits = digitsOf(groups, depth)
  const { keys, more, counts } = countedRows(rows, digits.bits * digits.each + 1)
  const columns = [keys, ...more]
  const places = placesOf(columns, digits)
  const tree = new GrowingTree(counts)
  let first = 0
  for (let step = 0; step < depth; step++) {
    const column = columns[Math.floor(step / digits.each)]!
    const shift = (digits.each - 1 - (step % digits.each)) * digits.bits + 1
    const end = tree.size
    const above = tooRare(tree.sessions.subarray(0, end), most)
    for (let node = first; node < end; node++)
      if (node === 0 || tree.sessions[node]! > above) tree.grow(node, column, shift, (1 << digits.bits) - 1)
    first = end
  }
  for (let node = first; node < tree.size; node++) tree.endAt(node, columns.at(-1)!)
  return tree.listed(tooRare(tree.sessions.subarray(0, tree.size), most), places)
}

const FIRST_ROOM = 4096

/** A tree of which every node stands for a range of the paths. */
class GrowingTree {
  parent = new Uint32Array(FIRST_ROOM)
  code = new Uint32Array(FIRST_ROOM)
  sessions = new Uint32Array(FIRST_ROOM)
  ended = new Uint32Array(FIRST_ROOM)
  from = new Uint32Array(FIRST_ROOM)
  to = new Uint32Array(FIRST_ROOM)
  /** by path: sessions of all before it */
  readonly before: Uint32Array
  size = 1

  constructor(counts: Uint32Array) {
    const paths = counts.length
    this.before = new Uint32Array(paths + 1)
    for (let i = 0; i < paths; i++) this.before[i + 1] = this.before[i]! + counts[i]!
    this.to[0] = paths
    this.sessions[0] = this.before[paths]!
  }

  /** Adds the places that come next: one for each digit that is met in the paths of a node. */
  grow(node: number, column: Int32Array, shift: number, mask: number): void {
    const most = this.size + Math.min(mask, this.to[node]! - this.from[node]!)
    if (most > this.parent.length) this.#makeRoom(2 * most)
    const { parent, code, sessions, ended, from, to, before } = this
    const end = to[node]!
    let size = this.size
    let i = from[node]!
    while (i < end) {
      const start = i
      const digit = (column[i]! >>> shift) & mask
      while (i < end && ((column[i]! >>> shift) & mask) === digit) i++
      const count = before[i]! - before[start]!
      if (digit === 0) {
        ended[node] = count
        continue
      }
      parent[size] = node
      code[size] = digit - 1
      sessions[size] = count
      from[size] = start
      to[size++] = i
    }
    this.size = size
  }

  #makeRoom(nodes: number): void {
    const longer = (column: Uint32Array) => {
      const more = new Uint32Array(nodes)
      more.set(column)
      return more
    }
    this.parent = longer(this.parent)
    this.code = longer(this.code)
    this.sessions = longer(this.sessions)
    this.ended = longer(this.ended)
    this.from = longer(this.from)
    this.to = longer(this.to)
  }

  /** Counts those that end at a node of the last step: the others go on, deeper than is looked. */
  endAt(node: number, lowest: Int32Array): void {
    for (let i = this.from[node]!; i < this.to[node]!; i++)
      if (!(lowest[i]! & 1)) this.ended[node]! += this.before[i + 1]! - this.before[i]!
  }

  /** Those with more sessions than so many, in the order of the paths, each before those that come after it. */
  listed(above: number, places: number): ListedPlaces {
    const { from, parent, code, sessions, ended } = this
    const at = new Uint32Array(this.to[0]! + 1)
    let listed = 1
    for (let node = 1; node < this.size; node++)
      if (sessions[node]! > above) {
        at[from[node]! + 1]!++
        listed++
      }
    for (let i = 1; i < at.length; i++) at[i]! += at[i - 1]!
    /** by node where it is listed, the root first; in listed order the nodes */
    const place = new Uint32Array(this.size)
    const nodes = new Uint32Array(listed)
    for (let node = 1; node < this.size; node++)
      if (sessions[node]! > above) nodes[(place[node] = 1 + at[from[node]!]!++)] = node
    const of = (column: Uint32Array) => nodes.map((node) => column[node]!)
    return {
      parent: nodes.map((node) => place[parent[node]!]!),
      code: of(code),
      sessions: of(sessions),
      ended: of(ended),
      places,
      above,
    }
  }
}

/** How many places the whole tree has, the root left out: those in which each path differs from the one before. */
function placesOf(columns: readonly Int32Array[], { bits, each }: Digits): number {
  /** by place of a bit, from the lowest: the digits of a number from it on, down to the last one */
  const left = Uint8Array.from({ length: 32 }, (_, place) => Math.min(each, Math.floor(place / bits) + 1))
  const { length } = columns[0]!
  let places = 0
  for (let i = 0; i < length; i++) {
    let differs = i === 0
    for (const column of columns) {
      const key = column[i]! >>> 1
      if (key === 0) break
      /** digits after the last one of the path */
      const free = left[31 - Math.clz32(key & -key)]! - 1
      if (differs) {
        places += each - free
        continue
      }
      const differ = key ^ (column[i - 1]! >>> 1)
      if (differ === 0) continue
      differs = true
      places += left[31 - Math.clz32(differ)]! - free
    }
  }
  return places
}
