import type { Question } from '@dust-trail/api'
import type { Rate } from '@dust-trail/core'
import { catalogue, mentions } from '@dust-trail/core'
import type { LoadedSite } from '../engine/engines.ts'

const DAY_MS = 86_400_000

/**
 * Why a mark finds nothing any more where it once found something, in words; null where it still does, or never did.
 *
 * @param then   its numbers when it was set
 * @param now    its numbers now
 */
export async function whyDead(
  site: LoadedSite,
  { lens, selection }: Question,
  then: Rate,
  now: Rate,
  nowMs: number,
): Promise<string | null> {
  if (!then.hits || now.hits) return null
  const { retentionDays } = site.row
  if (retentionDays !== null && Date.parse(lens.to) + DAY_MS < nowMs - retentionDays * DAY_MS)
    return `Its days are over: sessions of this site are kept for ${retentionDays} days.`
  const { pages } = await site.engine.ask(catalogue, { ...lens, where: undefined, devices: [] }, {})
  const known = new Set(pages.map(({ page }) => page))
  const gone = [...mentions(selection).pages].find((page) => !known.has(page))
  if (gone !== undefined) return `No page of these days is called “${gone}” any more: see Labels.`
  if (!now.base) return 'The sessions it was set on have been deleted, or have left its lens.'
  if (selection.type === 'signal' || (selection.type === 'clicks' && selection.which !== 'all'))
    return 'Nothing there counts as this under the thresholds that hold now: see Friction.'
  return 'The sessions are there; none of them meets its condition any more.'
}
