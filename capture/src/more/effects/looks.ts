import { attributeOf, bodyOf, boxOf, localNameOf, matches, rootOf } from '../../dom.ts'
import { canvasLook } from './canvas-look.ts'
import { metShadow, shadowOf } from '../shadows.ts'

/*
 * What of a page a person can see, in a form that can be compared: the elements within the window, each with its place,
 * its own text, its colours near the click, and what it holds. It stays in the page's memory and never leaves it.
 */

export type At = { x: number; y: number } | undefined

/** One element as it looks. */
export interface Look {
  /** left, top, width and height within the window, CSS px */
  box: readonly [number, number, number, number]
  text: string
  /** colours and lines; null far from the click, where reading them would take too long */
  face: string | null
  /** what a field holds, which picture is shown, what is drawn */
  state: string
}

export interface Looks {
  elements: Map<Element, Look>
  /** elements whose looks were on their way to something else, and those of them that are moved by an animation */
  animated: Set<Element>
  moving: Set<Element>
  /** height of the whole page */
  height: number
  focus: Element | null
  /** whether all that could be seen was looked at */
  whole: boolean
  /** canvases of which it cannot be told what they show */
  unreadable: Set<Element>
}

/** Elements looked at, and those of which colours are read: what takes some milliseconds on a big page. */
const MOST_ELEMENTS = 3000
const MOST_FACES = 40
/** What lies farther outside the window is not looked into. */
const MARGIN_PX = 200
/** Colours are read so near the click, and what rules alone draw before and after an element so near. */
const FACE_PX = 120
const PSEUDO_PX = 20

const NEVER_SEEN = /^(script|style|head|template|noscript|source|track)$/
/** Elements that hold or show something that no text says. */
const STATEFUL = /^(input|textarea|select|option|progress|meter|img|canvas|iframe)$/
const VISIBLE = { opacityProperty: true, visibilityProperty: true }

/** Looks at the page as it is. @param at  where the click is */
export function lookAt(at?: At): Looks {
  const root = rootOf(document)!
  const looks: Looks = {
    ...{ elements: new Map(), animated: new Set(), moving: new Set(), unreadable: new Set() },
    ...{ height: root.scrollHeight, focus: focused(), whole: true },
  }
  const animations = (within: Document | ShadowRoot) => {
    for (const animation of within.getAnimations?.() ?? []) {
      const target = (animation.effect as KeyframeEffect | null)?.target
      if (!target) continue
      looks.animated.add(target)
      if (!(animation instanceof CSSTransition)) looks.moving.add(target)
    }
  }
  animations(document)
  const [width, height] = [innerWidth, innerHeight]
  let seen = 0
  let faces = 0
  // The browser's own walk: nothing on it can be hidden by names that a page gives to fields.
  const walkerIn = (tree: Node) =>
    document.createTreeWalker(tree, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT)
  let walker = walkerIn(root)
  const lookInto = (tree: ShadowRoot) => {
    const outer = walker
    walker = walkerIn(tree)
    visitIn(tree)
    walker = outer
  }
  /** @returns the text that stands in it directly */
  const visitIn = (parent: Node): string => {
    let text = ''
    walker.currentNode = parent
    for (let node = walker.firstChild(); node; node = walker.nextSibling()) {
      if (node instanceof Text) {
        text += node.data
        continue
      }
      if (visit(node as Element)) break
      walker.currentNode = node
    }
    return text
  }
  /** @returns true where what comes after it in its parent lies below the window as well */
  const visit = (element: Element): boolean | void => {
    const name = localNameOf(element)
    if (NEVER_SEEN.test(name)) return
    if (++seen > MOST_ELEMENTS) {
      looks.whole = false
      return
    }
    const box = boxOf(element)
    const { left, top, right, bottom } = box
    let look: { -readonly [K in keyof Look]: Look[K] } | undefined
    const isGround = element === root || element === document.body
    if (box.width > 0 && box.height > 0) {
      const isFar = bottom < -MARGIN_PX || top > height + MARGIN_PX
      // What stands out of it may lie in the window all the same.
      if (isFar && !isGround && element.scrollHeight <= box.height + 1) return name === 'tr' && top > 0
      if (element.checkVisibility?.(VISIBLE) ?? true) {
        if (right > 0 && bottom > 0 && left < width && top < height) {
          const isFaced = isGround || (isNear(box, at, FACE_PX) && faces++ < MOST_FACES)
          look = {
            box: [left, top, box.width, box.height],
            text: '',
            face: isFaced ? faceOf(element) + (isNear(box, at, PSEUDO_PX) ? pseudoLook(element) : '') : null,
            state: STATEFUL.test(name) ? stateOf(element, name, looks, at) : '',
          }
          looks.elements.set(element, look)
        }
      } else if (getComputedStyle(element).opacity === '0') return
    } else if (getComputedStyle(element).display === 'none') return
    const shadow = shadowOf(element)
    if (shadow) {
      metShadow(shadow)
      animations(shadow)
      // A walk does not leave the tree in which it began.
      lookInto(shadow)
    }
    const text = visitIn(element)
    if (look) look.text = text.trim()
  }
  visit(root)
  return looks
}

