import type { SessionMoment } from '@dust-trail/api'
import { getSession } from '@dust-trail/api'
import type { SessionSummary } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { ChevronDown, ChevronRight, Play } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useQuestion } from '../../api/use-question.ts'
import { goalName, useLens, useLensLink, useSite } from '../../app/lens.ts'
import { Signals } from '../../closeup/session-list.tsx'
import { SessionTrail } from '../../closeup/session-trail.tsx'
import { clock, duration, moment, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { together } from '../../words/sentences.ts'
import { foldMoments } from '../../words/fold-moments.ts'

/** The visits of one visitor, the newest first, each with its pages as dots; opened, what happened in order. */
export function VisitorHistory({ visitor }: { visitor: string }) {
  const site = useSite()
  const { lens } = useLens()
  const own = {
    ...lens,
    where: together([lens.where, { type: 'text', of: 'visitor', test: { is: 'equal', to: visitor } }])!,
  }
  const answer = useQuestion(questions.sessions, own, { selection: EVERYONE, order: 'newest', limit: 200 })
  const sums = useQuestion(questions.visitors, own, { selection: EVERYONE }).data?.visitors[0]
  const money = new Intl.NumberFormat('en-GB', { style: 'currency', currency: site.currency })
  const goal = goalName(site)
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!answer.data) return <Loading />
  const { sessions, total } = answer.data
  if (!total)
    return <Empty title="This visitor is not in the lens">Choose other dates, or take filters away.</Empty>
  return (
    <section aria-label={`Visits of ${visitor}`} className="min-w-0 space-y-2">
      {sums && (
        <p>
          <b>{plural(total, 'visit')}</b>, {plural(sums.pages, 'page')},{' '}
          {goal ? `${goal} ${plural(sums.conversions, 'time')}` : plural(sums.conversions, 'conversion')},{' '}
          {money.format(sums.value)}, strain {sums.strain.toFixed(1)}; first by{' '}
          {sums.channel || 'a channel that is not known'}.
        </p>
      )}
      <ol className="divide-y divide-line rounded-md border border-line bg-sheet">
        {sessions.map((session, k) => {
          const before = sessions[k + 1]
          return (
            <Visit
              key={session.id}
              session={session}
              sinceMs={before ? session.startMs - (before.startMs + before.durationMs) : null}
              money={money}
            />
          )
        })}
      </ol>
      {total > sessions.length && (
        <p className="text-ink-soft">
          The newest {sessions.length} of {plural(total, 'visit')}.
        </p>
      )}
    </section>
  )
}

function Visit({
  session,
  sinceMs,
  money,
}: {
  session: SessionSummary
  /** since the visit before; null: it is the first */
  sinceMs: number | null
  money: Intl.NumberFormat
}) {
  const site = useSite()
  const linkTo = useLensLink()
  const [open, setOpen] = useState(false)
  const { id, startMs, durationMs, channel, device, signals, value } = session
  return (
    <li className="px-3 py-1.5">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <button
          type="button"
          aria-expanded={open}
          className="inline-flex w-36 items-center gap-1 text-spruce hover:underline"
          onClick={() => setOpen(!open)}
        >
          {open ? <ChevronDown size={13} aria-hidden /> : <ChevronRight size={13} aria-hidden />}
          {moment(startMs, site.timeZone)}
        </button>
        <span className="min-w-0 flex-1">
          <SessionTrail trail={session.trail} more={session.more} />
        </span>
        {value > 0 && <b>{money.format(value)}</b>}
        <Signals signals={signals} />
        <span className="text-ink-soft">
          {duration(durationMs)} · {channel || 'not known'} · {device ?? 'device not known'}
        </span>
        <Link
          className="inline-flex items-center gap-1 text-spruce hover:underline"
          to={linkTo(`/replays/${id}`)}
        >
          <Play size={13} aria-hidden /> Watch
        </Link>
      </div>
      {open && <Moments id={id} />}
      <p className="text-xs text-ink-soft">
        {sinceMs === null ? 'the first visit listed' : `${span(sinceMs)} after the visit before`}
      </p>
    </li>
  )
}

/** What happened in a visit, runs of the same folded, with the gaps of time between. */
function Moments({ id }: { id: string }) {
  const site = useSite()
  const linkTo = useLensLink()
  const answer = useEndpoint(getSession, { site: site.key, id }, undefined)
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!answer.data) return <Loading rows={3} />
  return (
    <ol className="my-1 ml-5 border-l border-line pl-3">
      {foldMoments(answer.data.moments).map(({ moment: one, times, gapMs }, k) => (
        <li key={k}>
          {gapMs >= GAP_MS && <span className="block text-xs text-ink-soft">{span(gapMs)} nothing</span>}
          <Link
            className="flex gap-2 hover:bg-ochre-soft"
            to={linkTo(`/replays/${id}`, { at: String(one.atMs) })}
          >
            <span className="w-10 shrink-0 text-right text-ink-soft">{clock(one.atMs)}</span>
            <span className={one.signal ? 'font-semibold text-clay' : ''}>
              {one.signal && '◆ '}
              {one.kind}
            </span>
            <span className="min-w-0 truncate text-ink-soft">{wordsOf(one)}</span>
            {times > 1 && <span className="text-ink-soft">× {times}</span>}
          </Link>
        </li>
      ))}
    </ol>
  )
}

/** Gaps from this on are said. */
const GAP_MS = 30_000

function wordsOf({ kind, page, label, selector }: SessionMoment): string {
  return kind === 'page' ? page : [label || selector.split(' > ').at(-1), page].filter(Boolean).join(' · ')
}

function span(ms: number): string {
  const days = Math.floor(ms / 86_400_000)
  return days >= 2 ? `${days} days` : duration(ms)
}
