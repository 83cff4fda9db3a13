import type { ClickHeatResult, ClickSort } from '@dust-trail/core'
import { rate } from '@dust-trail/core'
import { clsx } from 'clsx'
import { useEffect, useRef } from 'react'
import { elementName } from '../../closeup/describe.ts'
import type { Side } from '../../lens/sides.tsx'
import { SideHead, SideRate } from '../../lens/sides.tsx'
import { count, percent } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'

interface Props {
  heat: ClickHeatResult & { snapshot: { sessions: number; of: number } | null }
  /** the same clicks by those that lie beside the lens */
  beside: { side: Side; heat: ClickHeatResult | undefined }[]
  page: string
  which: ClickSort
  snapshotWidth: number | undefined
  hovered: string | null
  chosen: string | null
  setHovered: (selector: string | null) => void
  open: (selector: string) => void
}

/** The clicked elements, most clicked first; linked with the page both ways. */
export function ElementList({
  heat,
  beside,
  page,
  which,
  snapshotWidth,
  hovered,
  chosen,
  setHovered,
  open,
}: Props) {
  const rows = useRef(new Map<string, HTMLTableRowElement>())
  useEffect(() => {
    if (hovered) rows.current.get(hovered)?.scrollIntoView({ block: 'nearest' })
  }, [hovered])
  return (
    <aside
      aria-label="Elements"
      className="flex shrink-0 flex-col border-l border-line bg-sheet"
      style={{ width: 430 + 168 * Math.min(2, beside.length) }}
    >
      <div className="min-h-0 flex-1 overflow-auto">
        {heat.elements.length ? (
          <table className="w-full table-fixed" data-list>
            <thead>
              <tr>
                <th className="cell">Element</th>
                <th className="cell cell-n w-[68px]">Clicks</th>
                <th className="cell cell-n w-[84px]">Of {count(heat.viewers)}</th>
                {beside.map(({ side, heat: own }, k) => (
                  <th key={k} className="cell cell-n w-[168px]">
                    <SideHead side={k + 1} name={side.name} base={own?.viewers} />
                  </th>
                ))}
                {which !== 'dead' && <th className="cell cell-n w-[54px]">Rage</th>}
                {which !== 'rage' && <th className="cell cell-n w-[54px]">Dead</th>}
              </tr>
            </thead>
            <tbody>
              {heat.elements.map((element) => (
                <tr
                  key={element.selector}
                  ref={(row) => {
                    if (row) rows.current.set(element.selector, row)
                    else rows.current.delete(element.selector)
                  }}
                  data-row
                  tabIndex={-1}
                  className={clsx(
                    (element.selector === hovered || element.selector === chosen) && 'bg-ochre-soft',
                  )}
                  onMouseEnter={() => setHovered(element.selector)}
                  onMouseLeave={() => setHovered(null)}
                  onFocus={() => setHovered(element.selector)}
                  onClick={() => open(element.selector)}
                  onKeyDown={(event) => event.key === 'Enter' && open(element.selector)}
                >
                  <td className="cell truncate" title={element.selector}>
                    <button
                      type="button"
                      className="max-w-full truncate text-left text-spruce hover:underline"
                    >
                      {elementName(element.text, element.selector)}
                      {element.texts > 1 && ` and ${element.texts - 1} more`}
                    </button>
                  </td>
                  <td className="cell cell-n">{count(element.clicks)}</td>
                  <td
                    className="cell cell-n"
                    title={`${count(element.rate.hits)} of ${count(element.rate.base)} sessions that saw the page`}
                  >
                    {percent(element.rate.share)}
                  </td>
                  {beside.map(({ side, heat: own }, k) => (
                    <td key={k} className="cell cell-n">
                      <SideRate
                        rate={
                          own &&
                          (own.elements.find(({ selector }) => selector === element.selector)?.rate ??
                            rate(0, own.viewers))
                        }
                        first={element.rate}
                        side={side}
                        of={{ type: 'clicks', page, which, selector: element.selector }}
                      />
                    </td>
                  ))}
                  {which !== 'dead' && (
                    <td className={clsx('cell cell-n', element.rage > 0 && 'text-clay')}>
                      {count(element.rage)}
                    </td>
                  )}
                  {which !== 'rage' && (
                    <td className={clsx('cell cell-n', element.dead > 0 && 'text-clay')}>
                      {count(element.dead)}
                    </td>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        ) : (
          <Empty title="No such clicks">Nobody in the lens clicked in this way here.</Empty>
        )}
      </div>
      {heat.snapshot && (
        <p className="border-t border-line px-3 py-2 text-ink-soft">
          Shown on the page as {count(heat.snapshot.sessions)} of the {count(heat.snapshot.of)} latest
          sessions saw it
          {snapshotWidth !== undefined && `, ${snapshotWidth} px wide`}; clicks at other widths stand at their
          place in the same element. Choose a device above to see one alone.
        </p>
      )}
    </aside>
  )
}
