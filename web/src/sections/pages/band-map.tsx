import type { ReachAnswer } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import type { ReactNode } from 'react'
import { useSnapshot } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import type { BandMap as Map } from './band-page.tsx'
import { BandPage } from './band-page.tsx'
import { Legend } from './legend.tsx'
import { SeenList } from './seen-list.tsx'

/** How far down a page people come, or what they have in view for how long, on the recorded page. */
export function BandMap({ page, map, choice }: { page: string; map: Map; choice: ReactNode }) {
  const { lens } = useLens()
  const answer = useQuestion(questions.reach, lens, { page }, { enabled: page !== '' })
  // It knows on which recorded page to show it.
  const clicks = useQuestion(questions.clickHeat, lens, { page, which: 'all' }, { enabled: page !== '' })
  const snapshot = useSnapshot(useSite().key, clicks.data?.snapshot?.hash)
  useView({
    words: `Those who saw ${page}`,
    question: { lens, selection: { type: 'page', page } },
    tables: [
      keptTable(questions.reach, 'What was seen, from top to bottom', { page }, [
        ['from', 'From', 'percent'],
        ['to', 'To', 'percent'],
        ['reached', 'Views that came here', 'count'],
        ['of', 'Of', 'count'],
        ['seconds', 'Seconds in view', 'decimal'],
      ]),
    ],
  })
  const { data } = answer
  const error = answer.error ?? clicks.error ?? snapshot.error
  const told = map === 'reach' ? data?.measured : data?.attended
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex items-center gap-4 px-5 py-3">
        <div className="min-w-0 flex-1">
          <h1 className="truncate" title={page}>
            {page}
          </h1>
          <p>{data ? (map === 'reach' ? reachWords(data) : attentionWords(data)) : 'Reading views …'}</p>
        </div>
        {data && <BandLegend data={data} map={map} />}
        {choice}
      </div>
      {error && <Failure error={error} retry={() => void answer.refetch()} />}
      {!data && answer.isPending && !error && <Loading />}
      {data && (
        <Settling stale={answer.isPlaceholderData} className="flex min-h-0 flex-1 border-t border-line">
          <div className="min-w-0 flex-1">
            {!told ? (
              <Empty title="Not measured">
                {data.views
                  ? 'The data of the lens do not tell it for this page.'
                  : 'Nobody in the lens saw this page.'}
              </Empty>
            ) : snapshot.data ? (
              <BandPage snapshot={snapshot.data} answer={data} map={map} />
            ) : clicks.data && !clicks.data.snapshot ? (
              <Empty title="This page was not recorded">
                What was seen is listed beside; there is no picture to lay it on.
              </Empty>
            ) : (
              !error && <Loading label="Loading the page" />
            )}
          </div>
          <SeenList answer={data} page={page} />
        </Settling>
      )}
    </div>
  )
}

function BandLegend({ data, map }: { data: ReachAnswer; map: Map }) {
  if (map === 'reach') return <Legend from="0" to="all views" title="Share of the views that saw it" />
  const longest = Math.max(...data.bands.map(({ seconds }) => seconds ?? 0))
  return (
    <Legend from="0" to={`${longest.toFixed(1)} s`} title="Seconds in view on average, idle time left out" />
  )
}

function reachWords({ bands, measured, views }: ReachAnswer): string {
  if (!measured) return `${plural(views, 'view')}; how far they went is not measured.`
  const half = bands.filter(({ reached }) => reached >= measured / 2).length
  const all = bands.at(-1)!.reached
  return `Half of ${plural(measured, 'view')} come as far as ${percent(half / bands.length)} of the page; ${count(all)} (${percent(all / measured)}) see its end.`
}

function attentionWords({ bands, attended, views }: ReachAnswer): string {
  if (!attended) return `${plural(views, 'view')}; what was in view when is not measured.`
  const total = bands.reduce((sum, { seconds }) => sum + (seconds ?? 0), 0)
  let before = 0
  const upper = bands.findIndex(({ seconds }) => (before += seconds ?? 0) >= total / 2)
  return `Half of the attention of ${plural(attended, 'view')} goes to the upper ${percent((upper + 1) / bands.length)} of the page.`
}
