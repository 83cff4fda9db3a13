import type { FunnelAnswer } from '@dust-trail/core'
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts'
import { bucketWords, count, intervalText, percent } from '../../ui/format.ts'

type Part = NonNullable<FunnelAnswer['overTime']>[number]

/** Conversion over time with its interval; where nobody entered the line breaks off. */
export function Trend({ parts }: { parts: readonly Part[] }) {
  const data = parts.map((part) => ({
    ...part,
    label: bucketWords(part.label),
    share: part.conversion.share,
    range: part.entered ? part.conversion.interval : null,
  }))
  return (
    <section aria-label="Over time" className="mt-4 rounded-md border border-line bg-sheet p-3">
      <h2>Of those who entered, how many went all the way, over time</h2>
      <div className="mt-1 h-48">
        <ResponsiveContainer>
          <ComposedChart data={data} margin={{ top: 8, right: 12, bottom: 0, left: 0 }}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis dataKey="label" stroke="var(--ink-soft)" tick={{ fontSize: 11 }} minTickGap={24} />
            <YAxis
              stroke="var(--ink-soft)"
              tick={{ fontSize: 11 }}
              tickFormatter={(share: number) => `${Math.round(share * 100)} %`}
              width={44}
            />
            <Tooltip
              isAnimationActive={false}
              content={({ payload }) => {
                const part = payload[0]?.payload as (Part & { share: number | null }) | undefined
                if (!part) return null
                return (
                  <div className="rounded-md border border-line bg-sheet px-2.5 py-1.5 shadow-lg">
                    <p className="font-semibold">{part.label}</p>
                    <p>
                      {percent(part.share)} of {count(part.entered)} who entered
                    </p>
                    {part.entered > 0 && (
                      <p className="text-ink-soft">{intervalText(part.conversion.interval)}</p>
                    )}
                  </div>
                )
              }}
            />
            <Area dataKey="range" stroke="none" fill="var(--spruce-soft)" isAnimationActive={false} />
            <Line
              dataKey="share"
              stroke="var(--spruce)"
              strokeWidth={2}
              dot={{ r: 2 }}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
    </section>
  )
}
