import type { RefObject } from 'react'
import { useLayoutEffect, useMemo, useState } from 'react'
import { z } from 'zod'
import { useStored } from './stored.ts'

/** Width of a column that has none of its own, at least. */
const LEAST_PX = 160

const choiceSchema = z.object({ order: z.array(z.string()), hidden: z.array(z.string()) })
const NO_CHOICE: z.infer<typeof choiceSchema> = { order: [], hidden: [] }

interface Foldable {
  id: string
  width?: number
  least?: number
  folds?: number
}

/** Which columns of a table are shown, and in which order. */
export interface ColumnChoice {
  order: string[]
  visibility: Record<string, boolean>
  hidden: readonly string[]
  /** those that have no room */
  folded: readonly string[]
  /** of all that are shown, CSS px */
  leastWidth: number
  setHidden: (id: string, hidden: boolean) => void
  move: (id: string, by: 1 | -1) => void
  reset: () => void
  isChanged: boolean
}

/**
 * The choice of columns, kept by this browser under the table's name, and which of them have room.
 *
 * @param extraPx  taken by what is no column
 */
export function useColumnChoice(
  name: string,
  columns: readonly Foldable[],
  box: RefObject<HTMLElement | null>,
  extraPx: number,
): ColumnChoice {
  const [kept, setKept] = useStored(`table/${name}`, choiceSchema, NO_CHOICE)
  const width = useWidth(box)
  const ids = columns.map(({ id }) => id)
  const order = [
    ...kept.order.filter((id) => ids.includes(id)),
    ...ids.filter((id) => !kept.order.includes(id)),
  ]
  const hidden = kept.hidden.filter((id) => ids.includes(id))
  const wanted = columns.filter(({ id }) => !hidden.includes(id))
  const key = JSON.stringify(wanted.map(({ id, width: px, least, folds }) => [id, px, least, folds]))
  const { folded, leastWidth } = useMemo(
    () => fold(wanted, width - extraPx),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key says all there is of the columns
    [key, width, extraPx],
  )
  return {
    order,
    hidden,
    folded,
    leastWidth: leastWidth + extraPx,
    visibility: Object.fromEntries(ids.map((id) => [id, !hidden.includes(id) && !folded.includes(id)])),
    setHidden: (id, isHidden) =>
      setKept({ order: kept.order, hidden: isHidden ? [...hidden, id] : hidden.filter((one) => one !== id) }),
    move: (id, by) => {
      const next = [...order]
      const at = next.indexOf(id)
      const to = Math.max(0, Math.min(next.length - 1, at + by))
      next.splice(to, 0, ...next.splice(at, 1))
      setKept({ order: next, hidden: kept.hidden })
    },
    reset: () => setKept(NO_CHOICE),
    isChanged: kept.order.length + kept.hidden.length > 0,
  }
}

/** Folds columns away, the least important first, until the others have room; and how wide these are. */
export function fold(columns: readonly Foldable[], room: number): { folded: string[]; leastWidth: number } {
  const folded: string[] = []
  let leastWidth = columns.reduce((sum, { least = LEAST_PX, width = least }) => sum + width, 0)
  const foldable = columns.filter(({ folds }) => folds !== undefined).sort((a, b) => b.folds! - a.folds!)
  for (const { id, least = LEAST_PX, width = least } of foldable) {
    if (leastWidth <= room) break
    folded.push(id)
    leastWidth -= width
  }
  return { folded, leastWidth }
}

/** How wide an element is; without end before it is drawn, and where nothing is laid out. */
function useWidth(box: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(Infinity)
  useLayoutEffect(() => {
    const element = box.current
    if (!element) return
    const measure = () => setWidth(element.clientWidth || Infinity)
    measure()
    const observer = new ResizeObserver(measure)
    observer.observe(element)
    return () => observer.disconnect()
  }, [box])
  return width
}
