import type { RecordedNode } from './types.ts'

/** What is looked for on recorded pages. */
export type Wanted =
  | { kind: 'text'; text: string }
  | {
      kind: 'element'
      tag: string
      id: string
      classes: string[]
      attributes: [name: string, value: string | null][]
    }

const COMPOUND = /^([a-z][\w-]*)?((?:[#.][\w-]+|\[[\w-]+(?:=(?:"[^"\]]*"|[^\]"]*))?\])*)$/i
const PART = /([#.])([\w-]+)|\[([\w-]+)(?:=(?:"([^"\]]*)"|([^\]"]*)))?\]/g

/**
 * What somebody looks for: an element where they write one as in CSS (`#id`, `.class`, `[name=value]`, several at once, a
 * tag before them), else a text in whatever case.
 */
export function wantedOf(words: string): Wanted {
  const text = words.trim()
  const [, tag = '', rest = ''] = /[#.[]/.test(text) ? (COMPOUND.exec(text) ?? []) : []
  if (!rest) return { kind: 'text', text: folded(text) }
  const element = { kind: 'element' as const, tag: tag.toLowerCase(), id: '', classes: [] as string[] }
  const attributes: [string, string | null][] = []
  for (const [, sign, name, attribute, quoted, plain] of rest.matchAll(PART))
    if (sign === '#') element.id = name!
    else if (sign === '.') element.classes.push(name!)
    else attributes.push([attribute!, quoted ?? plain ?? null])
  return { ...element, attributes }
}

/** Texts compare in whatever case, and however they are broken into lines. */
const folded = (text: string) => text.toLowerCase().replace(/\s+/g, ' ')

/** Whether it may be in a recording that is given as JSON: what has not even the words need not be read. */
export function mayHold(json: string, wanted: Wanted): boolean {
  const words =
    wanted.kind === 'text'
      ? wanted.text.split(' ')
      : [
          wanted.tag,
          wanted.id,
          ...wanted.classes,
          ...wanted.attributes.flatMap(([name, value]) => [name, value ?? '']),
        ]
  const text = json.toLowerCase()
  return words.every((word) => text.includes(JSON.stringify(word.toLowerCase()).slice(1, -1)))
}

/** Whether a tree has it: a text within one node, or an element. What is never seen, such as style sheets, is no text. */
export function holds(node: RecordedNode, wanted: Wanted): boolean {
  if ('text' in node) return wanted.kind === 'text' && folded(node.text).includes(wanted.text)
  if (wanted.kind === 'text' && /^(style|script|template|noscript)$/.test(node.tag)) return false
  if (wanted.kind === 'element' && isWanted(node, wanted)) return true
  return (node.c ?? []).some((child) => holds(child, wanted))
}

function isWanted(
  { tag, a = {} }: Extract<RecordedNode, { tag: string }>,
  wanted: Extract<Wanted, { kind: 'element' }>,
): boolean {
  const classes = (a['class'] ?? '').split(/\s+/)
  return (
    (!wanted.tag || tag.toLowerCase() === wanted.tag) &&
    (!wanted.id || a['id'] === wanted.id) &&
    wanted.classes.every((one) => classes.includes(one)) &&
    wanted.attributes.every(([name, value]) => (value === null ? name in a : a[name] === value))
  )
}
