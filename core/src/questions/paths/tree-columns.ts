import type { CountedKeys } from './counted.ts'
import { memory } from './memory.ts'
import type { Digits } from './path-keys.ts'
import { digitsOf } from './path-keys.ts'

/** A tree as columns: node 0 is the root, every other comes after its parent. */
export interface TreeColumns {
  parent: Uint32Array
  /** page group; a click is the number of groups plus its place in `clicks` */
  code: Uint32Array
  /** sessions with nothing further */
  ended: Uint32Array
  /** sessions that go on from the node, deeper than is looked */
  beyond: Uint32Array
  /** page group × FAMILIES + element family */
  clicks: number[]
  /** sessions that came through the node, where they are counted already */
  sessions?: Uint32Array
}

/** Those places of a tree that are listed, in the order of TreeColumns, and how many sessions came through each. */
export interface ListedPlaces extends Omit<TreeColumns, 'clicks' | 'sessions' | 'beyond'> {
  sessions: Uint32Array
  /** how many places there are in the whole tree, the root left out */
  places: number
}

/** The tree of paths in ascending order: each differs from the one before from some place on. */
export function treeOf({ keys, more, counts }: CountedKeys, groups: number, depth: number): TreeColumns {
  const numbers = [keys, ...more]
  const most = depth * keys.length + 1
  const tree = { parent: memory.take(most), code: memory.take(most), end: memory.take(keys.length) }
  const last = makeTree(numbers, digitsOf(groups, depth), tree)
  tree.parent[0] = tree.code[0] = 0
  const ended = new Uint32Array(last + 1)
  const beyond = new Uint32Array(last + 1)
  const lowest = numbers.at(-1)!
  for (let i = 0; i < keys.length; i++) (lowest[i]! & 1 ? beyond : ended)[tree.end[i]!] = counts[i]!
  const columns = {
    parent: copyOf(tree.parent, last + 1),
    code: copyOf(tree.code, last + 1),
    ended,
    beyond,
    clicks: [],
  }
  for (const piece of Object.values(tree)) memory.giveBack(piece)
  return columns
}

/** A tree that is being made. */
interface NewTree {
  parent: Int32Array
  code: Int32Array
  /** by path: the node where it ends */
  end: Int32Array
}

/** Makes the nodes; returns the last one. */
function makeTree(
  columns: readonly Int32Array[],
  { bits, each, numbers }: Digits,
  { parent, code, end }: NewTree,
): number {
  const [first] = columns
  /** by place of a bit, from the lowest: the digit it is in, from the first */
  const digitOf = Uint8Array.from({ length: 32 }, (_, place) =>
    Math.max(0, each - 1 - Math.floor(place / bits)),
  )
  /** nodes on the way to the path before */
  const way = new Int32Array(each * numbers + 1)
  let node = 0
  for (let i = 0; i < first!.length; i++) {
    /** the number in which it differs from the path before */
    let w = 0
    let level = 0
    let behind = (each - 1) * bits
    let rest = first![i]! >>> 1
    if (i > 0) {
      while (w < numbers - 1 && columns[w]![i] === columns[w]![i - 1]) w++
      const key = columns[w]![i]! >>> 1
      const differ = key ^ (columns[w]![i - 1]! >>> 1)
      if (differ === 0) {
        end[i] = node
        continue
      }
      const digit = digitOf[31 - Math.clz32(differ)]!
      level = w * each + digit
      behind = (each - 1 - digit) * bits
      /** the digits from the level on: the first lies above so many bits */
      rest = key & ~(-1 << (behind + bits))
    }
    for (;;) {
      while (rest !== 0) {
        node++
        parent[node] = way[level]!
        code[node] = (rest >>> behind) - 1
        way[++level] = node
        rest &= ~(-1 << behind)
        behind -= bits
      }
      if (++w >= numbers) break
      rest = columns[w]![i]! >>> 1
      behind = (each - 1) * bits
    }
    end[i] = node
  }
  return node
}

function copyOf(memory: Int32Array, length: number): Uint32Array {
  return new Uint32Array(memory.buffer as ArrayBuffer, 0, length).slice()
}

/**
 * The places of a tree with the most sessions, at most so many besides the root, in its order; equally rare ones are all
 * listed or none. null = all.
 */
export function listedOf(columns: Omit<TreeColumns, 'clicks'>, most: number | null): ListedPlaces {
  const { parent, code, ended } = columns
  const sessions = columns.sessions ?? cameThrough(columns)
  const places = sessions.length - 1
  if (most === null || places <= most) return { parent, code, sessions, ended, places }
  const above = nthLargest(sessions.subarray(1), most)
  const nodes: number[] = [0]
  const place = new Uint32Array(sessions.length)
  for (let node = 1; node < sessions.length; node++)
    if (sessions[node]! > above) place[node] = nodes.push(node) - 1
  const of = (column: Uint32Array) => Uint32Array.from(nodes, (node) => column[node]!)
  return {
    parent: of(parent).map((node) => place[node]!),
    code: of(code),
    sessions: of(sessions),
    ended: of(ended),
    places,
  }
}

/** How many sessions came through each node. */
export function cameThrough({
  parent,
  ended,
  beyond,
}: Pick<TreeColumns, 'parent' | 'ended' | 'beyond'>): Uint32Array {
  const sessions = ended.map((count, node) => count + beyond[node]!)
  // From the end every node is whole before it counts for its parent.
  for (let node = sessions.length - 1; node > 0; node--) {
    const above = parent[node]!
    sessions[above] = sessions[above]! + sessions[node]!
  }
  return sessions
}

/** Trees that share nothing but the root, as one. */
export function joined(trees: readonly Required<TreeColumns>[]): TreeColumns {
  const size = trees.reduce((sum, { parent }) => sum + parent.length - 1, 1)
  const column = () => new Uint32Array(size)
  const all = { parent: column(), code: column(), ended: column(), beyond: column(), sessions: column() }
  let before = 0
  for (const { parent, code, ended, beyond, sessions } of trees) {
    if (before === 0) all.parent.set(parent)
    else
      for (let node = 1; node < parent.length; node++) {
        const above = parent[node]!
        all.parent[before + node] = above === 0 ? 0 : before + above
      }
    all.code.set(code.subarray(1), before + 1)
    all.ended.set(ended.subarray(1), before + 1)
    all.beyond.set(beyond.subarray(1), before + 1)
    all.sessions.set(sessions.subarray(1), before + 1)
    all.ended[0]! += ended[0]!
    all.sessions[0]! += sessions[0]!
    before += parent.length - 1
  }
  return { ...all, clicks: [] }
}

/** The number at a place, from 0, of numbers in descending order, most of which are small. */
function nthLargest(numbers: Uint32Array, place: number): number {
  const SMALL = 4096
  const met = new Uint32Array(SMALL)
  const large: number[] = []
  for (let i = 0; i < numbers.length; i++)
    if (numbers[i]! < SMALL) met[numbers[i]!]!++
    else large.push(numbers[i]!)
  if (place < large.length) return large.sort((a, b) => b - a)[place]!
  let before = large.length
  let number = SMALL - 1
  while (before + met[number]! <= place) before += met[number--]!
  return number
}
