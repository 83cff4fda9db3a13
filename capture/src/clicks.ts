import { describe } from './describe.ts'
import { boxOf, closestTo, later, now } from './dom.ts'
import { targetOf } from './effects/effects.ts'
import { on } from './listen.ts'
import { cleanUrl } from './mask.ts'
import type { Page } from './page.ts'
import { intended } from './selector.ts'

/** So long after the pointer has left a control that is switched off, no click has come of it. */
const NO_CLICK_MS = 350

/** Sends each click with what it was meant for, where, and what came of it. */
export function watchClicks({ send, awake, effects, causes, recorder }: Page): void {
  const clicked = (event: MouseEvent, target: Element, t = now()) => {
    const { clientX, clientY } = event
    const { element, interactive } = intended(target)
    const inner = targetOf(event) ?? target
    const box = boxOf(element)
    recorder.click(target, clientX, clientY, (event as PointerEvent).pointerType === 'touch')
    const described = describe(element, interactive || intended(inner).interactive)
    const line = {
      kind: 'click' as const,
      t,
      url: cleanUrl(location.href),
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

function within(offset: number, size: number): number {
  return size > 0 ? Math.round(Math.min(1, Math.max(0, offset / size)) * 1000) / 1000 : 0
}