function isNear({ left, top, right, bottom }: DOMRect, at: At, px: number): boolean {
  return !!at && at.x > left - px && at.x < right + px && at.y > top - px && at.y < bottom + px
}

/** What sets off an element from its ground. */
function faceOf(element: Element): string {
  const style = getComputedStyle(element)
  return [
    style.color,
    style.backgroundColor,
    style.backgroundImage,
    style.borderTopColor,
    style.boxShadow,
    style.textDecorationLine,
    style.filter,
    style.opacity,
    // The ring around what has the focus tells nothing else.
    matches(element, ':focus') ? 'none' : style.outlineStyle,
    'ownerSVGElement' in element && style.fill,
  ].join()
}

/** Whether an element that is there has a ground, a border or a shadow of its own. */
export function isPainted(element: Element): boolean {
  const style = getComputedStyle(element)
  return (
    !/, 0\)$/.test(style.backgroundColor) ||
    style.backgroundImage !== 'none' ||
    style.boxShadow !== 'none' ||
    style.borderTopWidth !== '0px' ||
    style.borderBottomWidth !== '0px'
  )
}

/** Arrows and hearts that rules alone draw. */
function pseudoLook(element: Element): string {
  let look = ''
  for (const pseudo of ['::before', '::after']) {
    const style = getComputedStyle(element, pseudo)
    const { content, transform, backgroundColor, left } = style
    if (content === 'none' || content === 'normal') continue
    look += [
      content,
      transform,
      backgroundColor,
      left,
      style.backgroundPosition,
      style.backgroundImage,
    ].join()
    look += [
      style.boxShadow,
      style.opacity,
      style.borderTopColor,
      style.outlineStyle,
      style.outlineColor,
    ].join()
  }
  return look
}

function stateOf(element: Element, name: string, looks: Looks, at: At): string {
  if (name === 'canvas') {
    const drawn = canvasLook(element as HTMLCanvasElement, at)
    if (drawn === undefined) looks.unreadable.add(element)
    return drawn ?? ''
  }
  if (name === 'iframe') return attributeOf(element, 'src') ?? ''
  const { currentSrc, value, checked, selectedIndex, disabled, indeterminate } = element as HTMLImageElement &
    HTMLInputElement &
    HTMLSelectElement
  return [currentSrc, value, checked, selectedIndex, disabled, indeterminate].join()
}

/** Where the focus is, within shadow trees as well; null where nothing of the page has it. */
function focused(): Element | null {
  let element = document.activeElement
  if (element === bodyOf(document) || element === rootOf(document)) return null
  for (let inner = element; inner; inner = shadowOf(inner)?.activeElement ?? null) element = inner
  return element
}
