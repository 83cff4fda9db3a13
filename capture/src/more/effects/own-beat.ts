import { attributeOf, bodyOf, rootOf, typeOf } from '../../dom.ts'
import { above } from './above.ts'

/** So long after anything that the visitor does a page is not taken to change by itself. */
const QUIET_AFTER_MS = 1500
/** What has not changed by itself for so long is not expected to. */
const FORGET_MS = 60_000
const MOST = 500
const FAST_MS = 250

/** Attributes by which pages show where the focus and the pointer are; they say nothing of what a click did. */
const PRESS_WORD = /focus|press|hover|ripple|touch|tabindex/i

/** What a page changes by itself: a clock, a carousel, what is fetched again and again. Learnt while nobody does anything. */
export class OwnBeat {
  /** when an element last changed by itself, and when something last came into or left it */
  readonly #selves = new Map<Element, number>()
  readonly #parents = new Map<Element, number>()
  readonly #signs = new Map<Element | string, number>()
  #lastInputMs = -Infinity

  /** The visitor does something. */
  input(nowMs: number): void {
    this.#lastInputMs = nowMs
  }

  isQuiet(nowMs: number): boolean {
    return nowMs - this.#lastInputMs > QUIET_AFTER_MS
  }

  learn(records: readonly MutationRecord[], nowMs: number): void {
    for (const record of records) {
      const element = elementOf(record.target)
      if (element) note(record.type === 'childList' ? this.#parents : this.#selves, element, nowMs)
    }
  }

  /** Elements that are known to change by themselves are so while the visitor acts, too. */
  goOn(records: readonly MutationRecord[], nowMs: number): void {
    for (const record of records) {
      const element = elementOf(record.target)
      const known = record.type === 'childList' ? this.#parents : this.#selves
      if (element && isKnown(known, element, nowMs)) note(known, element, nowMs)
    }
  }

  /** Whether an element changes so often by itself that it may do so in the very task in which a click is handled. */
  isFast(element: Element, nowMs: number): boolean {
    return [this.#selves, this.#parents].some((known) => nowMs - (known.get(element) ?? -Infinity) < FAST_MS)
  }

  /** A drawing changes, a pane scrolls, or a request begins, by itself. */
  learnSign(sign: Element | string, nowMs: number): void {
    note(this.#signs, sign, nowMs)
  }

  isOwnSign(sign: Element | string, nowMs: number): boolean {
    return isKnown(this.#signs, sign, nowMs)
  }

  /** Whether an element is one that changes by itself, or lies in one. */
  has(element: Element, nowMs: number): boolean {
    for (let at: Element | null = element; at && !isGround(at); at = above(at)) {
      if (isKnown(this.#selves, at, nowMs) || this.isOwnSign(at, nowMs)) return true
      const parent = above(at)
      if (parent && isKnown(this.#parents, parent, nowMs) && !isGround(parent)) return true
    }
    return isKnown(this.#parents, element, nowMs)
  }
}

/** Whether a change of the page may be seen as more than a sign that something has the focus or is pressed. */
export function isTelling(record: MutationRecord): boolean {
  if (record.type !== 'attributes') return true
  const name = record.attributeName!
  if (PRESS_WORD.test(name)) return false
  if (name !== 'class') return true
  const before = new Set((record.oldValue ?? '').split(/\s+/))
  const after = new Set((attributeOf(record.target as Element, 'class') ?? '').split(/\s+/))
  const changed = [...before, ...after].filter((word) => word && before.has(word) !== after.has(word))
  return changed.some((word) => !PRESS_WORD.test(word))
}

export function elementOf(node: Node): Element | null {
  return typeOf(node) === Node.ELEMENT_NODE ? (node as Element) : above(node)
}

function isGround(element: Element): boolean {
  return element === bodyOf(document) || element === rootOf(document)
}

function note<K>(known: Map<K, number>, key: K, nowMs: number): void {
  known.delete(key)
  known.set(key, nowMs)
  if (known.size > MOST) known.delete(known.keys().next().value!)
}

function isKnown<K>(known: ReadonlyMap<K, number>, key: K, nowMs: number): boolean {
  const last = known.get(key)
  return last !== undefined && nowMs - last < FORGET_MS
}
