import { questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { replayPath, Signals } from '../../closeup/session-list.tsx'
import { duration, moment } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'

const SHOWN = 6

/** Sessions in which most went wrong, to be watched. */
export function WorthALook() {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const answer = useQuestion(questions.sessions, lens, {
    selection: EVERYONE,
    order: 'telling',
    limit: SHOWN,
  })
  return (
    <section aria-label="Replays worth a look">
      <h2 className="mb-1">Replays worth a look</h2>
      {answer.error && <Failure error={answer.error} />}
      <p className="mb-1 text-ink-soft">
        Most telling first.{' '}
        <Link className="text-spruce hover:underline" to={linkTo('/replays')}>
          All replays
        </Link>
      </p>
      {(answer.data?.sessions.length ?? 0) > 0 && (
        <ul className="divide-y divide-line rounded-md border border-line bg-sheet">
          {answer.data!.sessions.map((session) => (
            <li key={session.id} className="flex items-center gap-3 px-3 py-1.5">
              <Link className="shrink-0 text-spruce hover:underline" to={linkTo(...replayPath(session))}>
                {moment(session.startMs, site.timeZone)}
              </Link>
              <span className="min-w-0 flex-1 truncate">
                {session.entry} → {session.exit}
              </span>
              <span className="shrink-0 text-ink-soft">{duration(session.durationMs)}</span>
              <span className="max-w-48 shrink-0 overflow-hidden">
                <Signals signals={session.signals.slice(0, 2)} />
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
