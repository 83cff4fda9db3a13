import type { SentLine } from '@dust-trail/core'
import { boxOf } from '../dom.ts'
import { intended, within } from '../target.ts'
import type { MorePage } from './more-page.ts'

/** A place in the window at a moment, and how far this was scrolled then. */
export interface Spot {
  x: number
  y: number
  top: number
  left: number
}

/** Where something happened, as a line tells it: the element, the place on the page and inside the element as it lay then. */
export function placeIn(
  target: Element,
  { x, y, top, left }: Spot,
  describe: MorePage['describe'],
): Pick<SentLine, 'target' | 'x' | 'y' | 'rx' | 'ry'> {
  const { element, interactive } = intended(target)
  const box = boxOf(element)
  return {
    target: describe(element, interactive),
    x: Math.round(x + left),
    y: Math.round(y + top),
    rx: within(x - box.left + left - scrollX, box.width),
    ry: within(y - box.top + top - scrollY, box.height),
  }
}
