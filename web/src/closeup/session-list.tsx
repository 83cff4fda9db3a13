import { listSaid } from '@dust-trail/api'
import type { SessionSummary, SignalKind } from '@dust-trail/core'
import { Bot, Monitor, Smartphone, Tablet, Zap } from 'lucide-react'
import { Link, useNavigate } from 'react-router'
import { useEndpoint } from '../api/use-endpoint.ts'
import { useLensLink, useSite } from '../app/lens.ts'
import type { DataColumn } from '../ui/data-table.tsx'
import { DataTable } from '../ui/data-table.tsx'
import { clock, duration, moment, plural } from '../ui/format.ts'
import { SessionTrail } from './session-trail.tsx'
import { keepWatchList } from './watch-list.ts'

const DEVICES = { desktop: Monitor, mobile: Smartphone, tablet: Tablet, robot: Bot, implausible: Zap }
/** How long before the moment a replay opens, so that one sees what led to it. */
const LEAD_MS = 3000

export function replayPath(
  session: Pick<SessionSummary, 'id' | 'momentMs'>,
): [path: string, more: Record<string, string>] {
  const more: Record<string, string> = {}
  if (session.momentMs !== null) more['at'] = String(Math.max(0, Math.round(session.momentMs - LEAD_MS)))
  return [`/replays/${session.id}`, more]
}

function wayOf({ entry, exit, pages }: SessionSummary): string {
  return pages > 1 ? `${entry} → ${exit}` : entry
}

/** Sessions, one a row; each opens its replay at its moment. */
export function SessionList({ sessions }: { sessions: readonly SessionSummary[] }) {
  const site = useSite()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const replayOf = (session: SessionSummary) => linkTo(...replayPath(session))
  const keep = () => keepWatchList(sessions.map(({ id, momentMs }) => ({ id, momentMs })))
  const said = useEndpoint(listSaid, { site: site.key }, undefined).data
  const watched = new Set(said?.watched)
  const noted = new Set(said?.noted)
  const tagsOf = (id: string) =>
    (said?.tags ?? []).flatMap(({ tag, sessions: tagged }) => (tagged.includes(id) ? [tag] : []))
  const marksOf = ({ id }: SessionSummary) => [
    ...(watched.has(id) ? ['watched'] : []),
    ...(noted.has(id) ? ['notes'] : []),
    ...tagsOf(id),
  ]
  const columns: DataColumn<SessionSummary>[] = [
    {
      id: 'began',
      head: 'Began',
      cell: (session) => (
        <Link
          to={replayOf(session)}
          className="text-spruce hover:underline"
          onClick={(event) => {
            event.stopPropagation()
            keep()
          }}
        >
          {moment(session.startMs, site.timeZone)}
        </Link>
      ),
      value: ({ startMs }) => startMs,
      width: 116,
    },
    {
      id: 'signals',
      head: 'Signals',
      cell: ({ signals }) => <Signals signals={signals} most={2} />,
      value: ({ signals }) => signals.reduce((sum, { count }) => sum + count, 0),
      width: 172,
    },
    {
      id: 'stood out',
      head: 'What stood out',
      value: ({ why }) => why,
      title: ({ why }) => why,
      least: 290,
    },
    {
      id: 'seen',
      head: 'Seen',
      cell: (session) => <span className="text-ink-soft">{marksOf(session).join(', ')}</span>,
      value: (session) => marksOf(session).join(', '),
      title: (session) => marksOf(session).join(', '),
      width: 96,
      folds: 5,
    },
    {
      id: 'device',
      head: 'Device',
      cell: ({ device, browser }) => {
        const Device = device ? DEVICES[device] : Monitor
        return (
          <>
            <Device size={14} aria-hidden className="mr-1.5 inline align-text-bottom" />
            {device ?? 'not known'} · {browser}
          </>
        )
      },
      value: ({ device, browser }) => `${device ?? 'not known'} · ${browser}`,
      title: ({ browser, system }) => `${browser}, ${system}`,
      width: 156,
      folds: 3,
    },
    {
      id: 'visitor',
      head: 'Visitor',
      cell: ({ visitor }) => (
        <Link
          to={linkTo(`/visitors/${encodeURIComponent(visitor)}`)}
          className="font-mono text-xs text-spruce hover:underline"
          onClick={(event) => event.stopPropagation()}
        >
          {visitor}
        </Link>
      ),
      value: ({ visitor }) => visitor,
      width: 110,
      folds: 6,
    },
    { id: 'channel', head: 'Channel', value: ({ channel }) => channel, width: 118, folds: 4 },
    {
      id: 'trail',
      head: 'Pages',
      cell: ({ trail, more }) => <SessionTrail trail={trail} more={more} />,
      value: wayOf,
      title: wayOf,
      width: 196,
    },
    { id: 'pages', head: 'Views', value: ({ pages }) => pages, numeric: true, width: 68, folds: 1 },
    {
      id: 'length',
      head: 'Length',
      cell: ({ durationMs }) => duration(durationMs),
      value: ({ durationMs }) => durationMs,
      numeric: true,
      width: 104,
    },
    {
      id: 'opens at',
      head: 'Opens at',
      cell: ({ momentMs }) => (momentMs === null ? 'start' : clock(momentMs)),
      value: ({ momentMs }) => momentMs,
      numeric: true,
      width: 84,
    },
  ]
  return (
    <DataTable
      name="sessions"
      rows={sessions}
      columns={columns}
      rowKey={({ id }) => id}
      open={(session) => {
        keep()
        void navigate(replayOf(session))
      }}
      rowProps={({ id }) => ({ 'data-session': id })}
    />
  )
}

/** The last word says it, but for clicks, where the first does. */
const SHORT: Partial<Record<SignalKind, string>> = {
  ...{ 'rage click': 'rage', 'dead click': 'dead', 'failing click': 'failing' },
  ...{ 'script error': 'error', 'failed request': 'request', 'pointer to the bar': 'to the bar' },
}

function shortName(kind: SignalKind): string {
  return SHORT[kind] ?? kind
}

/** Kinds of signals with how many of each; where there is room for so many alone, the rest is named when pointed at. */
export function Signals({ signals, most = Infinity }: { signals: SessionSummary['signals']; most?: number }) {
  if (!signals.length) return <span className="text-ink-soft">none</span>
  const rest = signals.slice(most)
  return (
    <span className="inline-flex gap-1">
      {signals.slice(0, most).map(({ kind, count }) => (
        <span key={kind} title={plural(count, kind)} className="rounded bg-clay-soft px-1.5 text-ink">
          {count} {shortName(kind)}
        </span>
      ))}
      {rest.length > 0 && (
        <span className="text-ink-soft" title={rest.map(({ kind, count }) => plural(count, kind)).join(', ')}>
          +{rest.length}
        </span>
      )}
    </span>
  )
}
