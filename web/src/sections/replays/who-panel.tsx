import type { SessionStory, SessionSummary, SessionText } from '@dust-trail/core'
import type { SessionLine } from '@dust-trail/api'
import { questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { clock, duration, moment, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { together } from '../../words/sentences.ts'

const NEXT_PATH = {
  errors: '/friction/errors',
  forms: '/friction/forms',
  'heat map': '/pages',
  page: '/pages',
} as const

/** What this session was, in sentences, and who it was: each value narrows the lens, or takes it away. */
export function WhoPanel({
  summary,
  story,
  lines,
  seek,
}: {
  summary: SessionSummary
  story: SessionStory
  lines: readonly SessionLine[]
  seek: (atMs: number) => void
}) {
  const site = useSite()
  const { lens, setLens } = useLens()
  const linkTo = useLensLink()
  const own = {
    ...lens,
    where: together([
      lens.where,
      { type: 'text', of: 'visitor', test: { is: 'equal', to: summary.visitor } },
    ])!,
  }
  const sums = useQuestion(questions.visitors, own, { selection: EVERYONE }).data?.visitors[0]
  const first = lines.find(({ kind }) => kind === 'page')
  const text = (value: unknown) => (typeof value === 'string' ? value : '')
  const variants = lines
    .filter(({ kind }) => kind === 'variant')
    .map((line) => `${text(line['experiment'])}: ${text(line['variant'])}`)
  const device = lines.find((line) => line['device'])?.['device'] as
    { width?: number; height?: number } | undefined
  const narrow = (of: SessionText, to: string, is: 'equal' | 'not equal') =>
    setLens({ ...lens, where: together([lens.where, { type: 'text', of, test: { is, to } }])! })
  const facts: [name: string, value: string, of?: SessionText | undefined][] = [
    ['Began', moment(summary.startMs, site.timeZone)],
    ['Length', duration(summary.durationMs)],
    ['Device', summary.device ?? 'not known', summary.device ? 'device' : undefined],
    ['Browser', summary.browser, 'browser'],
    ['System', summary.system, 'system'],
    ['Window', device?.width ? `${device.width} × ${device.height}` : ''],
    ['Country', summary.country, 'country'],
    ['Channel', summary.channel, 'channel'],
    ['Came from', text(first?.['referrer'])],
    ['Variants', [...new Set(variants)].join(', ')],
    ['In the lens', sums ? plural(sums.sessions, 'visit') : ''],
    ['Strain', sums ? `${sums.strain.toFixed(1)} on average` : ''],
  ]
  return (
    <div className="min-h-0 flex-1 space-y-4 overflow-auto p-3">
      <section aria-label="What happened" className="space-y-1">
        <h3 className="font-semibold">
          What happened: <span className={story.tone === 'troubled' ? 'text-clay' : ''}>{story.tone}</span>
        </h3>
        <ul className="space-y-1">
          {story.sentences.map(({ text: words, atMs }) => (
            <li key={words}>
              {atMs === null ? (
                words
              ) : (
                <button
                  type="button"
                  className="text-left hover:underline"
                  title={`Shows ${clock(atMs)}`}
                  onClick={() => seek(Math.max(0, atMs - 1000))}
                >
                  {words}
                </button>
              )}
            </li>
          ))}
        </ul>
        {story.next && (
          <p>
            Look at next:{' '}
            <Link
              className="text-spruce hover:underline"
              to={linkTo(NEXT_PATH[story.next.place], { page: story.next.page })}
            >
              {story.next.text}
            </Link>
          </p>
        )}
      </section>
      <section aria-label="Who it was">
        <h3 className="font-semibold">Who it was</h3>
        <dl className="grid grid-cols-[6.5rem_1fr] gap-y-1">
          {facts
            .filter(([, value]) => value)
            .map(([name, value, of]) => (
              <div key={name} className="contents">
                <dt className="text-ink-soft">{name}</dt>
                <dd className="flex min-w-0 items-start gap-3">
                  <span className="min-w-0 flex-1 break-words">{value}</span>
                  {of && (
                    <>
                      <LinkButton
                        title={`Narrows the lens to sessions with ${value}`}
                        onClick={() => narrow(of, value, 'equal')}
                      >
                        only
                      </LinkButton>
                      <LinkButton
                        title={`Takes sessions with ${value} out of the lens`}
                        onClick={() => narrow(of, value, 'not equal')}
                      >
                        without
                      </LinkButton>
                    </>
                  )}
                </dd>
              </div>
            ))}
          <dt className="text-ink-soft">Visitor</dt>
          <dd className="min-w-0 truncate">
            <Link
              className="font-mono text-xs text-spruce hover:underline"
              to={linkTo(`/visitors/${encodeURIComponent(summary.visitor)}`)}
            >
              {summary.visitor}
            </Link>
          </dd>
        </dl>
      </section>
    </div>
  )
}
