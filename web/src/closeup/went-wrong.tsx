import type { CloseUpResult } from '@dust-trail/core'
import { useSelection } from './use-selection.ts'
import { elementName } from './describe.ts'
import { AgainstEveryone, AllHead } from './who.tsx'
import { count, percent } from '../ui/format.ts'
import { Empty } from '../ui/states.tsx'

/** Signals that the selected met, by kind and element; technical faults told apart. */
export function WentWrong({ data, others }: { data: CloseUpResult; others?: string | undefined }) {
  const { setSelection } = useSelection()
  if (!data.troubles.length)
    return (
      <Empty title="Nothing that we detect went wrong">
        No rage clicks, dead clicks, errors or failed requests in these sessions.
      </Empty>
    )
  return (
    <table className="w-full" data-list>
      <thead>
        <tr>
          <th className="cell">Signal</th>
          <th className="cell">Element</th>
          <th className="cell">Page</th>
          <th className="cell">Nature</th>
          <th className="cell cell-n">Of these {count(data.size.hits)}</th>
          <AllHead others={others} data={data} />
          <th className="cell cell-n">Against the rest</th>
          <th className="cell">Is it more than noise?</th>
        </tr>
      </thead>
      <tbody>
        {data.troubles.map((row) => {
          const open = () =>
            setSelection({
              type: 'signal',
              kind: row.kind,
              page: row.page,
              selector: row.selector,
              text: row.text.slice(0, 80),
            })
          return (
            <tr
              key={`${row.kind}/${row.page}/${row.selector}`}
              data-row
              tabIndex={-1}
              onClick={open}
              onKeyDown={(event) => event.key === 'Enter' && open()}
            >
              <td className="cell">
                <button
                  type="button"
                  className="text-spruce hover:underline"
                  title="Open all sessions that met this"
                >
                  {row.kind}
                </button>
              </td>
              <td className="cell w-full max-w-0 truncate" title={row.selector}>
                {elementName(row.text, row.selector)}
              </td>
              <td className="cell">{row.page}</td>
              <td className="cell text-ink-soft">{row.technical ? 'technical' : 'usability'}</td>
              <td className="cell cell-n">
                {percent(row.selected.share)} · {count(row.selected.hits)}
              </td>
              <AgainstEveryone row={row} />
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
