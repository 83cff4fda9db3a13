import type { SessionSummary, SignalKind } from '@dust-trail/core'
import { Monitor, Smartphone, Tablet } from 'lucide-react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { keepLens, useSite } from '../app/lens.ts'
import { clock, duration, moment, plural } from '../ui/format.ts'

const DEVICES = { desktop: Monitor, mobile: Smartphone, tablet: Tablet }
/** How long before the moment a replay opens, so that one sees what led to it. */
const LEAD_MS = 3000

export function replayPath(
  session: Pick<SessionSummary, 'id' | 'momentMs'>,
): [path: string, more: Record<string, string>] {
  const more: Record<string, string> = {}
  if (session.momentMs !== null) more['at'] = String(Math.max(0, Math.round(session.momentMs - LEAD_MS)))
  return [`/replays/${session.id}`, more]
}

/** Sessions, one a row; each opens its replay at its moment. */
export function SessionList({ sessions }: { sessions: readonly SessionSummary[] }) {
  const site = useSite()
  const [parameters] = useSearchParams()
  const navigate = useNavigate()
  return (
    <table className="w-full" data-list>
      <thead>
        <tr>
          <th className="cell">Began</th>
          <th className="cell">Signals</th>
          <th className="cell">Device</th>
          <th className="cell">Channel</th>
          <th className="cell">From → to</th>
          <th className="cell cell-n">Pages</th>
          <th className="cell cell-n">Length</th>
          <th className="cell cell-n">Opens at</th>
        </tr>
      </thead>
      <tbody>
        {sessions.map((session) => {
          const to = keepLens(...([replayPath(session)[0], parameters, replayPath(session)[1]] as const))
          const Device = session.device ? DEVICES[session.device] : Monitor
          return (
            <tr
              key={session.id}
              data-row
              tabIndex={-1}
              data-session={session.id}
              onClick={() => void navigate(to)}
              onKeyDown={(event) => {
                if (event.key === 'Enter') void navigate(to)
              }}
            >
              <td className="cell">
                <Link
                  to={to}
                  className="text-spruce hover:underline"
                  onClick={(event) => event.stopPropagation()}
                >
                  {moment(session.startMs, site.timeZone)}
                </Link>
              </td>
              <td className="cell">
                <Signals signals={session.signals} />
              </td>
              <td className="cell">
                <span
                  className="inline-flex items-center gap-1.5"
                  title={`${session.browser}, ${session.system}`}
                >
                  <Device size={14} aria-hidden /> {session.device ?? 'not known'} · {session.browser}
                </span>
              </td>
              <td className="cell">{session.channel}</td>
              <td className="cell max-w-72 truncate" title={`${session.entry} → ${session.exit}`}>
                {session.pages > 1 ? `${session.entry} → ${session.exit}` : session.entry}
              </td>
              <td className="cell cell-n">{session.pages}</td>
              <td className="cell cell-n">{duration(session.durationMs)}</td>
              <td className="cell cell-n">{session.momentMs === null ? 'start' : clock(session.momentMs)}</td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

/** The last word says it, but for clicks, where the first does. */
function shortName(kind: SignalKind): string {
  if (kind === 'not found') return kind
  const [first, last] = kind.split(' ')
  return last === 'click' ? first! : last!
}

export function Signals({ signals }: { signals: SessionSummary['signals'] }) {
  if (!signals.length) return <span className="text-ink-soft">none</span>
  return (
    <span className="inline-flex gap-1">
      {signals.map(({ kind, count }) => (
        <span key={kind} title={plural(count, kind)} className="rounded bg-clay-soft px-1.5 text-ink">
          {count} {shortName(kind)}
        </span>
      ))}
    </span>
  )
}
