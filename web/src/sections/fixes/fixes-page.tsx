import type { EFFORTS, Fix, listFixes } from '@dust-trail/api'
import { FIX_STATUSES } from '@dust-trail/api'
import type { Candidate, PriceAnswer } from '@dust-trail/core'
import { hasComeBack, questions, rate } from '@dust-trail/core'
import { useNavigate } from 'react-router'
import { z } from 'zod'
import { useFixes, useFixesThrough } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { evidenceOfAll } from '../../report/evidence.ts'
import { fixesReport } from '../../report/reports.ts'
import { SaveReport } from '../../report/save-report.tsx'
import { SideHead, useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, decimal, plural, rateText } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Failure, Loading, Settling } from '../../ui/states.tsx'
import { describeSelection } from '../../words/sentences.ts'
import type { Card } from './board.tsx'
import { Board } from './board.tsx'
import { candidateFor } from './candidate-price.tsx'
import { FoundProblems } from './found.tsx'
import { PriceBar } from './price-bar.tsx'

type Effort = (typeof EFFORTS)[number]
type PricedFix = z.output<typeof listFixes.answer>[number]

const VIEW = z.enum(['board', 'table'])

/** Days of work that an effort stands for, to hold a price against it: common practice, no source. */
const DAYS_OF: Record<Effort, number> = { hours: 0.5, days: 3, weeks: 15 }

/** What has been taken up, by status or ranked; below it what was found and has not been. */
export function FixesPage() {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const answer = useFixes(site.key, lens)
  useView({ words: 'All sessions in the lens', question: { lens, selection: { type: 'everyone' } } })
  const { sides } = useSides()
  const others = sides.slice(1)
  const beside = useFixesThrough(
    site.key,
    others.map((side) => side.lens),
  )
  const { data } = answer
  const [chosen, setView] = useAddressValue('as', VIEW)
  const view = chosen ?? 'board'
  const candidates = useQuestion(questions.candidates, lens, {}).data?.candidates ?? []
  const liveOf = ({ fix }: PricedFix) => candidateFor(candidates, fix.selection)
  const most = Math.max(1, ...(data ?? []).map((one) => liveOf(one)?.price.high ?? one.price.lostInterval[1]))
  const columns: DataColumn<PricedFix>[] = [
    {
      id: 'fix',
      head: 'Fix',
      value: ({ fix }) => fix.title,
      title: ({ fix }) => `${fix.title}\n${describeSelection(fix.selection)}`,
      opens: true,
      width: 250,
    },
    {
      id: 'status',
      head: 'Status, effort',
      cell: ({ fix }) => `${fix.status} · ${fix.effort} of work`,
      value: ({ fix }) => fix.status,
      className: 'text-ink-soft',
      width: 176,
      folds: 2,
    },
    {
      id: 'lost',
      head: 'Lost in 30 days, 95 % interval',
      cell: (row) => <Price live={liveOf(row)} priced={row.fix.priced} most={most} />,
      value: (row) => liveOf(row)?.price.value ?? null,
      width: 256,
    },
    {
      id: 'over effort',
      head: 'A day of work',
      words: 'Conversions lost in 30 days for a day of work',
      cell: (row) => overEffort(row, liveOf(row))?.toFixed(1) ?? '–',
      value: (row) => overEffort(row, liveOf(row)),
      title: ({ fix }) => `counted as ${DAYS_OF[fix.effort]} days of work`,
      numeric: true,
      width: 104,
      folds: 3,
    },
    {
      id: 'sure',
      head: 'Does it cost?',
      cell: (row) => liveOf(row)?.whether ?? 'not told',
      value: (row) => liveOf(row)?.sure ?? null,
      width: 120,
      folds: 2,
    },
    {
      id: 'plain',
      head: 'Plain comparison',
      cell: ({ price }) => <Lost price={price} />,
      value: ({ price }) => price.lost,
      title: () => 'Those who met it beside all others who saw the page: a comparison, not a price',
      numeric: true,
      width: 150,
      folds: 4,
    },
    ...others.map(({ name }, k): DataColumn<PricedFix> => {
      const priceIn = (fix: PricedFix) => beside[k]?.data?.find((one) => one.fix.id === fix.fix.id)?.price
      return {
        id: `beside ${k + 1}`,
        head: <SideHead side={k + 1} name={name} />,
        words: name,
        cell: (fix) => <Lost price={priceIn(fix)} />,
        value: (fix) => priceIn(fix)?.lost ?? null,
        numeric: true,
        width: 176,
      }
    }),
    {
      id: 'met it',
      head: 'Met it',
      cell: ({ price }) => rateText(price.met),
      value: ({ price }) => price.met.share,
      numeric: true,
      width: 128,
    },
    {
      id: 'others',
      head: 'Others',
      cell: ({ price }) => rateText(price.others),
      value: ({ price }) => price.others.share,
      numeric: true,
      width: 128,
      folds: 1,
    },
  ]
  return (
    <div className="px-5 py-3">
      <div className="mb-2 flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1>Fixes</h1>
          <p className="text-ink-soft">
            What to repair first?{' '}
            {data && data.length > 0 && `${plural(data.length, 'fix', 'fixes')} taken up: ${inStatus(data)}.`}
          </p>
        </div>
        {data && data.length > 0 && (
          <SaveReport
            label="Save as a report"
            name="fixes"
            make={async (share) => {
              const fixes = data.map(({ fix: { id, selection } }) => ({ id, lens, selection }))
              return fixesReport(
                site,
                lens,
                data.map((one) => ({ ...one, live: liveOf(one) })),
                await evidenceOfAll(site.key, fixes, share),
              )
            }}
          />
        )}
        {data && data.length > 0 && (
          <RadioGroup
            label="Shown as"
            value={view}
            onChange={(next) => setView(next === 'board' ? null : next)}
            options={[
              ['board', 'Board'],
              ['table', 'Ranked table'],
            ]}
          />
        )}
      </div>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && <Loading />}
      {data && data.length > 0 && (
        <Settling stale={answer.isPlaceholderData} className="mb-5">
          {view === 'board' ? (
            <Board cards={data.map((one) => cardOf(one, liveOf(one)))} />
          ) : (
            <div className="overflow-auto rounded-md border border-line bg-sheet">
              <DataTable
                name="fixes"
                rows={data}
                columns={columns}
                rowKey={({ fix }) => String(fix.id)}
                rowHeight={48}
                open={({ fix }) => void navigate(linkTo(`/fixes/${fix.id}`))}
              />
            </div>
          )}
        </Settling>
      )}
      <h2>What costs most{data && data.length > 0 && ', and is not taken up yet'}</h2>
      <FoundProblems taken={data?.map(({ fix }) => fix.selection) ?? []} />
    </div>
  )
}

