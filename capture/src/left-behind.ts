import { toJson } from './dom.ts'
import type { Batch } from '@dust-trail/core'

const KEY = 'dust-trail-left'
/** Browsers keep about five million characters for a site, and it needs them itself. */
const MOST_LENGTH = 1_500_000

/** Keeps for the next page of this tab what could not be sent when the page was left; what has no room goes without its recording. */
export function leaveBehind(batches: readonly Batch[]): void {
  if (!batches.length) {
    forgetLeft()
    return
  }
  let room = MOST_LENGTH
  const kept: string[] = []
  for (const batch of batches) {
    let text = toJson(batch)
    if (text.length > room) text = batch.lines.length ? toJson(withoutRecording(batch)) : ''
    if (!text || text.length > room) continue
    room -= text.length
    kept.push(text)
  }
  try {
    sessionStorage.setItem(KEY, `[${kept.join(',')}]`)
  } catch {
    // It keeps nothing, or is full.
  }
}

/** What the page before left, of this site and visitor. */
export function takeLeft({ site, visitor }: Pick<Batch, 'site' | 'visitor'>): Batch[] {
  try {
    const text = sessionStorage.getItem(KEY)
    if (!text) return []
    forgetLeft()
    // Whatever else may write there: the server looks at it as at everything.
    return (JSON.parse(text) as Batch[]).filter((batch) => batch.site === site && batch.visitor === visitor)
  } catch {
    return []
  }
}

export function forgetLeft(): void {
  try {
    sessionStorage.removeItem(KEY)
  } catch {
    // Nothing is kept then.
  }
}

/** Nothing stays in this tab: what could not be sent, and what is known of pictures (more/recording/keeper.ts). */
export function forgetKept(): void {
  forgetLeft()
  try {
    sessionStorage.removeItem('dust-trail-files')
  } catch {
    // Nothing is kept then.
  }
}

/** What happened, without how it looked: by the number of the piece that is missing the server knows of it. */
export function withoutRecording(batch: Batch): Batch {
  const { snapshot: _, piece: __, ...rest } = batch
  return { ...rest, items: [] }
}
