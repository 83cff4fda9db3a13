import type { Condition, Lens, Rate } from '@dust-trail/core'
import { useDeferredValue, useMemo } from 'react'
import { useSizes } from '../api/queries.ts'
import { useLens, useSite } from '../app/lens.ts'
import { count, percent, plural } from '../ui/format.ts'

/** Beyond so many, nobody reads the numbers of all. */
const MOST_COUNTED = 200

/**
 * For how many sessions each of several conditions holds; undefined while that is not known. Typing does not wait for
 * it, and what was counted of other conditions is never shown beside these.
 */
function useSizesOf(conditions: readonly Condition[], lens: Lens): (Rate | undefined)[] {
  const site = useSite()
  const now = JSON.stringify(conditions.slice(0, MOST_COUNTED))
  const wanted = useDeferredValue(now)
  const counted = useMemo(() => JSON.parse(wanted) as Condition[], [wanted])
  const sizes = useSizes(
    site.key,
    counted.map((condition) => ({ lens, selection: { type: 'where', condition } })),
  )
  const current = wanted === now && !sizes.isPlaceholderData ? sizes.data?.sizes : undefined
  return conditions.map((_, k) => current?.[k])
}

/** For how many sessions of the lens each of several conditions holds; undefined while that is not known. */
export function useCounts(conditions: readonly Condition[]): (number | undefined)[] {
  return useSizesOf(conditions, useLens().lens).map((size) => size?.hits)
}

/** For how many sessions a condition holds, while it is being put together. */
export function SizeOf({
  condition,
  missing,
  within,
}: {
  condition: Condition | undefined
  /** what to say while there is none */
  missing: string
  /** of which sessions, and what these are called; those of the lens where it is not said */
  within?: { lens: Lens; words: string }
}) {
  const { lens: shown } = useLens()
  const { lens, words } = within ?? { lens: shown, words: 'in the lens' }
  const [size] = useSizesOf(condition ? [condition] : [], lens)
  return (
    <p role="status" className="min-h-5 text-ink-soft">
      {!condition
        ? missing
        : size
          ? `${plural(size.hits, 'session')}, ${percent(size.share)} of ${count(size.base)} ${words}`
          : 'Counting …'}
    </p>
  )
}
