import type { Catalogue } from '@dust-trail/api'
import type { Step } from '@dust-trail/core'
import { useState } from 'react'
import { elementName } from '../../closeup/describe.ts'
import { inputLook } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { plural } from '../../ui/format.ts'
import { Empty, Loading } from '../../ui/states.tsx'

/** Choice of what makes a step: a page seen, or an element clicked. */
export function StepDialog({
  catalogue,
  title,
  choose,
  close,
}: {
  catalogue: Catalogue | undefined
  title: string
  choose: (step: Step) => void
  close: () => void
}) {
  const [search, setSearch] = useState('')
  const wanted = search.trim().toLowerCase()
  const pages =
    catalogue?.pages.filter(({ page, pattern }) => `${page} ${pattern}`.toLowerCase().includes(wanted)) ?? []
  const elements =
    catalogue?.elements.filter(({ page, text, selector }) =>
      `${page} ${text} ${selector}`.toLowerCase().includes(wanted),
    ) ?? []
  const row =
    'flex h-8 w-full items-center gap-3 px-2 text-left hover:bg-ochre-soft focus-visible:bg-ochre-soft'
  return (
    <Dialog
      open
      onClose={close}
      title={title}
      description="A page that is seen, or an element that is clicked. It counts for the past as well."
      wide
    >
      <input
        autoFocus
        type="search"
        aria-label="Search pages and elements"
        placeholder="Search by name, address or text"
        className={inputLook}
        value={search}
        onChange={(event) => setSearch(event.target.value)}
      />
      {!catalogue && <Loading />}
      <div className="mt-2 max-h-[50vh] overflow-auto" data-list>
        {pages.length > 0 && <h2 className="px-2 pt-2">Pages</h2>}
        {pages.map(({ page, pattern, sessions }) => (
          <button
            key={page}
            type="button"
            data-row
            className={row}
            onClick={() => choose({ type: 'page', page })}
          >
            <span className="min-w-0 flex-1 truncate">{page}</span>
            <span className="min-w-0 truncate font-mono text-xs text-ink-soft">
              {pattern === page ? '' : pattern}
            </span>
            <span className="w-28 text-right text-ink-soft">{plural(sessions, 'session')}</span>
          </button>
        ))}
        {elements.length > 0 && <h2 className="px-2 pt-3">Clicks</h2>}
        {elements.map(({ page, selector, text, sessions }) => (
          <button
            key={`${page}/${selector}`}
            type="button"
            data-row
            className={row}
            title={selector}
            onClick={() => choose({ type: 'click', page, selector, ...(text && { text }) })}
          >
            <span className="min-w-0 flex-1 truncate">{elementName(text, selector)}</span>
            <span className="truncate text-ink-soft">{page}</span>
            <span className="w-28 text-right text-ink-soft">{plural(sessions, 'session')}</span>
          </button>
        ))}
        {catalogue && !pages.length && !elements.length && (
          <Empty title="Nothing by that name">Widen the dates of the lens to see more pages.</Empty>
        )}
      </div>
    </Dialog>
  )
}
