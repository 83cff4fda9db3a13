import type { Catalogue } from '@dust-trail/api'
import type { Rate } from '@dust-trail/core'
import { rate } from '@dust-trail/core'
import { useNavigate, useSearchParams } from 'react-router'
import { useCatalogue, useCataloguesThrough } from '../../api/queries.ts'
import { keepLens, useLens, useSite } from '../../app/lens.ts'
import { SideHead, SideRate, useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import { count, percent } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { HeatMap } from './heat-map.tsx'

/** The pages of the site; one of them as a click heat map. */
export function PagesPage() {
  const [parameters] = useSearchParams()
  const page = parameters.get('page')
  return page ? <HeatMap key={page} page={page} /> : <PageTable />
}

function PageTable() {
  const site = useSite()
  const { lens } = useLens()
  const [parameters] = useSearchParams()
  const navigate = useNavigate()
  const answer = useCatalogue(site.key, lens)
  useView({ words: 'All sessions in the lens', question: { lens, selection: { type: 'everyone' } } })
  const { sides } = useSides()
  const others = sides.slice(1)
  const beside = useCataloguesThrough(
    site.key,
    others.map((side) => side.lens),
  )
  const { data } = answer
  return (
    <div className="px-5 py-3">
      <h1>Pages</h1>
      <p className="mb-3 text-ink-soft">
        Which pages do visitors see, and where do they click?
        {data && ` ${count(data.sessions)} sessions in the lens.`}
      </p>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {answer.isPending && <Loading />}
      {data && (
        <Settling
          stale={answer.isPlaceholderData}
          className="overflow-auto rounded-md border border-line bg-sheet"
        >
          {data.pages.length ? (
            <table className="w-full" data-list>
              <thead>
                <tr>
                  <th className="cell">Page</th>
                  <th className="cell">Address</th>
                  <th className="cell cell-n">Sessions</th>
                  <th className="cell cell-n">Of all {count(data.sessions)}</th>
                  {others.map(({ name }, k) => (
                    <th key={k} className="cell cell-n">
                      <SideHead side={k + 1} name={name} base={beside[k]?.data?.sessions} />
                    </th>
                  ))}
                  <th className="cell cell-n">Clicks</th>
                  <th className="cell cell-n">Clicks a session</th>
                </tr>
              </thead>
              <tbody>
                {data.pages.map(({ page, pattern, sessions, clicks }) => {
                  const open = () => void navigate(keepLens('/pages', parameters, { page }))
                  return (
                    <tr
                      key={page}
                      data-row
                      tabIndex={-1}
                      onClick={open}
                      onKeyDown={(event) => event.key === 'Enter' && open()}
                    >
                      <td className="cell max-w-96 truncate">
                        <button type="button" className="text-spruce hover:underline" title={page}>
                          {page}
                        </button>
                      </td>
                      <td className="cell max-w-80 truncate font-mono text-xs text-ink-soft">{pattern}</td>
                      <td className="cell cell-n">{count(sessions)}</td>
                      <td className="cell cell-n">
                        {percent(data.sessions ? sessions / data.sessions : null)}
                      </td>
                      {others.map((side, k) => (
                        <td key={k} className="cell cell-n">
                          <SideRate
                            rate={shareOf(beside[k]?.data, page)}
                            first={rate(sessions, data.sessions)}
                            side={side}
                            of={{ type: 'page', page }}
                          />
                        </td>
                      ))}
                      <td className="cell cell-n">{count(clicks)}</td>
                      <td className="cell cell-n">{sessions ? (clicks / sessions).toFixed(1) : '–'}</td>
                    </tr>
                  )
                })}
              </tbody>
            </table>
          ) : (
            <Empty title="No pages in the lens">Choose other dates, or take the device filter away.</Empty>
          )}
        </Settling>
      )}
    </div>
  )
}

/** How many of a catalogue's sessions saw a page. */
function shareOf(known: Catalogue | undefined, page: string): Rate | undefined {
  return known && rate(known.pages.find((one) => one.page === page)?.sessions ?? 0, known.sessions)
}
