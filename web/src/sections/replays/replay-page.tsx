import { addNote, deleteNote, getLines } from '@dust-trail/api'
import type { SessionLine } from '@dust-trail/api'
import { timeline } from '@dust-trail/core'
import { ChevronLeft, ChevronRight } from 'lucide-react'
import { useCallback, useMemo, useRef, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { z } from 'zod'
import { useRecording, useSession } from '../../api/queries.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { replayPath, Signals } from '../../closeup/session-list.tsx'
import { placeInList } from '../../closeup/watch-list.ts'
import { useView } from '../../trail/view.tsx'
import { CheckBox } from '../../ui/check-box.tsx'
import { duration, moment, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { useStored } from '../../ui/stored.ts'
import { Player } from './player.tsx'
import { ProposeFromSession } from './propose-from-session.tsx'
import { SessionTools } from './session-tools.tsx'
import { SidePanel } from './side-panel.tsx'
import { requestsIn, saidIn } from './technical.ts'
import { useSaid } from './use-said.ts'

/** milliseconds after the session's start */
const atSchema = z.coerce.number().nonnegative()
const playsSchema = z.literal('yes')
const NO_LINES: SessionLine[] = []

/** One session, replayed, from the moment that matters. */
export function ReplayPage() {
  const site = useSite()
  const { lens } = useLens()
  const { id = '' } = useParams()
  const [at] = useAddressValue('at', atSchema)
  const [plays] = useAddressValue('play', playsSchema)
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const session = useSession(site.key, id)
  const recording = useRecording(site.key, id)
  const lines =
    useEndpoint(getLines, { site: site.key, id }, undefined, { keep: false }).data?.lines ?? NO_LINES
  const { said: told, ready, refetch, change } = useSaid(site.key, id)
  const axis = useMemo(
    () =>
      recording.data?.documents.length
        ? timeline(recording.data.documents, recording.data.startMs, recording.data.endMs)
        : undefined,
    [recording.data],
  )
  const startMs = recording.data?.startMs ?? 0
  const said = useMemo(
    () => saidIn(recording.data?.documents ?? [], lines, startMs),
    [recording.data, lines, startMs],
  )
  const requests = useMemo(() => requestsIn(lines, startMs), [lines, startMs])
  const place = useMemo(() => placeInList(id), [id])
  const [playsOn, setPlaysOn] = useStored('plays on', z.boolean(), false)
  const [proposing, setProposing] = useState(false)
  const shownMs = useRef(at ?? 0)
  const next = place?.next
  const goOn = useRef(() => undefined as void)
  goOn.current = () => {
    if (!playsOn || !next) return
    const [path, more] = replayPath(next)
    void navigate(linkTo(path, { ...more, play: 'yes' }))
  }
  const ended = useCallback(() => goOn.current(), [])
  useView({ words: `Replay of session ${id}`, question: { lens, selection: { type: 'everyone' } } })
  const failed = session.error ?? recording.error
  if (failed)
    return <Failure error={failed} retry={() => void Promise.all([session.refetch(), recording.refetch()])} />
  if (!session.data || !recording.data) return <Loading label="Loading the recording" />
  const { summary, moments, story } = session.data
  const panel = (atMs: number, seek: (atMs: number) => void, html: () => string) => {
    shownMs.current = atMs
    return (
      <SidePanel
        {...{ summary, story, moments, lines, said, requests, html, atMs, seek }}
        notes={told.notes}
        takeNote={(note) => change(deleteNote, undefined, { note })}
      />
    )
  }
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex items-start gap-4 px-5 pt-3 pb-2">
        <div className="min-w-0 flex-1">
          <h1 className="truncate">
            {moment(summary.startMs, site.timeZone)}, {summary.device ?? 'device not known'},{' '}
            {summary.channel}: {story.tone}
          </h1>
          <p className="truncate text-ink-soft" title={summary.why}>
            {plural(summary.pages, 'page')} in {duration(summary.durationMs)}
            {summary.why && ` · ${summary.why}`}
          </p>
        </div>
        <Signals signals={summary.signals} />
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 px-5 pb-2">
        <Link className="text-spruce hover:underline" to={linkTo('/replays')}>
          All sessions
        </Link>
        {place && (
          <nav aria-label="List" className="flex items-center gap-1">
            <ListLink
              to={place.before && linkTo(...replayPath(place.before))}
              label="Previous session of the list"
            >
              <ChevronLeft size={16} />
            </ListLink>
            <span className="text-ink-soft">
              {place.at + 1} of {place.of} in the list
            </span>
            <ListLink to={next && linkTo(...replayPath(next))} label="Next session of the list">
              <ChevronRight size={16} />
            </ListLink>
            <CheckBox className="ml-1" checked={playsOn} onChange={setPlaysOn}>
              Play one after the other
            </CheckBox>
          </nav>
        )}
        <span className="flex-1" />
        {ready && (
          <SessionTools
            {...{ id, change, refetch }}
            said={told}
            shownMs={() => shownMs.current}
            propose={() => setProposing(true)}
          />
        )}
      </div>
      {recording.data.damaged > 0 && (
        <p role="alert" className="mx-5 mb-2 rounded-md bg-clay-soft px-3 py-1">
          {plural(recording.data.damaged, 'piece')} of this recording{' '}
          {recording.data.damaged === 1 ? 'is' : 'are'} damaged; what follows on that page cannot be shown.
        </p>
      )}
      {axis ? (
        <Player
          key={id}
          documents={recording.data.documents}
          {...{ axis, moments, said, requests, ended }}
          missing={recording.data.missing}
          notes={told.notes}
          addNote={(note) => change(addNote, note)}
          startAtMs={Math.min(axis.durationMs, Math.max(0, at ?? 0))}
          plays={plays === 'yes'}
          beside={panel}
        />
      ) : (
        <div className="flex min-h-0 flex-1 border-t border-line">
          <div className="min-w-0 flex-1">
            <Empty title="This session has no recording">
              What happened stands beside; its pages, clicks and signals count all the same.
            </Empty>
          </div>
          {panel(
            0,
            () => undefined,
            () => '',
          )}
        </div>
      )}
      {proposing && <ProposeFromSession summary={summary} close={() => setProposing(false)} />}
    </div>
  )
}

/** One step along the list; dim where it ends. */
function ListLink({
  to,
  label,
  children,
}: {
  to: string | undefined
  label: string
  children: React.ReactNode
}) {
  const look = 'inline-flex size-7 items-center justify-center rounded-md'
  return to ? (
    <Link to={to} aria-label={label} title={label} className={`${look} text-spruce hover:bg-ochre-soft`}>
      {children}
    </Link>
  ) : (
    <span aria-hidden className={`${look} text-ink-soft opacity-40`}>
      {children}
    </span>
  )
}
