import { describe, told } from './describe.ts'
import { boxOf, closestTo, later, now } from './dom.ts'
import { on } from './listen.ts'
import type { Page } from './page.ts'
import { intended, targetOf } from './target.ts'

/** So long after the pointer has left a control that is switched off, no click has come of it. */
const NO_CLICK_MS = 350

/** Sends each click with what it was meant for, where, and what came of it. */
export function watchClicks({ send, awake, effects, causes, recorder }: Page): void {
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
    recorder.click(about === element ? target : about, clientX, clientY, isTouch(event))
    const described = describe(element, interactive || intended(inner).interactive)
    const line = {
      kind: 'click' as const,
      t,
      url: location.href,
      target: described,
      x: Math.round(clientX + scrollX),
      y: Math.round(clientY + scrollY),
      rx: within(clientX - box.left, box.width),
      ry: within(clientY - box.top, box.height),
    }
    causes.note(described)
    effects.after(event, (effect) => send({ ...line, ...(effect && { effect }) }))
  }

  let lastClick: Event | undefined
  // On the window, before any listener of the page.
  on(window, 'click', (event) => {
    lastClick = event
    awake()
    if (event.target instanceof Element && event.isTrusted) clicked(event, event.target)
  })
  // Controls that are switched off get no click, though somebody clicked.
  let down: Element | null | undefined
  on(window, 'pointerdown', (event) => {
    const target = targetOf(event)
    down = target && closestTo(target, ':disabled')
  })
  on(window, 'pointerup', (event) => {
    const pressed = down
    down = undefined
    const target = targetOf(event)
    if (!pressed || !target || closestTo(target, ':disabled') !== pressed || !event.isTrusted) return
    const before = lastClick
    const t = now()
    later(() => {
      if (lastClick === before) clicked(event, pressed, t)
    }, NO_CLICK_MS)
  })
}

const isTouch = (event: MouseEvent) => (event as PointerEvent).pointerType === 'touch'

function within(offset: number, size: number): number {
  return size > 0 ? Math.round(Math.min(1, Math.max(0, offset / size)) * 1000) / 1000 : 0
}
