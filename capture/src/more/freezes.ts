import type { SentLine } from '@dust-trail/core'
import { watch } from '../listen.ts'
import type { MorePage } from './more-page.ts'

/** From here on a person notices that the page does not answer. Interaction to Next Paint calls more than 200 ms in need of work. */
const FREEZE_MS = 200

/** Sends moments in which the page did not react, those before this was loaded as well: the browser keeps them. */
export function watchFreezes({ send, describe }: MorePage): void {
  /** the last moment without reaction, in which a slow answer to a click may lie */
  let last: { line: SentLine; fromMs: number; toMs: number } | undefined
  const froze = (entry: PerformanceEntry, target?: Element | null) => {
    if (entry.duration < FREEZE_MS) return
    const [fromMs, toMs] = [entry.startTime, entry.startTime + entry.duration]
    const about = target ? { target: describe(target) } : {}
    // One moment is told once, with the longer of its times and with what was clicked.
    if (last && fromMs < last.toMs && toMs > last.fromMs) {
      Object.assign(last.line, about, { ms: Math.round(Math.max(toMs, last.toMs) - last.fromMs) })
      last.toMs = Math.max(last.toMs, toMs)
    } else last = { line: send({ kind: 'freeze', ms: Math.round(entry.duration), ...about }), fromMs, toMs }
  }
  watch('longtask', (entry) => froze(entry))
  watch(
    'event',
    (entry) => {
      const { interactionId, target } = entry as PerformanceEventTiming & {
        interactionId?: number
        target: Node | null
      }
      if (interactionId) froze(entry, target instanceof Element ? target : null)
    },
    { durationThreshold: FREEZE_MS },
  )
}
