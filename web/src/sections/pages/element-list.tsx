import type { ClickHeatAnswer, ClickSort, HeatElement } from '@dust-trail/core'
import { rate } from '@dust-trail/core'
import { clsx } from 'clsx'
import { useEffect, useRef } from 'react'
import type { Side } from '../../lens/sides.tsx'
import { SideHead, SideRate } from '../../lens/sides.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, percent } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'
import { ACT_HEADS, elementName } from '../../words/selections.ts'

interface Props {
  heat: ClickHeatAnswer
  /** the same clicks by those that lie beside the lens */
  beside: { side: Side; heat: ClickHeatAnswer | undefined }[]
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
  const friction = (kind: 'rage' | 'dead', head: string): DataColumn<HeatElement> => ({
    id: kind,
    head,
    cell: (element) => count(element[kind]),
    value: (element) => element[kind],
    numeric: true,
    className: (element) => element[kind] > 0 && 'text-clay',
    width: 58,
  })
  const act = ACT_HEADS[which]
  const columns: DataColumn<HeatElement>[] = [
    {
      id: 'element',
      head: 'Element',
      cell: ({ text, texts, selector }) =>
        `${elementName(text, selector)}${texts > 1 ? ` and ${texts - 1} more` : ''}`,
      value: ({ text, selector }) => elementName(text, selector),
      title: ({ selector }) => selector,
      opens: true,
      width: 130,
    },
    { id: 'clicks', head: act ?? 'Clicks', value: ({ clicks }) => clicks, numeric: true, width: 70 },
    {
      id: 'share',
      head: `Of ${count(heat.viewers)}`,
      cell: ({ rate: of }) => percent(of.share),
      value: ({ rate: of }) => of.share,
      title: ({ rate: of }) => `${count(of.hits)} of ${count(of.base)} sessions that saw the page`,
      numeric: true,
      width: 86,
    },
    {
      id: 'converted',
      head: 'Goal after',
      cell: ({ converted }) => percent(converted.share),
      value: ({ converted }) => converted.share,
      title: ({ converted }) =>
        `${count(converted.hits)} of ${count(converted.base)} sessions ${act ? 'of which that is told' : 'that clicked it'} reached the goal afterwards`,
      numeric: true,
      width: 92,
      folds: 2,
    },
    {
      id: 'next',
      head: 'Then saw',
      cell: ({ next }) => (next[0] ? (next[0].page ?? 'nothing further') : '–'),
      value: ({ next }) => next[0]?.page ?? '',
      title: ({ next, rate: of }) =>
        next
          .map(
            ({ page: to, sessions }) =>
              `${to ?? 'nothing further'}: ${count(sessions)} of ${count(of.hits)} sessions`,
          )
          .join('\n'),
      width: 120,
      folds: 3,
    },
    ...beside.map(({ side, heat: other }, k): DataColumn<HeatElement> => {
      const rateOf = ({ selector }: HeatElement) =>
        other && (other.elements.find((one) => one.selector === selector)?.rate ?? rate(0, other.viewers))
      return {
        id: `beside ${k + 1}`,
        head: <SideHead side={k + 1} name={side.name} base={other?.viewers} />,
        words: side.name,
        cell: (element) => (
          <SideRate
            rate={rateOf(element)}
            first={element.rate}
            side={side}
            of={{ type: 'clicks', page, which, selector: element.selector }}
          />
        ),
        value: (element) => rateOf(element)?.share ?? null,
        numeric: true,
        width: 168,
      }
    }),
    ...(which !== 'dead' && !act ? [friction('rage', 'Rage')] : []),
    ...(which !== 'rage' && !act ? [friction('dead', 'Dead')] : []),
  ]
  return (
    <aside
      aria-label="Elements"
      className="flex shrink-0 flex-col border-l border-line bg-sheet"
      style={{ width: 510 + 168 * Math.min(2, beside.length) }}
    >
      <div className="min-h-0 flex-1 overflow-auto">
        {heat.elements.length ? (
          <DataTable
            name="elements"
            rows={heat.elements}
            columns={columns}
            rowKey={({ selector }) => selector}
            open={({ selector }) => open(selector)}
            rowProps={({ selector }) => ({
              ref: (row: HTMLTableRowElement | null) => {
                if (row) rows.current.set(selector, row)
                else rows.current.delete(selector)
              },
              className: clsx((selector === hovered || selector === chosen) && 'bg-ochre-soft'),
              onMouseEnter: () => setHovered(selector),
              onMouseLeave: () => setHovered(null),
              onFocus: () => setHovered(selector),
            })}
          />
        ) : (
          <Empty title={act ? `No ${act.toLowerCase()} are told` : 'No such clicks'}>
            {act
              ? 'There were none in the lens, or its data do not tell them: imports mostly do not.'
              : 'Nobody in the lens clicked in this way here.'}
          </Empty>
        )}
      </div>
      {heat.snapshot && (
        <p className="border-t border-line px-3 py-2 text-ink-soft">
          Shown on the page as {count(heat.snapshot.sessions)} of the {count(heat.snapshot.of)} latest
          sessions saw it
          {snapshotWidth !== undefined && `, ${snapshotWidth} px wide`}; what was done at other widths stands
          at its place in the same element. Choose a device above to see one alone.
        </p>
      )}
    </aside>
  )
}
