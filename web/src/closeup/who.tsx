import type { Attribute, CloseUpResult, Contrast } from '@dust-trail/core'
import { count, percent, points } from '../ui/format.ts'
import { RateBar } from '../ui/rate-bar.tsx'

const NAMES: Record<Attribute, string> = {
  device: 'Device',
  channel: 'Channel',
  browser: 'Browser',
  system: 'System',
  country: 'Country',
  visit: 'Visit',
}
const MOST = 24

/** Attributes of the selected against everyone, or against others by name, largest differences first. */
export function Who({ data, others }: { data: CloseUpResult; others?: string | undefined }) {
  const compared = data.everyone > data.size.hits
  return (
    <table className="w-full max-w-5xl" data-list>
      <thead>
        <tr>
          <th className="cell">Attribute</th>
          <th className="cell">Value</th>
          <th className="cell cell-n">Of these {count(data.size.hits)}</th>
          <th className="cell w-40" aria-label="Share of these" />
          {compared && (
            <>
              <AllHead others={others} data={data} />
              <th className="cell cell-n">Against the rest</th>
              <th className="cell">Is it more than noise?</th>
            </>
          )}
        </tr>
      </thead>
      <tbody>
        {data.who.slice(0, MOST).map((row) => (
          <tr key={`${row.attribute}/${row.value}`}>
            <td className="cell text-ink-soft">{NAMES[row.attribute]}</td>
            <td className="cell font-semibold">{row.value}</td>
            <td className="cell cell-n">
              {percent(row.selected.share)} · {count(row.selected.hits)}
            </td>
            <td className="cell">
              <RateBar rate={row.selected} />
            </td>
            {compared && <AgainstEveryone row={row} />}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Heads the shares of all that the selected are held against, themselves included. */
export function AllHead({ others, data }: { others: string | undefined; data: CloseUpResult }) {
  const whose = others === undefined ? 'everyone' : `${others} and these`
  return (
    <th className="cell cell-n">
      <span className="inline-block max-w-72 truncate align-bottom" title={whose}>
        Of {whose}
      </span>
      , {count(data.everyone)}
    </th>
  )
}

/** Cells that set a row's share beside everyone's, and say whether the gap is more than noise. */
export function AgainstEveryone({ row }: { row: Contrast }) {
  return (
    <>
      <td className="cell cell-n">
        {percent(row.everyone.share)} · {count(row.everyone.hits)}
      </td>
      <td className="cell cell-n">{points(row.difference)}</td>
      <td className="cell text-ink-soft">{certainty(row)}</td>
    </>
  )
}

/** Whether a difference's 95 % interval leaves zero out, in words. */
function certainty({
  difference,
  interval: [low, high],
}: {
  difference: number | null
  interval: [number, number]
}): string {
  if (difference === null) return 'nobody to compare with'
  const range = `${points(low).replace(' pp', '')} to ${points(high)}`
  return low > 0 || high < 0 ? `yes: ${range}` : `cannot tell: ${range}`
}
