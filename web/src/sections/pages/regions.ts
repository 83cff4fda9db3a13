import type { ReachAnswer, WeightedPoint } from '@dust-trail/core'

/** What people take for one part of a page. */
const CONTAINERS =
  'header,nav,main,section,article,aside,footer,form,fieldset,ul,ol,table,dl,figure,[role],main>div,body>div'
/** Smaller, it is an element, and the list of elements has it. */
const LEAST_PX = 40
const LEAST_SHARE = 0.01

export interface Box {
  left: number
  top: number
  width: number
  height: number
}

export interface Region {
  box: Box
  name: string
  /** clicks inside it and in no smaller region within it */
  clicks: number
  /** share of the views that saw its middle, and seconds that it was in view on average; null where not measured */
  seen: number | null
  seconds: number | null
}

/** Parts of a page that are told apart: containers, the largest first. Two with the same box are one, the inner one. */
export function regionsOf(document: Document, width: number, height: number): { box: Box; name: string }[] {
  const found = new Map<string, { box: Box; name: string }>()
  for (const element of document.querySelectorAll(CONTAINERS)) {
    const { left, top, width: w, height: h } = element.getBoundingClientRect()
    if (w < LEAST_PX || h < LEAST_PX || w * h < LEAST_SHARE * width * height) continue
    found.set([left, top, w, h].map(Math.round).join(), {
      box: { left, top, width: w, height: h },
      name: nameOf(element),
    })
  }
  return [...found.values()].sort((a, b) => area(b.box) - area(a.box))
}

function nameOf(element: Element): string {
  const label =
    element.getAttribute('aria-label') ?? element.querySelector('h1,h2,h3,legend,caption')?.textContent
  const kind = element.getAttribute('role') ?? element.localName
  return label?.trim() ? `${kind} “${label.trim().slice(0, 60)}”` : kind
}

/** What is clicked, seen and looked at of each region: a click counts for the smallest region around it. */
export function measureRegions(
  regions: readonly { box: Box; name: string }[],
  points: readonly WeightedPoint[],
  pageHeight: number,
  { bands, measured, attended }: Pick<ReachAnswer, 'bands' | 'measured' | 'attended'>,
): Region[] {
  const clicks = regions.map(() => 0)
  for (const { x, y, weight } of points) {
    const at = regions.findLastIndex(({ box }) => contains(box, x, y))
    if (at >= 0) clicks[at]! += weight
  }
  return regions.map(({ box, name }, k) => {
    const bandAt = (y: number) =>
      bands[Math.min(bands.length - 1, Math.max(0, Math.floor((y / pageHeight) * bands.length)))]
    const inside = bands.filter((_, b) => {
      const middle = ((b + 0.5) / bands.length) * pageHeight
      return middle >= box.top && middle < box.top + box.height
    })
    const looked = inside.length
      ? inside
      : [bandAt(box.top + box.height / 2)].filter((band) => band !== undefined)
    return {
      ...{ box, name, clicks: clicks[k]! },
      seen: measured ? (bandAt(box.top + box.height / 2)?.reached ?? 0) / measured : null,
      seconds: attended ? Math.max(0, ...looked.map(({ seconds }) => seconds ?? 0)) : null,
    }
  })
}

const area = ({ width, height }: Box) => width * height
const contains = ({ left, top, width, height }: Box, x: number, y: number) =>
  x >= left && x <= left + width && y >= top && y <= top + height
