import type { AuditLine } from '@dust-trail/api'
import { listAudit } from '@dust-trail/api'
import { useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useMe } from '../../api/use-me.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { moment } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

/** Who changed what on this site, when and from where. */
export function SiteAudit() {
  const site = useSite()
  const isOwner = useMe().data?.roles[site.key] === 'owner'
  const [open, setOpen] = useState(false)
  const { data, error } = useEndpoint(listAudit, { site: site.key }, undefined, { enabled: isOwner && open })
  if (!isOwner) return null
  const columns: DataColumn<AuditLine>[] = [
    {
      id: 'when',
      head: 'When',
      cell: ({ atMs }) => moment(atMs, site.timeZone),
      value: ({ atMs }) => atMs,
      width: 124,
    },
    { id: 'who', head: 'Who', value: ({ who }) => who, least: 160 },
    { id: 'what', head: 'What', value: ({ what }) => what, width: 150 },
    { id: 'path', head: 'At', value: ({ path }) => path, className: 'font-mono text-xs', folds: 1 },
    { id: 'from', head: 'From', value: ({ from }) => from, width: 120, folds: 2 },
  ]
  return (
    <section aria-label="Who changed what" className="space-y-2">
      <h2>Who changed what</h2>
      {!open && <Button onClick={() => setOpen(true)}>Show</Button>}
      {error && <Failure error={error} />}
      {data && (
        <div className="max-h-96 overflow-auto rounded-md border border-line bg-sheet">
          <DataTable
            name="audit"
            label="Who changed what"
            rows={data}
            columns={columns}
            rowKey={({ atMs, what, path }, k) => `${atMs} ${what} ${path} ${k}`}
          />
        </div>
      )}
    </section>
  )
}
