import type { FrictionAnswer, FrictionSpot } from '@dust-trail/core'
import { useSelection } from '../../closeup/use-selection.ts'
import { useSite } from '../../app/lens.ts'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { verdictOf } from '../../ui/difference.tsx'
import { count, dayIn, decimal, moment, percent, plural, points } from '../../ui/format.ts'
import { Sparkline } from '../../ui/sparkline.tsx'
import { atEvent, elementName } from '../../words/selections.ts'

/** Opens in the close-up whom a spot met. */
export function useOpenSpot(): (spot: FrictionSpot) => void {
  const { setSelection } = useSelection()
  return ({ kind, own, page, selector, text }) =>
    setSelection(
      own === null
        ? { type: 'signal', kind, page, selector, text: text.slice(0, 80) }
        : atEvent(`${own}, ${page}`, {
            action: own,
            page: { is: 'equal', to: page },
            element: { is: 'equal', to: selector },
          }),
    )
}

/** One text for a spot, different from that of any other. */
export const spotKey = ({ kind, own, page, selector }: FrictionSpot) =>
  [own ?? kind, page, selector].join('/')

/** The first columns of every list of spots: what, where. */
export function spotColumns<Row>(of: (row: Row) => FrictionSpot): DataColumn<Row>[] {
  return [
    { id: 'signal', head: 'Signal', value: (row) => of(row).own ?? of(row).kind, opens: true, width: 122 },
    {
      id: 'element',
      head: 'Element or message',
      value: (row) => elementName(of(row).text, of(row).selector),
      title: (row) => of(row).selector,
      least: 150,
    },
    { id: 'page', head: 'Page', value: (row) => of(row).page, width: 150 },
  ]
}

/** The share of the sessions of a part of the trend, counted from its end where it is negative, that met a spot. */
function shareIn(trend: readonly number[], parts: FrictionAnswer['parts'], part: number): number {
  const of = parts.at(part)?.sessions
  return of ? trend.at(part)! / of : 0
}

/** Every spot at which something went wrong, those met by most first. */
export function HotSpots({
  spots,
  answer: { sessions, parts },
}: {
  spots: readonly FrictionSpot[]
  answer: FrictionAnswer
}) {
  const site = useSite()
  const open = useOpenSpot()
  const columns: DataColumn<FrictionSpot>[] = [
    ...spotColumns<FrictionSpot>((spot) => spot),
    {
      id: 'nature',
      head: 'Nature',
      value: ({ technical }) => (technical ? 'technical' : 'usability'),
      className: 'text-ink-soft',
      width: 88,
      folds: 5,
    },
    { id: 'sessions', head: 'Sessions', value: ({ met }) => met.hits, numeric: true, width: 84 },
    {
      id: 'share',
      head: `Of ${count(sessions)}`,
      cell: ({ met }) => percent(met.share),
      value: ({ met }) => met.share,
      numeric: true,
      width: 88,
    },
    {
      id: 'trend',
      head: 'Trend',
      cell: ({ trend }) => (
        <Sparkline
          values={trend.map((n, k) => (parts[k]!.sessions ? n / parts[k]!.sessions : null))}
          titles={parts.map(
            ({ startMs, sessions: of }, k) =>
              `from ${dayIn(startMs, site.timeZone)}: ${count(trend[k]!)} of ${plural(of, 'session')}, ${percent(of ? trend[k]! / of : null)}`,
          )}
        />
      ),
      value: ({ trend }) => shareIn(trend, parts, -1) - shareIn(trend, parts, 0),
      title: () => 'Share of the sessions that met it, over the days of the lens',
      width: 96,
      folds: 2,
    },
    {
      id: 'visitors',
      head: 'Visitors',
      value: ({ visitors }) => visitors,
      numeric: true,
      width: 80,
      folds: 4,
    },
    {
      id: 'per views',
      head: 'Per 1,000 views',
      cell: ({ perThousandViews, views }) =>
        perThousandViews === null ? '–' : `${decimal(perThousandViews)} · ${count(views)} views`,
      value: ({ perThousandViews }) => perThousandViews,
      title: ({ times, views }) => `${count(times)} times on ${count(views)} views of the page`,
      numeric: true,
      width: 150,
      folds: 2,
    },
    {
      id: 'converted',
      head: 'Converted after',
      cell: ({ converted, others }) => `${percent(converted.share)} · others ${percent(others.share)}`,
      value: ({ converted }) => converted.share,
      title: ({ converted, others, difference, interval }) =>
        `${count(converted.hits)} of ${count(converted.base)} who met it, ${count(others.hits)} of ${count(others.base)} who viewed the page and did not: ${points(difference)}, ${verdictOf(difference, interval)}`,
      numeric: true,
      width: 176,
      folds: 3,
    },
    {
      id: 'last',
      head: 'Last',
      cell: ({ lastMs }) => moment(lastMs, site.timeZone),
      value: ({ lastMs }) => lastMs,
      title: ({ firstMs }) => `first ${moment(firstMs, site.timeZone)} within the lens`,
      numeric: true,
      width: 112,
      folds: 1,
    },
  ]
  return (
    <div className="overflow-auto rounded-md border border-line bg-sheet">
      <DataTable
        name="hot-spots"
        label="Hot spots"
        rows={spots}
        columns={columns}
        rowKey={spotKey}
        openTitle="Open all sessions that met this"
        open={open}
      />
    </div>
  )
}
