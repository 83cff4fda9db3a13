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
}

/** Those places of a tree that are listed, in the order of TreeColumns. */
export interface ListedPlaces extends Pick<TreeColumns, 'parent' | 'code' | 'ended'> {
  /** that came through each */
  sessions: Uint32Array
  /** how many places there are in the whole tree, the root left out */
  places: number
  /** those with so many sessions or fewer are not listed */
  above: number
}

/** A whole tree, or the places with the most sessions of it; see mostOf. */
export function listedOf(columns: TreeColumns, most: number | null): ListedPlaces {
  const sessions = cameThrough(columns)
  return mostOf({ ...columns, sessions, places: sessions.length - 1, above: 0 }, most)
}

/**
 * The places with the most sessions, at most so many besides the root, in the same order; equally rare ones are all listed
 * or none. null = all.
 */
export function mostOf(
  { parent, code, sessions, ended, places, above: before }: ListedPlaces,
  most: number | null,
): ListedPlaces {
  const above = Math.max(before, tooRare(sessions, most))
  if (above === 0) return { parent, code, sessions, ended, places, above }
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
    above,
  }
}

/** Places with so many sessions or fewer are not listed. */
export function tooRare(sessions: Uint32Array, most: number | null): number {
  return most === null || sessions.length - 1 <= most ? 0 : nthLargest(sessions.subarray(1), most)
}

/** How many sessions came through each node. */
function cameThrough({ parent, ended, beyond }: TreeColumns): Uint32Array {
  const sessions = ended.map((count, node) => count + beyond[node]!)
  // From the end every node is whole before it counts for its parent.
  for (let node = sessions.length - 1; node > 0; node--) {
    const above = parent[node]!
    sessions[above] = sessions[above]! + sessions[node]!
  }
  return sessions
}

/** Listed places of trees that share nothing but the root, as one. */
export function joined(trees: readonly ListedPlaces[]): ListedPlaces {
  const size = trees.reduce((sum, { parent }) => sum + parent.length - 1, 1)
  const column = () => new Uint32Array(size)
  const all = { parent: column(), code: column(), ended: column(), sessions: column(), places: 0, above: 0 }
  let before = 0
  for (const { parent, code, ended, sessions, places, above } of trees) {
    for (let node = 1; node < parent.length; node++) {
      const from = parent[node]!
      all.parent[before + node] = from === 0 ? 0 : before + from
    }
    all.code.set(code.subarray(1), before + 1)
    all.ended.set(ended.subarray(1), before + 1)
    all.sessions.set(sessions.subarray(1), before + 1)
    all.ended[0]! += ended[0]!
    all.sessions[0]! += sessions[0]!
    all.places += places
    all.above = Math.max(all.above, above)
    before += parent.length - 1
  }
  return all
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
