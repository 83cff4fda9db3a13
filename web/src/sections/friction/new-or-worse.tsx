import type { WorseSpot } from '@dust-trail/core'
import { useSite } from '../../app/lens.ts'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { rangeText } from '../../ui/difference.tsx'
import { count, dayIn, percent, plural, points } from '../../ui/format.ts'
import { spotColumns, spotKey, useOpenSpot } from './hot-spots.tsx'

/** More would be a wall of numbers; all spots are listed below. */
const SHOWN = 8

/** What is met by more than in the days before, beyond noise. */
export function NewOrWorse({
  worse,
  days,
  sessionsBefore,
}: {
  worse: readonly WorseSpot[]
  days: string
  sessionsBefore: number
}) {
  const site = useSite()
  const openSpot = useOpenSpot()
  const columns: DataColumn<WorseSpot>[] = [
    ...spotColumns<WorseSpot>(({ spot }) => spot),
    {
      id: 'now',
      head: 'Sessions now',
      cell: ({ spot: { met } }) => `${count(met.hits)} of ${count(met.base)}, ${percent(met.share)}`,
      value: ({ spot }) => spot.met.share,
      numeric: true,
      width: 172,
    },
    {
      id: 'before',
      head: 'Before',
      cell: ({ isNew, before, spot }) =>
        isNew
          ? `new since ${dayIn(spot.firstMs, site.timeZone)}`
          : `${count(before.hits)}, ${percent(before.share)}`,
      value: ({ before }) => before.share,
      numeric: true,
      width: 132,
    },
    {
      id: 'more',
      head: 'More',
      cell: ({ difference, interval }) => `${points(difference)} (${rangeText(interval)})`,
      value: ({ difference }) => difference,
      numeric: true,
      width: 214,
      folds: 1,
    },
  ]
  return (
    <section aria-label="New or worse">
      <h2>New or worse than {days}</h2>
      {sessionsBefore === 0 ? (
        <p className="text-ink-soft">There are no sessions in these days to compare with.</p>
      ) : worse.length === 0 ? (
        <p className="text-ink-soft">
          Nothing is met by more than in these days ({plural(sessionsBefore, 'session')}), beyond noise.
        </p>
      ) : (
        <>
          <p className="mb-1 text-ink-soft">
            {plural(worse.length, 'spot')} met by a larger share than among the{' '}
            {plural(sessionsBefore, 'session')} of these days
            {worse.length > SHOWN && `; the ${SHOWN} that rose most`}. Corrected for the number of spots.
          </p>
          <div className="overflow-auto rounded-md border border-line bg-sheet">
            <DataTable
              name="worse-spots"
              label="New or worse"
              rows={worse.slice(0, SHOWN)}
              columns={columns}
              rowKey={({ spot }) => spotKey(spot)}
              openTitle="Open all sessions that met this"
              open={({ spot }) => openSpot(spot)}
            />
          </div>
        </>
      )}
    </section>
  )
}
