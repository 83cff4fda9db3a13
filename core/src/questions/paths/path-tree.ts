import type { TreeColumns } from './tree-columns.ts'

/** There are fewer element families than this. */
export const FAMILIES = 2 ** 26

/** A growing prefix tree, its children found through one table of places (open addressing, linear probing). */
export class PathTree {
  #parent = new Uint32Array(1024)
  #code = new Uint32Array(1024)
  #ended = new Uint32Array(1024)
  #beyond = new Uint32Array(1024)
  #size = 1
  #at = 0
  /** node + 1 of a child, at a place that follows from its parent and code; 0 = free */
  #table = new Uint32Array(4096)
  readonly clicks: number[] = []
  readonly #clickAt = new Map<number, number>()

  constructor(readonly groups: number) {}

  static from(columns: TreeColumns, groups: number): PathTree {
    const tree = new PathTree(groups)
    tree.add(columns)
    return tree
  }

  /** Adds a tree of the same page groups. */
  add({ parent, code, ended, beyond, clicks }: TreeColumns): void {
    const nodes = new Uint32Array(parent.length)
    for (let node = 0; node < nodes.length; node++) {
      if (node > 0) {
        const nodeCode = code[node]!
        const pageOrClick = nodeCode < this.groups ? nodeCode : this.click(clicks[nodeCode - this.groups]!)
        nodes[node] = this.child(nodes[parent[node]!]!, pageOrClick)
      }
      this.#ended[nodes[node]!]! += ended[node]!
      this.#beyond[nodes[node]!]! += beyond[node]!
    }
  }

  /** A session's path, step by step from the root to its end. */
  step(code: number): void {
    this.#at = this.child(this.#at, code)
  }

  /** @param goesOn  whether the session went on, deeper than is looked */
  end(goesOn: boolean): void {
    if (goesOn) this.#beyond[this.#at]!++
    else this.#ended[this.#at]!++
    this.#at = 0
  }

  /** The code of a click. */
  click(raw: number): number {
    let at = this.#clickAt.get(raw)
    if (at === undefined) this.#clickAt.set(raw, (at = this.clicks.push(raw) - 1))
    return this.groups + at
  }

  child(node: number, code: number): number {
    const mask = this.#table.length - 1
    let at = hash(node, code) & mask
    for (;;) {
      const occupant = this.#table[at]!
      if (occupant === 0) break
      if (this.#parent[occupant - 1] === node && this.#code[occupant - 1] === code) return occupant - 1
      at = (at + 1) & mask
    }
    const child = this.#size++
    if (child === this.#parent.length) this.#grow()
    this.#parent[child] = node
    this.#code[child] = code
    this.#place(child)
    return child
  }

  columns(): TreeColumns {
    return {
      parent: this.#parent.slice(0, this.#size),
      code: this.#code.slice(0, this.#size),
      ended: this.#ended.slice(0, this.#size),
      beyond: this.#beyond.slice(0, this.#size),
      clicks: this.clicks,
    }
  }

  #place(child: number): void {
    const mask = this.#table.length - 1
    let at = hash(this.#parent[child]!, this.#code[child]!) & mask
    while (this.#table[at] !== 0) at = (at + 1) & mask
    this.#table[at] = child + 1
  }

  #grow(): void {
    const double = (column: Uint32Array) => {
      const more = new Uint32Array(2 * column.length)
      more.set(column)
      return more
    }
    const capacity = this.#parent.length
    this.#parent = double(this.#parent)
    this.#code = double(this.#code)
    this.#ended = double(this.#ended)
    this.#beyond = double(this.#beyond)
    this.#table = new Uint32Array(4 * this.#parent.length)
    for (let node = 1; node < capacity; node++) this.#place(node)
  }
}

function hash(node: number, code: number): number {
  let h = Math.imul(node, 0x9e3779b1) ^ Math.imul(code + 1, 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  return (h ^ (h >>> 13)) >>> 0
}
