import { timeline } from '@dust-trail/core'
import { useMemo } from 'react'
import { Link, useParams } from 'react-router'
import { z } from 'zod'
import { useRecording, useSession } from '../../api/queries.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { Signals } from '../../closeup/session-list.tsx'
import { useView } from '../../trail/view.tsx'
import { duration, moment, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { Player } from './player.tsx'

/** milliseconds after the session's start */
const atSchema = z.coerce.number().nonnegative()

/** One session, replayed, from the moment that matters. */
export function ReplayPage() {
  const site = useSite()
  const { lens } = useLens()
  const { id = '' } = useParams()
  const [at] = useAddressValue('at', atSchema)
  const linkTo = useLensLink()
  const session = useSession(site.key, id)
  const recording = useRecording(site.key, id)
  const axis = useMemo(
    () =>
      recording.data?.documents.length
        ? timeline(recording.data.documents, recording.data.startMs, recording.data.endMs)
        : undefined,
    [recording.data],
  )
  useView({ words: `Replay of session ${id}`, question: { lens, selection: { type: 'everyone' } } })
  const failed = session.error ?? recording.error
  if (failed)
    return <Failure error={failed} retry={() => void Promise.all([session.refetch(), recording.refetch()])} />
  if (!session.data || !recording.data) return <Loading label="Loading the recording" />
  const { summary, moments } = session.data
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex items-center gap-4 px-5 pt-3 pb-2">
        <div className="min-w-0 flex-1">
          <h1 className="truncate">
            {moment(summary.startMs, site.timeZone)}, {summary.device ?? 'device not known'},{' '}
            {summary.channel}
          </h1>
          <p className="truncate text-ink-soft">
            {plural(summary.pages, 'page')} in {duration(summary.durationMs)} · {summary.browser} on{' '}
            {summary.system}
            {summary.country && ` · ${summary.country}`} ·{' '}
            {summary.returning ? 'has been here before' : 'first visit'} · visitor{' '}
            {summary.visitor.slice(0, 12)}
          </p>
        </div>
        <Signals signals={summary.signals} />
        <Link className="text-spruce hover:underline" to={linkTo('/replays')}>
          All sessions
        </Link>
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
          axis={axis}
          moments={moments}
          startAtMs={Math.min(axis.durationMs, Math.max(0, at ?? 0))}
        />
      ) : (
        <Empty title="This session has no recording">
          Its pages, clicks and signals count all the same: they are listed under the close-up of any
          selection it is in.
        </Empty>
      )}
    </div>
  )
}
