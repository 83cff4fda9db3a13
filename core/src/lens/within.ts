import type { Origin } from '../closeup/selection-schema.ts'
import { sessionsWhere } from '../conditions/sessions.ts'
import type { Block } from '../events/columns.ts'
import { DEVICE_CLASSES } from '../events/line.ts'
import type { Names } from '../funnel/trace.ts'
import { SessionSet } from '../sets/session-set.ts'

/** Sessions of a block that began in [fromMs, toMs), on one of the devices (none = all), and meet the condition. */
export function sessionsWithin(
  block: Block,
  { fromMs, toMs, devices, where }: Origin,
  names: Names,
): SessionSet {
  const { startMs, device, count } = block.sessions
  let shown = SessionSet.all(count)
  const { earliest, latest } = extentOf(block)
  if (earliest >= toMs || latest < fromMs) return new SessionSet(count)
  if (earliest < fromMs || latest >= toMs)
    shown = shown.where((s) => startMs[s]! >= fromMs && startMs[s]! < toMs)
  if (devices.length) {
    const wanted = new Uint8Array(256)
    for (const one of devices) wanted[DEVICE_CLASSES.indexOf(one) + 1] = 1
    shown = shown.whereCode(device, wanted)
  }
  return where ? sessionsWhere(block, shown, where, names) : shown
}

const extents = new WeakMap<Block, { earliest: number; latest: number }>()

/** When the first and the last session of a block began: most blocks lie within a lens, or outside, as a whole. */
function extentOf(block: Block): { earliest: number; latest: number } {
  let extent = extents.get(block)
  if (!extent) {
    extent = { earliest: Infinity, latest: -Infinity }
    for (const ms of block.sessions.startMs) {
      extent.earliest = Math.min(extent.earliest, ms)
      extent.latest = Math.max(extent.latest, ms)
    }
    extents.set(block, extent)
  }
  return extent
}
