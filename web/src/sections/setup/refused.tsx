import type { Refusal } from '@dust-trail/api'
import { listRefusals } from '@dust-trail/api'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../app/lens.ts'
import { DataTable } from '../../ui/data-table.tsx'
import { moment, plural } from '../../ui/format.ts'

const KINDS: Record<Refusal['what'], string> = {
  batch: 'a batch was refused',
  line: 'a line was left out',
  recording: 'a part of a recording was left out',
  time: 'a line was put aside',
  budget: 'a budget was met',
}

/** What arrived and could not be taken, and why: nothing is left out without a word. */
export function Refused() {
  const site = useSite()
  const { data = [] } = useEndpoint(listRefusals, { site: site.key }, undefined)
  const total = data.reduce((sum, { n }) => sum + n, 0)
  return (
    <section aria-label="What could not be taken">
      <h2 className="mb-1">What could not be taken</h2>
      {total === 0 ? (
        <p className="text-ink-soft">Everything that arrived was taken.</p>
      ) : (
        <>
          <p className="mb-2">
            {plural(total, 'time')} something that arrived was left out. All else of the same visitors was
            taken.
          </p>
          <DataTable
            name="refusals"
            label="What could not be taken"
            rows={data}
            rowKey={({ what, reason }) => `${what} ${reason}`}
            columns={[
              { id: 'what', head: 'What happened', value: ({ what }) => KINDS[what], width: 230 },
              { id: 'reason', head: 'Why', value: ({ reason }) => reason, least: 220 },
              { id: 'n', head: 'How often', numeric: true, value: ({ n }) => n, width: 100 },
              {
                id: 'last',
                head: 'Last',
                value: ({ lastMs }) => lastMs,
                cell: ({ lastMs }) => moment(lastMs, site.timeZone),
                width: 150,
              },
            ]}
          />
        </>
      )}
    </section>
  )
}
