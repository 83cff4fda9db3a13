import { questions } from '@dust-trail/core'
import { ArrowLeft } from 'lucide-react'
import { Link } from 'react-router'
import { z } from 'zod'
import { useFixes } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { count, day, dayIn, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Sparkline } from '../../ui/sparkline.tsx'
import { PAGE_MEASURES } from './page-measures.ts'

const OPEN = z.enum(['all'])
/** What is said of a page before one asks for more. */
const FIRST = ['views', 'exit rate', 'time', 'read', 'load', 'signals', 'strain', 'passed']

/** What is known of one page, in short: numbers, trend, where people came from and went, devices; above its heat map. */
export function PageSheet({ page }: { page: string }) {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const { setSelection } = useSelection()
  const [all, setAll] = useAddressValue('numbers', OPEN, { replace: true })
  const answer = useQuestion(questions.pages, lens, { only: page })
  const row = answer.data?.pages[0]
  const parts = answer.data?.parts ?? []
  const measures = PAGE_MEASURES.filter(({ id }) => all || FIRST.includes(id))
  return (
    <section aria-label={`What is known of ${page}`} className="space-y-1.5 px-5 pt-3">
      <div className="flex items-center gap-3 text-ink-soft">
        <Link className="inline-flex items-center gap-1 text-spruce hover:underline" to={linkTo('/pages')}>
          <ArrowLeft size={13} aria-hidden /> All pages
        </Link>
        <Link className="text-spruce hover:underline" to={linkTo('/paths', { start: page })}>
          Where they went next
        </Link>
        <Link className="text-spruce hover:underline" to={linkTo('/paths', { start: page, way: 'back' })}>
          Where they came from
        </Link>
        <Link className="text-spruce hover:underline" to={linkTo('/friction')}>
          Friction
        </Link>
        <Link className="text-spruce hover:underline" to={linkTo('/friction/forms')}>
          Form fields
        </Link>
        <LinkButton onClick={() => setSelection({ type: 'page', page })}>
          Who they are, what they met
        </LinkButton>
      </div>
      {row && (
        <div className="flex flex-wrap items-center gap-x-5 gap-y-1 rounded-md border border-line bg-sheet px-3 py-1.5">
          {measures.map(({ id, head, show, title }) => (
            <span key={id} title={title?.(row)}>
              <span className="text-ink-soft">{head}</span> {show(row)}
            </span>
          ))}
          <Sparkline
            tone="spruce"
            values={row.trend}
            titles={parts.map(
              ({ startMs }, k) => `from ${dayIn(startMs, site.timeZone)}: ${plural(row.trend[k]!, 'view')}`,
            )}
          />
          <LinkButton onClick={() => setAll(all ? null : 'all')}>
            {all ? 'Fewer numbers' : 'All numbers'}
          </LinkButton>
        </div>
      )}
      {row && all && <Around page={page} />}
    </section>
  )
}

/** Devices, what came before and after, what its readers do later, and what was changed here. */
function Around({ page }: { page: string }) {
  const site = useSite()
  const { lens } = useLens()
  const selection = { type: 'page' as const, page }
  const { data } = useQuestion(questions.closeUp, lens, { selection })
  const devices = useQuestion(questions.distribution, lens, {
    selection,
    options: { by: 'device', bins: 0, quantiles: [] },
  }).data
  const goals = useQuestion(
    questions.goals,
    {
      ...lens,
      where: { type: 'all', of: [...(lens.where ? [lens.where] : []), { type: 'selected', selection }] },
    },
    {},
  ).data
  const fixes = useFixes(site.key, lens).data
  const shipped = (fixes ?? [])
    .map(({ fix }) => fix)
    .filter((fix) => fix.shippedDay && JSON.stringify(fix.selection).includes(JSON.stringify(page)))
  const share = (hits: number, base: number) => `${percent(base ? hits / base : null)} of ${count(base)}`
  return (
    <div className="grid grid-cols-4 gap-4 rounded-md border border-line bg-sheet px-3 py-2">
      <Facts
        title="Came from"
        rows={(data?.previous ?? []).map(({ page: from, rate }) => [
          from ?? 'entered here',
          share(rate.hits, rate.base),
        ])}
      />
      <Facts
        title="Went to"
        rows={(data?.next ?? []).map(({ page: to, rate }) => [
          to ?? 'left the site',
          share(rate.hits, rate.base),
        ])}
      />
      <Facts
        title="Devices"
        rows={(devices?.values ?? [])
          .toSorted((a, b) => b.sessions - a.sessions)
          .map(({ value, sessions }) => [value || 'not known', share(sessions, devices!.sessions)])}
      />
      <Facts
        title="What its readers reach"
        rows={(goals?.goals ?? []).map(({ name, reached }) => [name, share(reached.hits, reached.base)])}
      >
        {shipped.map(({ id, title, shippedDay }) => (
          <li key={id} className="text-ochre-text">
            changed on {day(shippedDay!)}: {title}
          </li>
        ))}
      </Facts>
    </div>
  )
}

function Facts({
  title,
  rows,
  children,
}: {
  title: string
  rows: readonly (readonly [name: string, value: string])[]
  children?: React.ReactNode
}) {
  return (
    <div className="min-w-0">
      <h2>{title}</h2>
      <ul>
        {rows.slice(0, 5).map(([name, value]) => (
          <li key={name} className="flex justify-between gap-2">
            <span className="truncate" title={name}>
              {name}
            </span>
            <span className="shrink-0 text-ink-soft">{value}</span>
          </li>
        ))}
        {children}
      </ul>
    </div>
  )
}
