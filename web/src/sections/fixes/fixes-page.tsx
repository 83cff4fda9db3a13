import type { listFixes } from '@dust-trail/api'
import type { PriceAnswer } from '@dust-trail/core'
import { useNavigate } from 'react-router'
import type { z } from 'zod'
import { useFixes, useFixesThrough } from '../../api/queries.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { SideHead, useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, plural, rateText } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { describeSelection } from '../../words/sentences.ts'
import { FoundProblems } from './found.tsx'
import { PriceBar } from './price-bar.tsx'

type PricedFix = z.output<typeof listFixes.answer>[number]

/** Proposed changes, the costliest problem first. */
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
  const most = Math.max(1, ...(data ?? []).map(({ price }) => price.lostInterval[1]))
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
      head: 'Conversions lost, 95 % interval',
      cell: ({ price }) => <LostBar price={price} most={most} />,
      value: ({ price }) => price.lost,
      width: 256,
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
      <h1>Fixes</h1>
      <h2 className="mt-2">What costs most</h2>
      <FoundProblems />
      <h2>Proposed</h2>
      <p className="mb-2 text-ink-soft">
        {data &&
          data.length > 0 &&
          `${plural(data.length, 'fix', 'fixes')}. Those who met it beside all others who saw the page: a plain comparison, not a price.`}
      </p>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && <Loading />}
      {data && (
        <Settling
          stale={answer.isPlaceholderData}
          className="overflow-auto rounded-md border border-line bg-sheet"
        >
          {data.length ? (
            <DataTable
              name="fixes"
              rows={data}
              columns={columns}
              rowKey={({ fix }) => String(fix.id)}
              rowHeight={48}
              open={({ fix }) => void navigate(linkTo(`/fixes/${fix.id}`))}
            />
          ) : (
            <Empty title="No fixes yet">
              Open a leak or an element, look at what went wrong, and press “Propose a fix”.
            </Empty>
          )}
        </Settling>
      )}
    </div>
  )
}

function LostBar({ price: { lost, lostInterval }, most }: { price: PriceAnswer; most: number }) {
  if (lost === null) return <span className="text-ink-soft">cannot be priced here</span>
  return <PriceBar value={lost} low={lostInterval[0]} high={lostInterval[1]} most={most} digits={1} />
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
          : `${price.lost.toFixed(1)} (${low.toFixed(0)} to ${high.toFixed(0)})`}
      </span>
      <span className="block text-ink-soft">of {count(price.met.base)} who met it</span>
    </>
  )
}
