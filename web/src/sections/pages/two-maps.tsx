import type { ClickHeatAnswer, ClickSort, ElementChange, HeatElement } from '@dust-trail/core'
import { clickChanges } from '@dust-trail/core'
import { useEffect, useMemo, useState } from 'react'
import { useSnapshot } from '../../api/queries.ts'
import { useSite } from '../../app/lens.ts'
import { Swatch } from '../../lens/sides.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { pText, rangeText, verdictOf } from '../../ui/difference.tsx'
import { count, percent, points, rateText } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { CLICK_WORDS, elementName } from '../../words/selections.ts'
import { HeatPage } from './heat-page.tsx'
import { LinkedScroll } from './linked-scroll.ts'

interface Side {
  /** its place among those that lie side by side */
  at: number
  name: string
  heat: ClickHeatAnswer
}

interface Props {
  page: string
  which: ClickSort
  first: Side
  second: Side
  open: (selector: string) => void
  /** told how many clicks the darkest colour stands for, in clicks of the first side */
  peaked: (clicks: number) => void
}

/** One page as two sides clicked it, in the same colours, scrolled together; and what differs, beyond noise. */
export function TwoMaps({ page, which, first, second, open, peaked }: Props) {
  const [linked] = useState(() => new LinkedScroll())
  const [hovered, setHovered] = useState<string | null>(null)
  const [peaks, setPeaks] = useState<[number, number]>([0, 0])
  const setFirst = useMemo(() => (clicks: number) => setPeaks(([, other]) => [clicks, other]), [])
  const setSecond = useMemo(() => (clicks: number) => setPeaks(([other]) => [other, clicks]), [])
  // The same colour means the same number of clicks a session on both.
  const perSession = Math.max(
    first.heat.views ? peaks[0] / first.heat.views : 0,
    second.heat.views ? peaks[1] / second.heat.views : 0,
  )
  const darkestFirst = perSession * first.heat.views
  useEffect(() => peaked(darkestFirst), [peaked, darkestFirst])
  const changes = useMemo(() => clickChanges(first.heat, second.heat), [first.heat, second.heat])
  const sure = changes.filter(
    ({ difference, interval, p }) => verdictOf(difference, interval, p) !== 'cannot tell',
  )
  const [layer, setLayer] = useState<'two' | 'difference'>('two')
  const minus = useMemo(
    () => ({
      elements: first.heat.elements,
      viewers: first.heat.views,
      ownViewers: second.heat.views,
    }),
    [first.heat, second.heat],
  )
  const differenceWords = `amber to plum: more clicks for each session here; blue: more in “${first.name}”`
  const shared = { hovered, setHovered, open, linked, which }
  return (
    <div className="flex min-h-0 flex-1 border-t border-line">
      {layer === 'two' ? (
        <>
          <Map {...shared} {...first} darkest={darkestFirst} peaked={setFirst} />
          <Map {...shared} {...second} darkest={perSession * second.heat.views} peaked={setSecond} />
        </>
      ) : (
        <Map {...shared} {...second} minus={minus} note={differenceWords} peaked={ignore} />
      )}
      <aside
        aria-label="What differs"
        className="flex w-[430px] shrink-0 flex-col border-l border-line bg-sheet"
      >
        <div className="border-b border-line px-3 py-2">
          <RadioGroup
            label="Layer"
            value={layer}
            onChange={setLayer}
            options={[
              ['two', 'Two maps'],
              ['difference', 'Difference'],
            ]}
          />
        </div>
        <p className="border-b border-line px-3 py-2">
          {first.heat.views === 0 || second.heat.views === 0
            ? `Nobody saw ${page} on one of the sides.`
            : sure.length
              ? `${count(sure.length)} of ${count(changes.length)} elements are clicked more or less often, beyond noise.`
              : `None of ${count(changes.length)} elements is clicked more or less often, beyond noise.`}
        </p>
        <div className="min-h-0 flex-1 overflow-auto">
          <DataTable
            name="changed-elements"
            label="What differs"
            rows={changes}
            columns={columnsFor(first, second)}
            rowKey={({ selector }) => selector}
            open={({ selector }) => open(selector)}
            rowProps={({ selector }) => ({
              className: selector === hovered ? 'bg-ochre-soft' : '',
              onMouseEnter: () => setHovered(selector),
              onMouseLeave: () => setHovered(null),
            })}
          />
        </div>
        <p className="border-t border-line px-3 py-2 text-ink-soft">
          Of the sessions that saw the page. p corrected for the number of elements (Benjamini and Hochberg).
        </p>
      </aside>
    </div>
  )
}

const ignore = () => undefined

function columnsFor(first: Side, second: Side): DataColumn<ElementChange>[] {
  return [
    {
      id: 'element',
      head: 'Element',
      value: ({ text, selector }) => elementName(text, selector),
      title: ({ selector }) => selector,
      opens: true,
      least: 110,
    },
    ...([first, second] as const).map((side, k): DataColumn<ElementChange> => {
      const rateOf = (change: ElementChange) => (k ? change.second : change.first)
      return {
        id: k ? 'second' : 'first',
        head: (
          <span title={side.name}>
            <Swatch side={side.at} />
          </span>
        ),
        words: side.name,
        cell: (change) => percent(rateOf(change).share),
        value: (change) => rateOf(change).share,
        title: (change) => rateText(rateOf(change)),
        numeric: true,
        width: 84,
      }
    }),
    {
      id: 'difference',
      head: 'Difference',
      cell: ({ difference, interval, p }) =>
        `${points(difference)}${verdictOf(difference, interval, p) === 'cannot tell' ? ' ?' : ''}`,
      value: ({ difference }) => difference,
      title: ({ difference, interval, p }) =>
        difference === null ? 'nobody to compare with' : `${rangeText(interval)}, p ${pText(p)}`,
      numeric: true,
      width: 96,
    },
  ]
}

function Map({
  at,
  name,
  heat,
  which,
  hovered,
  setHovered,
  open,
  linked,
  darkest,
  peaked,
  minus,
  note,
}: Side & {
  which: ClickSort
  hovered: string | null
  setHovered: (selector: string | null) => void
  open: (selector: string) => void
  linked: LinkedScroll
  darkest?: number
  peaked: (clicks: number) => void
  minus?: { elements: readonly HeatElement[]; viewers: number; ownViewers: number }
  note?: string
}) {
  const snapshot = useSnapshot(useSite().key, heat.snapshot?.hash)
  return (
    <section aria-label={name} className="flex min-w-0 flex-1 flex-col border-r border-line">
      <p className="flex items-center gap-2 truncate px-3 py-1.5">
        <Swatch side={at} />
        <span className="truncate" title={name}>
          {name}
        </span>
        <span className="shrink-0 text-ink-soft">
          {rateText(heat.clickers)}, {count(heat.clicks)} {CLICK_WORDS[which]}
        </span>
        {note && (
          <span className="truncate text-ink-soft" title={note}>
            {note}
          </span>
        )}
      </p>
      <div className="min-h-0 flex-1">
        {snapshot.error ? (
          <Failure error={snapshot.error} />
        ) : snapshot.data ? (
          <HeatPage
            snapshot={snapshot.data}
            elements={heat.elements}
            {...{ hovered, setHovered, open, peaked, linked, darkest, minus }}
          />
        ) : heat.snapshot ? (
          <Loading label="Loading the page" />
        ) : (
          <Empty title={heat.views ? 'This page was not recorded' : 'Nobody saw this page'}>
            {heat.views ? 'What differs is listed beside.' : 'Choose another side.'}
          </Empty>
        )}
      </div>
    </section>
  )
}