/** How many there are of each status, in words. */
function inStatus(fixes: readonly PricedFix[]): string {
  return FIX_STATUSES.flatMap((status) => {
    const n = fixes.filter(({ fix }) => fix.status === status).length
    return n ? `${count(n)} ${status}` : []
  }).join(', ')
}

function overEffort({ fix }: PricedFix, live: Candidate | undefined): number | null {
  return live ? live.price.value / DAYS_OF[fix.effort] : null
}

function cardOf({ fix, price }: PricedFix, live: Candidate | undefined): Card {
  return {
    fix,
    cost: live
      ? `about ${count(Math.round(live.price.value))} lost in 30 days`
      : `met by ${count(price.met.base)} in the lens`,
    back: fix.status === 'verified' && fix.verified !== null && hasComeBack(fix.verified.met, reachOf(price)),
  }
}

/** How many met a problem, of all who could have. */
const reachOf = ({ met, others }: PriceAnswer) => rate(met.base, met.base + others.base)

/** What a problem costs now; where it does not stand out now, what it did when the fix was written down. */
function Price({ live, priced, most }: { live: Candidate | undefined; priced: Fix['priced']; most: number }) {
  if (live)
    return <PriceBar value={live.price.value} low={live.price.low} high={live.price.high} most={most} />
  return (
    <span className="text-ink-soft">
      {priced
        ? `not now; about ${count(Math.round(priced.value))} when written down`
        : 'no price in this lens'}
    </span>
  )
}

/** Conversions lost among those who met the problem, with what they are lost of. */
function Lost({ price }: { price: PriceAnswer | undefined }) {
  if (!price) return <>…</>
  const [low, high] = price.lostInterval
  return (
    <>
      <span className="block">
        {price.lost === null
          ? 'cannot tell'
          : `${decimal(price.lost)} (${decimal(low, 0)} to ${decimal(high, 0)})`}
      </span>
      <span className="block text-ink-soft">of {count(price.met.base)} who met it</span>
    </>
  )
}
