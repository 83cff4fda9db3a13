import type { RecordedNode, RecordItem, Snapshot } from '@dust-trail/core'

/** Texts and values beyond this are left out of a recording: no part could carry them. */
const LONGEST_TEXT = 1_500_000

type Written = Extract<RecordedNode, { tag: string }>
type Added = [parent: number, before: number, node: RecordedNode]
type Change = Extract<RecordItem, { k: 'change' }>

/** A tree that is cut where it has become too large; what was left out waits for the next. */
class Cutter {
  /** what does not fit: each child with the node it is a child of, in the order of the document */
  rest: Added[] = []
  #room: number

  constructor(most: number) {
    this.#room = most
  }

  get hasRoom(): boolean {
    return this.#room > 0
  }

  cut(node: RecordedNode): RecordedNode {
    if ('text' in node) {
      this.#room -= node.text.length + 30
      return node.text.length > LONGEST_TEXT ? { ...node, text: '' } : node
    }
    const { c, ...own } = node
    if (own.a) own.a = this.#attributes(own.a)
    this.#room -= node.tag.length + 40
    if (!c) return own
    const children: RecordedNode[] = []
    for (const child of c)
      if (this.hasRoom && !this.rest.length) children.push(this.cut(child))
      else this.rest.push([node.id, 0, child])
    return { ...own, c: children }
  }

  #attributes(written: Record<string, string>): Record<string, string> {
    const kept: Record<string, string> = {}
    for (const name in written) {
      const value = written[name]!
      this.#room -= name.length + value.length + 6
      if (value.length <= LONGEST_TEXT) kept[name] = value
    }
    return kept
  }
}

/**
 * A page in parts, where it is too large for one: its first so many characters, and the rest as changes at the time 0 that
 * add it, each of about so many characters.
 *
 * A node larger than a part goes alone.
 */
export function inParts(snapshot: Snapshot, most: number, mostOfRest: number): [Snapshot, RecordItem[]] {
  const first = new Cutter(most)
  const root = first.cut(snapshot.root) as Written
  return [
    { ...snapshot, root },
    addedInParts(first.rest, mostOfRest).map((add) => ({ at: 0, k: 'change', add })),
  ]
}

/** A change in parts of about so many characters, where what it adds is too large for one. */
export function changeInParts({ at, k, gone, add = [], ...rest }: Change, most: number): Change[] {
  const parts: Change[] = addedInParts(add, most).map((add) => ({ at, k, add }))
  if (gone) parts[0] = { at, k, gone, ...parts[0] }
  // Of what has come something may be said.
  return [...parts.slice(0, -1), { at, k, ...parts.at(-1), ...rest }]
}

function addedInParts(all: readonly Added[], most: number): Added[][] {
  const parts: Added[][] = []
  let left = all
  while (left.length) {
    const part = new Cutter(most)
    const add: Added[] = []
    let next = 0
    while (next < left.length && part.hasRoom && !part.rest.length) {
      const [parent, before, node] = left[next++]!
      add.push([parent, before, part.cut(node)])
    }
    parts.push(add)
    left = [...part.rest, ...left.slice(next)]
  }
  return parts
}
