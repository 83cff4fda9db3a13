import { useVirtualizer } from '@tanstack/react-virtual'
import type { RefObject } from 'react'

/** Tables with more rows scroll inside themselves, and draw only what is in sight. */
const LONG = 200

/** Which rows of a table are drawn, and the height of what is not drawn before and after them, CSS px. */
export function useTableRows(
  count: number,
  rowHeight: number,
  box: RefObject<HTMLElement | null>,
): { visible: number[]; before: number; after: number; isLong: boolean } {
  const isLong = count > LONG
  const rows = useVirtualizer({
    count: isLong ? count : 0,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 12,
  })
  if (!isLong) return { visible: Array.from({ length: count }, (_, k) => k), before: 0, after: 0, isLong }
  const items = rows.getVirtualItems()
  const last = items[items.length - 1]
  return {
    visible: items.map(({ index }) => index),
    before: items[0]?.start ?? 0,
    after: last ? rows.getTotalSize() - last.end : 0,
    isLong,
  }
}
