import { boxOf, isConnected, localNameOf, matches } from '../../dom.ts'
import { above } from './above.ts'
import type { Look, Looks } from './looks.ts'
import { isPainted } from './looks.ts'
import type { OwnBeat } from './own-beat.ts'

/** What is known of the time between two looks at the page. */
export interface Between {
  nowMs: number
  /** the element that was clicked and the control around it */
  hit: Element
  control: Element
  /** elements that were changed since the click, and those of them in the same task as the click */
  fresh: ReadonlySet<Element>
  prompt: ReadonlySet<Element>
  /** those of which class or style were changed, and those of which any attribute is another than before */
  restyled: ReadonlySet<Element>
  marked: ReadonlySet<Element>
  /** pictures that have arrived meanwhile */
  arrived: ReadonlySet<Element>
  /** what had the focus before */
  blurred: Element | null
  /** nobody looks again */
  isLast: boolean
  /** the page has changed something by itself meanwhile */
  ownChange: boolean
  beat: OwnBeat
}

const PLACE_PX = 1.5
/** Elements that show something without text of their own. */
const CONTENT = 'img,svg,svg *,canvas,video,iframe,input,select,textarea'

/** Whether something is seen on the page that was not there before, or no longer, or looks otherwise, because of a click. */
export function sawChange(before: Looks, after: Looks, between: Between): boolean {
  const gone: [Element, Look][] = []
  for (const one of before.elements) if (!after.elements.has(one[0])) gone.push(one)
  const come: [Element, Look][] = []
  for (const [element, look] of after.elements) {
    const was = before.elements.get(element)
    if (!was) come.push([element, look])
    else if (differs(element, was, look, before, after, between)) return true
  }
  if (between.fresh.size && !between.ownChange && Math.abs(after.height - before.height) > 4) return true
  return cameOrWent(come, gone, before, between) || newMotion(before, after, between)
}

function differs(
  element: Element,
  was: Look,
  is: Look,
  before: Looks,
  after: Looks,
  between: Between,
): boolean {
  if (
    was.text === is.text &&
    was.state === is.state &&
    was.face === is.face &&
    samePlace(was, is) &&
    !between.restyled.has(element)
  )
    return false
  if (isOwn(element, before, between)) return false
  if (was.text !== is.text || was.state !== is.state)
    return !between.arrived.has(element) || between.fresh.has(element)
  // What is on its way to another look may come back to the one it had: it is looked at again.
  if (onItsWay(element, before) || (onItsWay(element, after) && !between.isLast)) return false
  // Far from the click colours are not read: that an element's class or style was changed must do.
  const isRestyled =
    was.face === null || is.face === null ? between.restyled.has(element) : was.face !== is.face
  // A circle that spreads in it is a change of what it holds, not of how it looks.
  if (isRestyled && !isPressed(element, between, between.marked)) return true
  if (samePlace(was, is) || !isSeen(element, is) || isPressed(element, between, between.fresh)) return false
  // It was moved: by the click unless something moves by itself, or a picture has taken its room.
  return between.fresh.size > 0 || !(between.ownChange || between.arrived.size)
}

function onItsWay(element: Element, looks: Looks): boolean {
  for (let at: Element | null = element; at; at = above(at)) if (looks.animated.has(at)) return true
  return false
}

function samePlace({ box: a }: Look, { box: b }: Look): boolean {
  return a.every((side, i) => Math.abs(side - b[i]!) < PLACE_PX)
}

/** A control and what it stands in look otherwise while they have the focus: no effect, if nothing of them was changed. */
function isPressed(
  element: Element,
  { hit, control, blurred }: Between,
  changed: ReadonlySet<Element>,
): boolean {
  const touches =
    holds(element, hit) ||
    holds(aroundField(control), element) ||
    // What had the focus before loses its looks as well.
    (blurred && (holds(element, blurred) || holds(blurred, element)))
  if (!touches) return false
  for (let at: Element | null = element; at; at = above(at)) if (changed.has(at)) return false
  return true
}

function isOwn(element: Element, before: Looks, { beat, prompt, nowMs }: Between): boolean {
  for (let at: Element | null = element; at; at = above(at)) {
    if (prompt.has(at)) return false
    if (before.moving.has(at)) return true
  }
  return beat.has(element, nowMs)
}

/** What is written anew as it was, by pages that build a part of themselves again, has neither come nor gone. */
function cameOrWent(
  come: readonly [Element, Look][],
  gone: readonly [Element, Look][],
  before: Looks,
  between: Between,
): boolean {
  const signs = new Map<string, number>()
  const signOf = ([element, { box, text, face, state }]: readonly [Element, Look]) =>
    [localNameOf(element), box.map((side) => Math.round(side / 2)), text, face, state].join('|')
  for (const one of gone) signs.set(signOf(one), (signs.get(signOf(one)) ?? 0) + 1)
  for (const one of come) {
    const left = signs.get(signOf(one)) ?? 0
    if (left) signs.set(signOf(one), left - 1)
    else if (counts(one, before, between)) return true
  }
  return gone.some((one) => {
    const left = signs.get(signOf(one)) ?? 0
    if (!left) return false
    signs.set(signOf(one), left - 1)
    return counts(one, before, between)
  })
}

function counts([element, look]: readonly [Element, Look], before: Looks, between: Between): boolean {
  if (!isSeen(element, look) || isOwn(element, before, between)) return false
  if (look.text || matches(element, CONTENT)) return true
  // A spreading circle and the like tells only that a control was pressed; in what is none, only if it does not stay.
  const { control } = between
  if (element !== control && holds(aroundField(control), element)) return false
  return between.isLast || !isInSmall(element, between)
}

/** What looks like a button without being one is no higher than this. */
const SMALL_PX = 80
/** So deep do circles lie in it. */
const DEEP = 3

/** Whether an element came into something small that was clicked. */
function isInSmall(element: Element, { hit }: Between): boolean {
  let at = above(element)
  for (let k = 0; at && k < DEEP; k++, at = above(at)) if (holds(at, hit)) return boxOf(at).height <= SMALL_PX
  return false
}

/** A field that is drawn by others has its feedback beside it. */
function aroundField(control: Element): Element {
  return matches(control, 'input') ? (above(control) ?? control) : control
}

/** Whether an element shows anything of itself; of one that was taken away only its text and kind are known. */
function isSeen(element: Element, { box, text }: Look): boolean {
  if (box[2] <= 1 || box[3] <= 1) return false
  return !!text || matches(element, CONTENT) || (isConnected(element) && isPainted(element))
}

/** Something has begun to move that is not only the colour of what was pressed. */
function newMotion(before: Looks, after: Looks, between: Between): boolean {
  for (const element of after.moving)
    if (
      !before.moving.has(element) &&
      after.elements.has(element) &&
      !isPressed(element, between, between.fresh) &&
      !isOwn(element, before, between)
    )
      return !holds(aroundField(between.control), element)
  return false
}

export function holds(outer: Element, inner: Element): boolean {
  for (let at: Element | null = inner; at; at = above(at)) if (at === outer) return true
  return false
}
