import type { Attribute, CloseUpAnswer } from '@dust-trail/core'
import { clsx } from 'clsx'
import type { DataColumn } from '../ui/data-table.tsx'
import { DataTable } from '../ui/data-table.tsx'
import { againstColumns, barColumn, selectedColumn } from './contrast-columns.tsx'

const NAMES: Record<Attribute, string> = {
  device: 'Device',
  channel: 'Channel',
  browser: 'Browser',
  system: 'System',
  country: 'Country',
  visit: 'Visit',
}
const MOST = 24

type WhoRow = CloseUpAnswer['who'][number]

/** Attributes of the selected against everyone, or against others by name, largest differences first. */
export function Who({
  data,
  others,
  className,
}: {
  data: CloseUpAnswer
  others?: string | undefined
  className?: string
}) {
  const isCompared = data.everyone > data.size.hits
  const columns: DataColumn<WhoRow>[] = [
    {
      id: 'attribute',
      head: 'Attribute',
      value: ({ attribute }) => NAMES[attribute],
      className: 'text-ink-soft',
      width: 76,
    },
    { id: 'value', head: 'Value', value: ({ value }) => value, className: 'font-semibold', least: 116 },
    selectedColumn(data),
    barColumn(),
    ...(isCompared ? againstColumns<WhoRow>(data, others) : []),
  ]
  return (
    <DataTable
      name="who"
      className={clsx('max-w-5xl', className)}
      rows={data.who.slice(0, MOST)}
      columns={columns}
      rowKey={({ attribute, value }) => `${attribute}/${value}`}
    />
  )
}
