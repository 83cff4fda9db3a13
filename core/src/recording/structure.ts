import type { RecordedNode } from './types.ts'

/** Deeper, a page is content more than structure. */
const DEPTH = 12
/** What tells elements of one kind apart: ids and classes come and go with state and with builds. */
const LANDMARK_ATTRIBUTES = ['role', 'type', 'name'] as const

/**
 * What a page is built of, as text: its elements and how they lie in one another, without texts, addresses, states and the
 * length of lists. Two recordings of the same template have the same one; a block that came, went or moved changes it.
 */
export function structureOf(root: RecordedNode): string {
  return describe(root, 0)
}

function describe(node: RecordedNode, depth: number): string {
  if ('text' in node) return ''
  const { tag, a = {}, c = [] } = node
  if (HIDDEN.has(tag)) return ''
  const attributes = LANDMARK_ATTRIBUTES.map((name) => (a[name] ? `[${name}=${a[name]}]` : '')).join('')
  const children: string[] = []
  if (depth < DEPTH)
    for (const child of c) {
      const own = describe(child, depth + 1)
      // Entries of a list are alike, however many there are.
      if (own && own !== children.at(-1)) children.push(own)
    }
  return `${tag}${attributes}${children.length ? `(${children.join(' ')})` : ''}`
}

/** Nothing that is seen. */
const HIDDEN = new Set(['head', 'script', 'style', 'noscript', 'template', 'link', 'meta'])
