import { later } from '../dom.ts'
import { on } from '../listen.ts'
import type { MorePage } from './more-page.ts'
import type { Spot } from './place-in.ts'
import { placeIn } from './place-in.ts'
import { targetOf } from '../target.ts'

/** A zoom is over when nothing has changed for so long. */
const ZOOM_ENDS_MS = 400
const ZOOM_LEAST = 0.05
/** A finger that goes so far, and twice as far aside as up or down, within so long, has swiped. */
const SWIPE_PX = 50
const SWIPE_MS = 800

/** Sends zooming, by fingers or by the browser's own zoom, swipes, and the pointer leaving towards the browser's bar. */
export function watchGestures({ send, describe }: MorePage): void {
  const zoomNow = () => (visualViewport?.scale ?? 1) * devicePixelRatio
  let zoom = zoomNow()
  let touch: { x: number; y: number; atMs: number } | undefined
  /** where the last finger came down */
  let down: (Spot & { target: Element }) | undefined
  let timer = 0
  const place = () => (down ? placeIn(down.target, down, describe) : {})
  const zoomed = () => {
    clearTimeout(timer)
    timer = later(() => {
      const by = Math.round((zoomNow() / zoom) * 100) / 100
      zoom = zoomNow()
      if (Math.abs(by - 1) >= ZOOM_LEAST)
        send({ kind: 'gesture', name: 'zoom', ...place(), props: { by, scale: visualViewport?.scale ?? 1 } })
    }, ZOOM_ENDS_MS)
  }
  on(document, 'mouseout', (event) => {
    if (!event.relatedTarget && event.clientY <= 0) send({ kind: 'out' })
  })
  visualViewport?.addEventListener('resize', zoomed)
  on(window, 'resize', zoomed)

  on(document, 'touchstart', (event) => {
    const { touches } = event
    const { clientX: x, clientY: y } = touches[0]!
    const target = targetOf(event)
    down = target && { x, y, top: scrollY, left: scrollX, target }
    touch = touches.length === 1 ? { x, y, atMs: performance.now() } : undefined
  })
  on(document, 'touchend', ({ changedTouches }) => {
    const from = touch
    const [to] = changedTouches
    touch = undefined
    if (!from || !to || performance.now() - from.atMs > SWIPE_MS) return
    const across = to.clientX - from.x
    if (Math.abs(across) < SWIPE_PX || Math.abs(across) < 2 * Math.abs(to.clientY - from.y)) return
    send({ kind: 'gesture', name: 'swipe', ...place(), props: { to: across < 0 ? 'left' : 'right' } })
  })
}
