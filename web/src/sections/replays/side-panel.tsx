import type { Said as SaidOfSession, SessionLine, SessionMoment } from '@dust-trail/api'
import type { SessionStory, SessionSummary } from '@dust-trail/core'
import { X } from 'lucide-react'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import { IconButton } from '../../ui/controls.tsx'
import { Facet } from '../../ui/facets.tsx'
import { clock } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty } from '../../ui/states.tsx'
import { MomentList } from './moment-list.tsx'
import { PageCode } from './page-code.tsx'
import type { Requested, Said } from './technical.ts'
import { ConsoleList, RawList, RequestList } from './technical-lists.tsx'
import { WhoPanel } from './who-panel.tsx'

const PANELS = [
  ['moments', 'Moments'],
  ['who', 'Who'],
  ['console', 'Console'],
  ['requests', 'Requests'],
  ['notes', 'Notes'],
  ['code', 'Code'],
] as const

/** What is known of a session beside its picture. */
export function SidePanel({
  summary,
  story,
  moments,
  lines,
  said,
  requests,
  notes,
  takeNote,
  html,
  atMs,
  seek,
}: {
  summary: SessionSummary
  story: SessionStory
  moments: SessionMoment[]
  lines: readonly SessionLine[]
  said: readonly Said[]
  requests: readonly Requested[]
  notes: SaidOfSession['notes']
  /** takes a note away */
  takeNote: (id: number) => void
  html: () => string
  atMs: number
  seek: (atMs: number) => void
}) {
  const [code, setCode] = useState<'page' | 'events'>('page')
  const panels: Record<(typeof PANELS)[number][0], React.ReactNode> = {
    moments: <MomentList moments={moments} atMs={atMs} seek={seek} />,
    who: <WhoPanel summary={summary} story={story} lines={lines} seek={seek} />,
    console: <ConsoleList said={said} seek={seek} />,
    requests: <RequestList requests={requests} seek={seek} />,
    notes: <NoteList notes={notes} take={takeNote} seek={seek} />,
    code: (
      <>
        <div className="p-2">
          <RadioGroup
            label="Code of what"
            value={code}
            onChange={setCode}
            options={[
              ['page', 'The page as it stands'],
              ['events', 'Events as they came'],
            ]}
          />
        </div>
        {code === 'page' ? (
          <PageCode html={html} atMs={atMs} />
        ) : (
          <RawList lines={lines} startMs={summary.startMs} seek={seek} />
        )}
      </>
    ),
  }
  return (
    <Tabs.Root
      defaultValue="moments"
      className="flex w-96 shrink-0 flex-col border-l border-line bg-sheet"
      asChild
    >
      <aside aria-label="About the session">
        <Tabs.List className="flex border-b border-line pr-1" aria-label="About the session">
          {PANELS.map(([value, name]) => (
            <Facet key={value} value={value} {...(value === 'notes' && notes.length && { n: notes.length })}>
              {name}
            </Facet>
          ))}
        </Tabs.List>
        {PANELS.map(([value]) => (
          <Tabs.Content
            key={value}
            value={value}
            className="flex min-h-0 flex-1 flex-col data-[state=inactive]:hidden"
          >
            {panels[value]}
          </Tabs.Content>
        ))}
      </aside>
    </Tabs.Root>
  )
}

function NoteList({
  notes,
  take,
  seek,
}: {
  notes: SaidOfSession['notes']
  take: (id: number) => void
  seek: (atMs: number) => void
}) {
  if (!notes.length)
    return (
      <Empty title="No notes yet">
        “Note” below the picture, or the key C, writes one at the moment that is shown.
      </Empty>
    )
  return (
    <ol className="min-h-0 flex-1 overflow-auto" data-list>
      {notes.map(({ id, atMs, text, who }) => (
        <li key={id} className="flex items-start hover:bg-ochre-soft">
          <button
            type="button"
            data-row
            className="flex min-w-0 flex-1 gap-2 px-3 py-1.5 text-left"
            onClick={() => seek(atMs)}
          >
            <span className="w-9 shrink-0 text-right text-ink-soft">{clock(atMs)}</span>
            <span className="min-w-0">
              <span className="break-words">{text}</span>
              <span className="block truncate text-ink-soft">{who}</span>
            </span>
          </button>
          <IconButton label="Delete this note" className="mt-0.5" onClick={() => take(id)}>
            <X size={14} />
          </IconButton>
        </li>
      ))}
    </ol>
  )
}
