import type { PriceResult } from '@dust-trail/core'
import { useNavigate, useSearchParams } from 'react-router'
import { useFixes, useFixesThrough } from '../../api/queries.ts'
import { keepLens, useLens, useSite } from '../../app/lens.ts'
import { describeSelection } from '../../closeup/describe.ts'
import { SideHead, useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import { count, plural, rateText } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'

/** Proposed changes, the costliest problem first. */
export function FixesPage() {
  const site = useSite()
  const { lens } = useLens()
  const [parameters] = useSearchParams()
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
  return (
    <div className="px-5 py-3">
      <h1>Fixes</h1>
      <p className="mb-3 text-ink-soft">
        Which change comes first?
        {data &&
          data.length > 0 &&
          ` ${plural(data.length, 'fix', 'fixes')}, ordered by conversions lost in this lens.`}
      </p>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && <Loading />}
      {data && (
        <Settling
          stale={answer.isPlaceholderData}
          className="overflow-auto rounded-md border border-line bg-sheet"
        >
          {data.length ? (
            <table
              className="w-full table-fixed"
              style={{ minWidth: `${46 + 11 * others.length}rem` }}
              data-list
            >
              <thead>
                <tr>
                  <th className="cell">Fix</th>
                  <th className="cell w-64">Conversions lost, 95 % interval</th>
                  {others.map(({ name }, k) => (
                    <th key={k} className="cell cell-n w-44">
                      <SideHead side={k + 1} name={name} />
                    </th>
                  ))}
                  <th className="cell cell-n w-32">Met it</th>
                  <th className="cell cell-n w-32">Others</th>
                </tr>
              </thead>
              <tbody>
                {data.map(({ fix, price }) => {
                  const open = () => void navigate(keepLens(`/fixes/${fix.id}`, parameters))
                  const [low, high] = price.lostInterval
                  const at = (value: number) => `${(Math.min(most, Math.max(0, value)) / most) * 100}%`
                  return (
                    <tr
                      key={fix.id}
                      data-row
                      tabIndex={-1}
                      onClick={open}
                      onKeyDown={(event) => event.key === 'Enter' && open()}
                    >
                      <td
                        className="cell h-12 truncate"
                        title={`${fix.title}\n${describeSelection(fix.selection)}`}
                      >
                        <button
                          type="button"
                          className="block max-w-full truncate text-left text-spruce hover:underline"
                        >
                          {fix.title}
                        </button>
                        <span className="block truncate text-ink-soft">
                          {fix.status} · {fix.effort} of work
                        </span>
                      </td>
                      <td className="cell">
                        {price.lost === null ? (
                          <span className="text-ink-soft">cannot be priced here</span>
                        ) : (
                          <span className="grid grid-cols-[1fr_110px] items-center gap-2">
                            <span className="relative block h-2.5 bg-line">
                              <span
                                className="absolute inset-y-0 bg-clay-soft"
                                style={{ left: at(low), width: `calc(${at(high)} - ${at(low)})` }}
                              />
                              <span
                                className="absolute inset-y-0 w-0.5 bg-clay"
                                style={{ left: at(price.lost) }}
                              />
                            </span>
                            <span>
                              {price.lost.toFixed(1)}{' '}
                              <span className="text-ink-soft">
                                ({low.toFixed(0)} to {high.toFixed(0)})
                              </span>
                            </span>
                          </span>
                        )}
                      </td>
                      {others.map((_, k) => (
                        <td key={k} className="cell cell-n">
                          <Lost price={beside[k]?.data?.find((one) => one.fix.id === fix.id)?.price} />
                        </td>
                      ))}
                      <td className="cell cell-n">{rateText(price.met)}</td>
                      <td className="cell cell-n">{rateText(price.others)}</td>
                    </tr>
                  )
                })}
              </tbody>
            </table>
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

/** Conversions lost among those who met the problem, with what they are lost of. */
function Lost({ price }: { price: PriceResult | undefined }) {
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
