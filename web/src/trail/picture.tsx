import type { Picture, PictureColumn, Shown } from '@dust-trail/api'
import { clsx } from 'clsx'
import { useSite } from '../app/lens.ts'
import { day, plural, rateText } from '../ui/format.ts'
import { Sparkline } from '../ui/sparkline.tsx'
import { cellText } from './kept-table.ts'

/** In the narrow dock there is room for so much of a table: what a row is, and its first number. */
const IN_SHORT = { rows: 3, texts: 2, numbers: 1 }

/** What a mark shows besides its number; nothing where that is all. `short`: as a thumbnail. */
export function PictureView({
  shows,
  picture,
  short = false,
}: {
  shows: Shown
  picture: Picture
  short?: boolean
}) {
  const { timeZone } = useSite()
  if (picture?.form === 'trend') {
    // Of a selection that means everybody the share says nothing: how many there were does.
    const isAll = picture.parts.every(({ rate }) => rate.hits === rate.base)
    const parts = picture.parts.map(({ from, to, rate }) => ({
      value: isAll ? rate.hits : rate.share,
      days: `${day(from)}${to === from ? '' : ` – ${day(to)}`}`,
      says: isAll ? plural(rate.hits, 'session') : rateText(rate),
    }))
    const last = parts.at(-1)
    return (
      <figure>
        <Sparkline
          wide={!short}
          tone="spruce"
          values={parts.map(({ value }) => value)}
          titles={parts.map(({ days, says }) => `${days}: ${says}`)}
        />
        {last && parts.length > 1 && (
          <figcaption className="flex justify-between gap-2 text-xs whitespace-nowrap text-ink-soft">
            <span>{parts[0]!.days}</span>
            <span className="truncate">
              {last.days}
              {!short && `: ${last.says}`}
            </span>
          </figcaption>
        )}
      </figure>
    )
  }
  if (picture?.form !== 'table' || shows.form !== 'table') return null
  const all = shows.columns.map((column, at) => ({ ...column, at }))
  const columns = short ? shortened(all) : all
  const rows = picture.rows.slice(0, short ? IN_SHORT.rows : undefined)
  const more = picture.more + picture.rows.length - rows.length
  return (
    <table className="w-full table-fixed text-xs">
      <caption className="truncate text-left text-ink-soft">
        {shows.title}
        {more > 0 && `, first ${rows.length} of ${picture.rows.length + picture.more}`}
      </caption>
      <colgroup>
        {columns.map(({ of, as }) => (
          <col key={of} className={as === 'text' ? '' : 'w-[4.75rem]'} />
        ))}
      </colgroup>
      {!short && (
        <thead>
          <tr>
            {columns.map(({ of, head, as }, k) => (
              <th
                key={of}
                title={head}
                className={clsx('truncate py-0.5 pr-2 font-normal text-ink-soft', alignOf(as, k))}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
      )}
      <tbody>
        {rows.length === 0 && (
          <tr>
            <td className="text-ink-soft">No row.</td>
          </tr>
        )}
        {rows.map((row, r) => (
          <tr key={r} className="border-t border-line">
            {columns.map(({ of, as, at }, k) => {
              const text = cellText(row[at] ?? null, as, timeZone)
              return (
                <td key={of} title={text} className={clsx('truncate py-0.5 pr-2', alignOf(as, k))}>
                  {text}
                </td>
              )
            })}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function shortened<T extends PictureColumn>(columns: readonly T[]): T[] {
  return [
    ...columns.filter(({ as }) => as === 'text').slice(0, IN_SHORT.texts),
    ...columns.filter(({ as }) => as !== 'text').slice(0, IN_SHORT.numbers),
  ]
}

const alignOf = (as: string, column: number) => (as === 'text' ? 'text-left' : column ? 'text-right' : '')
