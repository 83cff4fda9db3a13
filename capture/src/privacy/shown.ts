import {
  attributeOf,
  aroundOf,
  closestAround,
  hasAttribute,
  localNameOf,
  matches,
  pageOf,
  parentElementOf,
  parentOf,
  valueOf,
} from '../dom.ts'
import { bullets, clean, hideMarked, levelNow } from './scrubber.ts'
import { isAnythingTyped, typedIn } from './typed.ts'

const MASK = '[data-trail-mask]'
const BLOCK = '[data-trail-block]'
/** What visitors write or choose in. */
const FIELD =
  'input,textarea,select,datalist,[contenteditable]:not([contenteditable=false]),[role=textbox],[role=searchbox],[role=spinbutton],[role=combobox]'
/** What says what a page is and can do, and is shown where other text is not: controls and headings. */
const TELLING =
  'h1,h2,h3,h4,h5,h6,[role=heading],button,a[href],label,legend,summary,th,caption,[role=button],[role=link],[role=tab],[role^=menuitem],[data-trail-show]'
/** Where the page's own words stand whatever was typed. */
const LABELS = 'label,legend,code,pre,th,option'
const CHOICE =
  'input[type=radio],option,[role=radio],[role=option],[role=menuitemradio],[role=listbox],[role=radiogroup]'

/** Whether nothing but structure leaves from here. */
export function isStructureOnly(node: Element | null): boolean {
  return !!node && closestAround(node, MASK) !== null
}

/** The box that an element is, or lies in, of which nothing else leaves. */
export function blockOf(node: Element | null): Element | null {
  let block: Element | null = null
  for (let next = node; next; next = block && aroundOf(block)) {
    next = closestAround(next, BLOCK)
    if (!next) break
    block = next
  }
  return block
}

export const isBlock = (element: Element) => hasAttribute(element, 'data-trail-block')
export const isMask = (element: Element) => hasAttribute(element, 'data-trail-mask')

/** Whether an element is one that visitors write or choose in. */
export function isField(element: Element): boolean {
  return matches(element, FIELD)
}

/** True where the text under this node is the visitor's own, or the site asked for it to be hidden. */
export function isMasked(node: Element | null): boolean {
  return (
    !!node && (closestAround(node, `${FIELD},${MASK},${BLOCK}`) !== null || pageOf(node)?.designMode === 'on')
  )
}

/** Whether the level of the site lets text under this node be seen. */
export function isShown(node: Element | null): boolean {
  return levelNow() !== 'hidden' || (!!node && closestAround(node, TELLING) !== null)
}

/** Whether an element itself makes the text under it seen. */
export function isTelling(element: Element): boolean {
  return matches(element, TELLING)
}

/** So many levels up is looked for what is typed and stands in several nodes, and not in so long a text. */
const AROUND = 3
const MOST_AROUND = 300

/** The text of a node as it may leave, read together with what stands around it. */
export function safeText(node: Node, shown?: boolean, fresh?: boolean): string {
  const text = valueOf(node)
  const parent = aroundOf(node)
  if (isMasked(parent) || !(shown ?? isShown(parent))) return bullets(text)
  if (!text.trim()) return text
  const how = { labels: !!parent && closestAround(parent, LABELS) !== null, ...(fresh && { fresh }) }
  const around = text.length < MOST_AROUND && isAnythingTyped() && textAround(node)
  if (!around) return clean(text, how)
  const marked = typedIn(around.text, how)
  return clean(hideMarked(text, marked && marked.subarray(around.from, around.from + text.length)), how)
}

/** The text of the smallest elements around a node that hold more than it, and where in it that of the node begins. */
function textAround(node: Node): { text: string; from: number } | undefined {
  let root: Node | null = parentOf(node)
  let best: { text: string; from: number } | undefined
  for (let up = 0; root && up < AROUND && root !== document.body; up++, root = parentOf(root)) {
    let text = ''
    let from = -1
    const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT)
    while (text.length <= MOST_AROUND && walker.nextNode()) {
      if (walker.currentNode === node) from = text.length
      text += valueOf(walker.currentNode)
    }
    if (text.length > MOST_AROUND || from < 0) break
    if (text.length > valueOf(node).length) best = { text, from }
  }
  return best
}

/** Whether an element is one of several of which one is chosen, and which of them may not be told. */
export function isChoice(element: Element): boolean {
  return levelNow() === 'hidden' && matches(element, CHOICE)
}

/** The group of a choice: which of its entries was meant would tell what was chosen. */
export function choiceOf(node: Element): Element | null {
  if (levelNow() !== 'hidden') return null
  const label = closestAround(node, 'label') as HTMLLabelElement | null
  const chosen = closestAround(node, CHOICE) ?? (label?.control ? closestAround(label.control, CHOICE) : null)
  if (!chosen) return null
  return (
    closestAround(chosen, 'fieldset,[role=radiogroup],[role=listbox],[role=menu],select,form') ??
    parentElementOf(parentElementOf(chosen) ?? chosen)
  )
}

const BUTTON = /^(button|submit|reset)$/

/** A label people would use for the element, never what was typed. At most 80 characters. */
export function labelOf(element: Element): string {
  if (isStructureOnly(element) || blockOf(element)) return ''
  const own = attributeOf(element, 'aria-label')
  if (isField(element)) {
    const field = element as HTMLInputElement
    if (BUTTON.test(field.type)) return line(field.value)
    const [label] = field.labels ?? []
    return line(own ?? (label ? visibleText(label) : (attributeOf(field, 'placeholder') ?? '')))
  }
  if (isMasked(element)) return ''
  const named = own ?? attributeOf(element, 'alt')
  return named !== null && isShown(element) ? line(named) : singleSpaced(visibleText(element))
}

const line = (text: string) => singleSpaced(clean(text))

/** The text under an element as it may leave, without what is hidden; reads no more than a label needs. */
function visibleText(element: Element): string {
  let text = ''
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT)
  while (text.length < 200 && walker.nextNode()) {
    const parent = aroundOf(walker.currentNode)
    if (
      parent &&
      !/^(script|style|noscript)$/.test(localNameOf(parent)) &&
      (isShown(parent) || isShown(element))
    )
      text += `${safeText(walker.currentNode, true)} `
  }
  return text
}

function singleSpaced(text: string): string {
  return text.replaceAll(/\s+/g, ' ').trim().slice(0, 80)
}
