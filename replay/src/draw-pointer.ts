import type { StageView } from './stage.ts'
import { DUST_MS } from './stage.ts'

interface Colours {
  dust: string
  click: string
}

/** Draws the pointer, the dust it leaves, and its clicks, over the recorded page. */
export function drawPointer(canvas: HTMLCanvasElement, view: StageView, colours: Colours): void {
  if (canvas.width !== view.width || canvas.height !== view.height) {
    canvas.width = view.width
    canvas.height = view.height
  }
  const context = canvas.getContext('2d')
  if (!context) return
  context.clearRect(0, 0, view.width, view.height)
  context.fillStyle = colours.dust
  for (const { ageMs, x, y } of view.dust) {
    const fresh = 1 - ageMs / DUST_MS
    context.globalAlpha = 0.75 * fresh
    context.beginPath()
    context.arc(x, y, 1.5 + 3.5 * fresh, 0, 2 * Math.PI)
    context.fill()
  }
  for (const { ageMs, x, y, touch } of view.clicks) {
    const fresh = 1 - ageMs / 900
    context.globalAlpha = fresh
    context.strokeStyle = colours.click
    context.lineWidth = 3
    context.beginPath()
    context.arc(x, y, 8 + 22 * (1 - fresh), 0, 2 * Math.PI)
    context.stroke()
    if (touch) {
      context.fillStyle = colours.click
      context.globalAlpha = 0.4 * fresh
      context.beginPath()
      context.arc(x, y, 14, 0, 2 * Math.PI)
      context.fill()
    }
  }
  context.globalAlpha = 1
  if (view.pointer) drawArrow(context, view.pointer.x, view.pointer.y)
}

function drawArrow(context: CanvasRenderingContext2D, x: number, y: number): void {
  context.beginPath()
  context.moveTo(x, y)
  context.lineTo(x + 4.5, y + 18)
  context.lineTo(x + 9, y + 11.5)
  context.lineTo(x + 17, y + 10)
  context.closePath()
  context.fillStyle = '#18211D'
  context.strokeStyle = '#FFFFFF'
  context.lineWidth = 2
  context.lineJoin = 'round'
  context.stroke()
  context.fill()
}
