import { PINNED } from '@dust-trail/api'
import { useState } from 'react'
import { useSegments, useSizes, useTrails } from '../../api/queries.ts'
import { useSite } from '../../app/lens.ts'
import { lensOf } from '../../lens/segments.ts'
import { Marks } from '../../trail/marks.tsx'
import { Select } from '../../ui/controls.tsx'
import { rateText } from '../../ui/format.ts'

/** What was pinned from any screen, each with its own lens, as it is now; or through a segment. */
export function Pinned() {
  const site = useSite()
  const trails = useTrails(site.key)
  const segments = useSegments(site.key)
  const [chosen, setChosen] = useState('')
  const pins = trails.data?.find(({ name }) => name === PINNED)
  const segment = segments.data?.find(({ id }) => String(id) === chosen)
  const through = useSizes(
    site.key,
    segment && pins
      ? pins.marks.map(({ question }) => ({
          ...question,
          lens: lensOf(question.lens, segment, segments.data ?? []),
        }))
      : [],
  )
  return (
    <section aria-label="Pinned">
      <div className="mb-1 flex items-center gap-3">
        <h2 className="flex-1">Pinned</h2>
        {pins && pins.marks.length > 0 && (segments.data?.length ?? 0) > 0 && (
          <Select
            aria-label="Looked at through"
            value={chosen}
            onChange={({ target }) => setChosen(target.value)}
          >
            <option value="">each through its own lens</option>
            {segments.data!.map(({ id, name }) => (
              <option key={id} value={id}>
                through {name}
              </option>
            ))}
          </Select>
        )}
      </div>
      {pins && pins.marks.length > 0 ? (
        <div className="rounded-md border border-line bg-sheet px-2">
          {segment ? (
            <ul>
              {pins.marks.map((mark, k) => (
                <li key={mark.id} className="flex gap-3 border-b border-line py-1.5 last:border-0">
                  <span className="min-w-0 flex-1 truncate">{mark.view}</span>
                  <span>{through.data?.sizes[k] ? rateText(through.data.sizes[k]) : 'counting …'}</span>
                  <span className="w-44 text-right text-ink-soft">{rateText(mark.now)} without</span>
                </li>
              ))}
            </ul>
          ) : (
            <Marks trail={pins} />
          )}
        </div>
      ) : (
        <p className="text-ink-soft">
          Nothing yet. Press m on any screen, or “Add to trail” in a close-up, and choose to pin it here.
        </p>
      )}
    </section>
  )
}
