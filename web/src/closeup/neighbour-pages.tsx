import type { CloseUpAnswer } from '@dust-trail/core'
import { count, percent } from '../ui/format.ts'
import { LinkButton } from '../ui/link-button.tsx'
import { RateBar } from '../ui/rate-bar.tsx'
import { Empty } from '../ui/states.tsx'
import { useSelection } from './use-selection.ts'

/** The pages before and after the moment. */
export function WentWhere({ data }: { data: CloseUpAnswer }) {
  if (!data.next.length && !data.previous.length)
    return <Empty title="This selection has no moment">So there is no before and after.</Empty>
  return (
    <div className="grid grid-cols-2 gap-6 px-4 py-2">
      <Pages title="Came from" none="entered the site here" rows={data.previous} />
      <Pages title="Went to next" none="left the site" rows={data.next} />
    </div>
  )
}

function Pages({ title, none, rows }: { title: string; none: string; rows: CloseUpAnswer['next'] }) {
  const { setSelection } = useSelection()
  return (
    <div>
      <h2 className="mb-1">{title}</h2>
      <ul data-list>
        {rows.map(({ page, rate }) => (
          <li
            key={page ?? ''}
            className="grid h-8 grid-cols-[minmax(0,1fr)_120px_110px] items-center gap-3 border-t border-line"
          >
            {page === null ? (
              <span className="truncate italic">{none}</span>
            ) : (
              <LinkButton
                data-row

                title={`Everyone who saw ${page}`}
                onClick={() => setSelection({ type: 'page', page })}
              >
                {page}
              </LinkButton>
            )}
            <RateBar rate={rate} tone={page === null ? 'clay' : 'spruce'} />
            <span className="text-right">
              {percent(rate.share)} · {count(rate.hits)}
            </span>
          </li>
        ))}
      </ul>
    </div>
  )
}
