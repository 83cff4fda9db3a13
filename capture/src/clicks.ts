import { describe, told } from './describe.ts'
import { aroundOf, boxOf, closestTo, later, now, pageOf, rootOf } from './dom.ts'
import { on } from './listen.ts'
import type { Page } from './page.ts'
import { intended, targetOf, within } from './target.ts'

/** So long after the pointer has left a control that is switched off, no click has come of it. */
const NO_CLICK_MS = 350

/** Sends each click with what it was meant for, where, and what came of it. */
export function watchClicks({ send, awake, effects, causes }: Page): { listenIn: (page: Document) => void } {
  const clicked = (event: MouseEvent, target: Element, t = now()) => {
    let { clientX, clientY } = event
    const { element, interactive } = intended(target)
    const inner = targetOf(event) ?? target
    const about = told(element)
    const box = boxOf(about)
    // Where in a group that is told as one was clicked would tell on what.
    if (about !== element) {
      clientX = box.left + box.width / 2
      clientY = box.top + box.height / 2
    }
    const frame = frameOf(pageOf(target))
    effects.recording?.click(
      about === element ? target : about,
      clientX + frame.x,
      clientY + frame.y,
      isTouch(event),
    )
    const described = describe(element, interactive || intended(inner).interactive)
    const line = {
      kind: 'click' as const,
      t,
      url: location.href,
      target: described,
      x: Math.round(clientX + frame.x + scrollX),
      y: Math.round(clientY + frame.y + scrollY),
      rx: within(clientX - box.left, box.width),
      ry: within(clientY - box.top, box.height),
    }
    causes.note(described)
    // What comes of it in the page of a frame is not looked at.
    if (pageOf(target) !== document) send(line)
    else effects.after(event, (effect) => send({ ...line, ...(effect && { effect }) }))
  }

  let lastClick: Event | undefined
  const onClick = (event: MouseEvent) => {
    lastClick = event
    awake()
    const target = elementOf(event)
    if (target && event.isTrusted) clicked(event, target)
  }
  // Controls that are switched off get no click, though somebody clicked.
  let down: Element | null | undefined
  const onDown = (event: PointerEvent) => {
    const target = targetOf(event)
    down = target && closestTo(target, ':disabled')
  }
  const onUp = (event: PointerEvent) => {
    const pressed = down
    down = undefined
    const target = targetOf(event)
    if (!pressed || !target || closestTo(target, ':disabled') !== pressed || !event.isTrusted) return
    const before = lastClick
    const t = now()
    later(() => {
      if (lastClick === before) clicked(event, pressed, t)
    }, NO_CLICK_MS)
  }
  const onMove = ({ clientX, clientY, target }: PointerEvent) => {
    const { x, y } = frameOf(pageOf(target as Node))
    effects.recording?.pointer(clientX + x, clientY + y, target)
  }
  const listenIn = (page: Window) => {
    // On the window, before any listener of the page.
    on(page, 'click', onClick)
    on(page, 'pointerdown', onDown)
    on(page, 'pointerup', onUp)
    on(page, 'pointermove', onMove)
  }
  listenIn(window)
  return {
    /** A page in a frame of the same site is part of this one. */
    listenIn: (page) => {
      if (page.defaultView) listenIn(page.defaultView)
    },
  }
}

/** What an event is about as its window tells it: of a shadow tree the host. */
function elementOf({ target }: Event): Element | undefined {
  return (target as Node | null)?.nodeType === Node.ELEMENT_NODE ? (target as Element) : undefined
}

/** Where a page lies in the window: the outer one at its corner, one in a frame where the frame is. */
function frameOf(page: Document | null): { x: number; y: number } {
  const html = page && page !== document && rootOf(page)
  const frame = html && aroundOf(html)
  if (!frame) return { x: 0, y: 0 }
  const { left, top } = boxOf(frame)
  const around = frameOf(pageOf(frame))
  return { x: around.x + left + frame.clientLeft, y: around.y + top + frame.clientTop }
}

const isTouch = (event: MouseEvent) => (event as PointerEvent).pointerType === 'touch'
