import { findSessions, listSaid } from '@dust-trail/api'
import type { Lens } from '@dust-trail/core'
import { useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../app/lens.ts'
import { SessionList } from '../../closeup/session-list.tsx'
import { CheckBox } from '../../ui/check-box.tsx'
import { Button, inputLook, Select } from '../../ui/controls.tsx'
import { count, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'

/** By what sessions are found beyond the lens. */
export interface Sought {
  /** a text or an element that was on a page */
  words: string | null
  tag: string | null
  /** only those that one has not watched oneself */
  unwatched: boolean
}

/** Looks for what was on the pages as sessions saw them, and for what was said of sessions. */
export function FindForm({ sought, seek }: { sought: Sought; seek: (change: Partial<Sought>) => void }) {
  const site = useSite()
  const [typed, setTyped] = useState(sought.words ?? '')
  const tags = useEndpoint(listSaid, { site: site.key }, undefined).data?.tags ?? []
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        seek({ words: typed.trim().length > 1 ? typed.trim() : null })
      }}
    >
      <input
        aria-label="Text or element on the page"
        title="A text, or an element as in CSS: #id, .class, [name=value], tag.class. Also what the site itself did not put there."
        placeholder="Text or element on the page …"
        className={`${inputLook} !h-8 !w-64`}
        maxLength={200}
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
      />
      <Button type="submit" disabled={typed.trim().length < 2}>
        Find
      </Button>
      {(tags.length > 0 || sought.tag !== null) && (
        <Select
          aria-label="Tag"
          value={sought.tag ?? ''}
          onChange={({ target }) => seek({ tag: target.value || null })}
        >
          <option value="">Any tag or none</option>
          {tags.map(({ tag, sessions }) => (
            <option key={tag} value={tag}>
              {tag}, {sessions.length}
            </option>
          ))}
        </Select>
      )}
      <CheckBox checked={sought.unwatched} onChange={(unwatched) => seek({ unwatched })}>
        Not watched by me yet
      </CheckBox>
      {isSought(sought) && (
        <Button
          onClick={() => {
            setTyped('')
            seek({ words: null, tag: null, unwatched: false })
          }}
        >
          All again
        </Button>
      )}
    </form>
  )
}

/** Whether anything is looked for at all. */
export const isSought = ({ words, tag, unwatched }: Sought) => words !== null || tag !== null || unwatched

/** The sessions that were found, the latest first. */
export function FoundSessions({ sought, lens }: { sought: Sought; lens: Lens }) {
  const site = useSite()
  const answer = useEndpoint(
    findSessions,
    { site: site.key },
    { lens, selection: EVERYONE, ...sought },
    { keep: false },
  )
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!answer.data) return <Loading label="Looking through the sessions" />
  const { sessions, found, looked, of } = answer.data
  const which = [
    sought.tag !== null && `with the tag “${sought.tag}”`,
    sought.unwatched && 'that you have not watched',
  ]
    .filter(Boolean)
    .join(' ')
  const all = `${plural(of, 'session')}${which && ` ${which}`}`
  const base =
    looked < of
      ? `the latest ${count(looked)} of ${all}, as far as the time went: narrow the lens to look at others`
      : all
  if (!found)
    return (
      <Empty title="None">
        {sought.words === null
          ? `There are no sessions ${which} in the lens.`
          : `“${sought.words}” was on no recorded page of ${base}.`}
      </Empty>
    )
  return (
    <>
      <p className="px-3 py-2 text-ink-soft">
        {sought.words === null
          ? all
          : `“${sought.words}” was on pages of ${plural(found, 'session')} of ${base}`}
        {found > sessions.length && `; the latest ${count(sessions.length)} are listed`}.
      </p>
      <SessionList sessions={sessions} />
    </>
  )
}
