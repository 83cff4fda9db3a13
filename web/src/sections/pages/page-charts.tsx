import type { PageRow } from '@dust-trail/core'
import {
  Bar,
  BarChart,
  CartesianGrid,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts'
import { z } from 'zod'
import { useAddressValue } from '../../app/address.ts'
import { Select } from '../../ui/controls.tsx'
import { measureOf, PAGE_MEASURES } from './page-measures.ts'

const MEASURE = z.string()
const MOST_BARS = 12
const TICK = { fontSize: 11 }

/** The most of the sorted column as bars, and any two columns against each other; each bar and point opens its page. */
export function PageCharts({
  rows,
  sorted,
  open,
}: {
  rows: readonly PageRow[]
  /** column by which the table is sorted */
  sorted: string | null
  open: (row: PageRow) => void
}) {
  const [x, setX] = useAddressValue('across', MEASURE, { replace: true })
  const [y, setY] = useAddressValue('up', MEASURE, { replace: true })
  const ranked = measureOf(sorted)
  const [across, up] = [measureOf(x ?? 'views'), measureOf(y ?? 'exit rate')]
  const bars = rows
    .map((row) => ({ row, name: row.page, value: ranked.value(row) }))
    .filter(({ value }) => value !== null)
    .sort((a, b) => b.value! - a.value!)
    .slice(0, MOST_BARS)
  const points = rows.flatMap((row) => {
    const [px, py] = [across.value(row), up.value(row)]
    return px === null || py === null ? [] : [{ row, x: px, y: py }]
  })
  return (
    <div className="grid grid-cols-2 gap-3">
      <section aria-label={`Most ${ranked.head}`} className="rounded-md border border-line bg-sheet p-3">
        <h2>{ranked.head}: the highest</h2>
        <div style={{ height: Math.max(120, bars.length * 22 + 24) }}>
          <ResponsiveContainer>
            <BarChart data={bars} layout="vertical" margin={{ top: 4, right: 16, bottom: 0, left: 0 }}>
              <XAxis type="number" stroke="var(--ink-soft)" tick={TICK} tickFormatter={short} />
              <YAxis
                type="category"
                dataKey="name"
                width={130}
                stroke="var(--ink-soft)"
                tick={TICK}
                tickFormatter={cut}
              />
              <Tooltip
                isAnimationActive={false}
                cursor={{ fill: 'var(--ochre-soft)' }}
                content={({ payload }) => (
                  <Words
                    row={(payload[0]?.payload as (typeof bars)[number] | undefined)?.row}
                    of={[ranked]}
                  />
                )}
              />
              <Bar
                dataKey="value"
                fill="var(--spruce)"
                isAnimationActive={false}
                cursor="pointer"
                onClick={({ payload }) => open((payload as (typeof bars)[number]).row)}
              />
            </BarChart>
          </ResponsiveContainer>
        </div>
      </section>
      <section aria-label="Two measures" className="rounded-md border border-line bg-sheet p-3">
        <h2 className="flex items-center gap-2">
          <MeasureSelect label="Upwards" value={up.id} set={setY} /> by{' '}
          <MeasureSelect label="Across" value={across.id} set={setX} />
        </h2>
        <div className="h-64">
          <ResponsiveContainer>
            <ScatterChart margin={{ top: 8, right: 16, bottom: 0, left: 0 }}>
              <CartesianGrid stroke="var(--line)" />
              <XAxis
                type="number"
                dataKey="x"
                stroke="var(--ink-soft)"
                tick={TICK}
                tickFormatter={short}
                name={across.head}
              />
              <YAxis
                type="number"
                dataKey="y"
                stroke="var(--ink-soft)"
                tick={TICK}
                width={48}
                tickFormatter={short}
                name={up.head}
              />
              <Tooltip
                isAnimationActive={false}
                content={({ payload }) => (
                  <Words
                    row={(payload[0]?.payload as (typeof points)[number] | undefined)?.row}
                    of={[across, up]}
                  />
                )}
              />
              <Scatter
                data={points}
                fill="var(--spruce)"
                fillOpacity={0.7}
                isAnimationActive={false}
                cursor="pointer"
                onClick={(point) => open((point.payload as (typeof points)[number]).row)}
              />
            </ScatterChart>
          </ResponsiveContainer>
        </div>
      </section>
    </div>
  )
}

function Words({ row, of }: { row: PageRow | undefined; of: readonly (typeof PAGE_MEASURES)[number][] }) {
  if (!row) return null
  return (
    <div className="max-w-72 rounded-md border border-line bg-sheet px-2.5 py-1.5 shadow-lg">
      <p className="truncate font-semibold">{row.page}</p>
      {of.map((measure) => (
        <p key={measure.id}>
          {measure.head}: {measure.show(row)}
        </p>
      ))}
    </div>
  )
}

function MeasureSelect({ label, value, set }: { label: string; value: string; set: (id: string) => void }) {
  return (
    <Select aria-label={label} value={value} onChange={({ target }) => set(target.value)}>
      {PAGE_MEASURES.map(({ id, head }) => (
        <option key={id} value={id}>
          {head}
        </option>
      ))}
    </Select>
  )
}

function cut(text: string): string {
  return text.length > 20 ? `${text.slice(0, 19)}…` : text
}

const numbers = new Intl.NumberFormat('en-GB', { notation: 'compact', maximumFractionDigits: 2 })
const short = (value: number) => numbers.format(value)
