import type { Condition, Lens } from '@dust-trail/core'
import { useDeferredValue, useMemo } from 'react'
import { useSizes } from '../api/queries.ts'
import { useLens, useSite } from '../app/lens.ts'
import { count, percent, plural } from '../ui/format.ts'

/** Beyond so many, nobody reads the numbers of all. */
const MOST_COUNTED = 200

/** For how many sessions of the lens each of several conditions holds; undefined while that is not known. */
export function useCounts(conditions: readonly Condition[]): (number | undefined)[] {
  const site = useSite()
  const { lens } = useLens()
  // Typing does not wait for what is counted.
  const wanted = useDeferredValue(JSON.stringify(conditions.slice(0, MOST_COUNTED)))
  const counted = useMemo(() => JSON.parse(wanted) as Condition[], [wanted])
  const sizes = useSizes(
    site.key,
    counted.map((condition) => ({ lens, selection: { type: 'where', condition } })),
  )
  const current = sizes.isPlaceholderData ? undefined : sizes.data?.sizes
  return conditions.map((_, k) => current?.[k]?.hits)
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
  const site = useSite()
  const { lens: shown } = useLens()
  const { lens, words } = within ?? { lens: shown, words: 'in the lens' }
  const wanted = useDeferredValue(JSON.stringify(condition ?? null))
  const counted = useMemo(() => JSON.parse(wanted) as Condition | null, [wanted])
  const sizes = useSizes(
    site.key,
    counted ? [{ lens, selection: { type: 'where', condition: counted } }] : [],
  )
  const size = counted && !sizes.isPlaceholderData ? sizes.data?.sizes[0] : undefined
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
