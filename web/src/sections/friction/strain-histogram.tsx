import type { AnswerOf, questions } from '@dust-trail/core'
import { STRAIN_BINS } from '@dust-trail/core'
import { Bar, BarChart, CartesianGrid, Cell, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { count, percent } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'

type Answer = AnswerOf<typeof questions.strain>

const BIN = 100 / STRAIN_BINS
/** Darker with each band; the words beside say the same. */
const COLOURS = ['var(--stone)', 'var(--ochre)', 'var(--clay)', 'var(--ink)']

/** How many sessions have which strain, and the bands, each of which opens. */
export function StrainHistogram({
  answer: { histogram, bands, sessions },
  open,
}: {
  answer: Answer
  open: (from: number, to: number | undefined) => void
}) {
  const bandOf = (strain: number) => bands.findLastIndex(({ from }) => strain >= from)
  const data = histogram.map((n, k) => ({ from: k * BIN, n, band: bandOf(k * BIN) }))
  return (
    <section aria-label="How many sessions" className="rounded-md border border-line bg-sheet p-3">
      <ul className="mb-2 flex flex-wrap gap-x-6 gap-y-1">
        {bands.map(({ band, from, sessions: own }, k) => (
          <li key={band} className="flex items-center gap-2">
            <span aria-hidden className="inline-block size-3" style={{ backgroundColor: COLOURS[k] }} />
            <LinkButton onClick={() => open(from, bands[k + 1]?.from)}>
              {band}, {from} {k + 1 < bands.length ? `to below ${bands[k + 1]!.from}` : 'and more'}
            </LinkButton>
            <span>
              {percent(own / sessions)} · {count(own)}
            </span>
          </li>
        ))}
      </ul>
      <div className="h-44">
        <ResponsiveContainer>
          <BarChart data={data} margin={{ top: 4, right: 8, bottom: 0, left: 0 }} barCategoryGap={1}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis dataKey="from" stroke="var(--ink-soft)" tick={{ fontSize: 11 }} />
            <YAxis stroke="var(--ink-soft)" tick={{ fontSize: 11 }} width={52} tickFormatter={count} />
            <Tooltip
              isAnimationActive={false}
              cursor={{ fill: 'var(--ochre-soft)' }}
              content={({ payload }) => {
                const bin = payload[0]?.payload as (typeof data)[number] | undefined
                if (!bin) return null
                return (
                  <div className="rounded-md border border-line bg-sheet px-2.5 py-1.5 shadow-lg">
                    <p>
                      {bin.from} to {bin.from + BIN}: {count(bin.n)} of {count(sessions)} sessions,{' '}
                      {percent(bin.n / sessions)}
                    </p>
                  </div>
                )
              }}
            />
            <Bar dataKey="n" isAnimationActive={false}>
              {data.map(({ from, band }) => (
                <Cell key={from} fill={COLOURS[band]} />
              ))}
            </Bar>
          </BarChart>
        </ResponsiveContainer>
      </div>
    </section>
  )
}
