import type { AnswerOf, questions } from '@dust-trail/core'
import { difference, rate } from '@dust-trail/core'
import {
  Area,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts'
import { useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { rangeText, verdictOf } from '../../ui/difference.tsx'
import { count, dayIn, intervalText, percent, plural, points } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { useGoalSelection } from './goal-selection.ts'

export type GoalsAnswer = AnswerOf<typeof questions.goals>

/** How many reach the main goal, against the days before, and how that went from day to day. */
export function MainResult({ now, before, days }: { now: GoalsAnswer; before: GoalsAnswer; days: string }) {
  const site = useSite()
  const { setSelection } = useSelection()
  const selectionOf = useGoalSelection()
  const goal = now.goals[0]!
  const was = before.goals[0]!
  const gap = difference(goal.reached, was.reached)
  const verdict = verdictOf(gap.difference, gap.interval)
  const money = (value: number | null) =>
    value === null ? '' : `, ${count(Math.round(value))} ${site.currency}`
  const data = now.parts.map(({ startMs, sessions }, k) => {
    const part = rate(goal.trend[k]!, sessions)
    return {
      label: dayIn(startMs, site.timeZone),
      share: part.share,
      range: sessions ? part.interval : null,
      words: `${count(part.hits)} of ${plural(part.base, 'session')}`,
    }
  })
  return (
    <section aria-label="Main result" className="rounded-md border border-line bg-sheet p-3">
      <h2>{goal.name}</h2>
      <p className="text-[17px]">
        <LinkButton className="font-semibold" onClick={() => setSelection(selectionOf(goal.name))}>
          {percent(goal.reached.share)}
        </LinkButton>{' '}
        of {plural(goal.reached.base, 'session')}: {count(goal.reached.hits)}
        {money(goal.value)}
      </p>
      <p title={intervalText(goal.reached.interval)}>
        {gap.difference === null ? (
          <>There are no sessions in {days} to compare with.</>
        ) : (
          <>
            <strong className={verdict === 'less' ? 'text-clay' : verdict === 'more' ? 'text-spruce' : ''}>
              {points(gap.difference)}
            </strong>{' '}
            against {days} ({percent(was.reached.share)} of {count(was.reached.base)}
            {money(was.value)}); 95 % interval {rangeText(gap.interval)},{' '}
            {verdict === 'cannot tell' ? 'which may be noise' : 'more than noise'}.
          </>
        )}
      </p>
      <div className="mt-2 h-36">
        <ResponsiveContainer>
          <ComposedChart data={data} margin={{ top: 6, right: 8, bottom: 0, left: 0 }}>
            <XAxis dataKey="label" stroke="var(--ink-soft)" tick={{ fontSize: 11 }} minTickGap={28} />
            <YAxis
              stroke="var(--ink-soft)"
              tick={{ fontSize: 11 }}
              tickFormatter={(share: number) => `${Math.round(share * 100)} %`}
              width={40}
            />
            <Tooltip
              isAnimationActive={false}
              content={({ payload }) => {
                const part = payload[0]?.payload as (typeof data)[number] | undefined
                return part ? (
                  <div className="rounded-md border border-line bg-sheet px-2.5 py-1.5 shadow-lg">
                    <p className="font-semibold">{part.label}</p>
                    <p>
                      {percent(part.share)}, {part.words}
                    </p>
                  </div>
                ) : null
              }}
            />
            <Area dataKey="range" stroke="none" fill="var(--spruce-soft)" isAnimationActive={false} />
            {was.reached.share !== null && (
              <ReferenceLine y={was.reached.share} stroke="var(--iris)" strokeDasharray="6 3" />
            )}
            <Line
              dataKey="share"
              stroke="var(--spruce)"
              strokeWidth={2}
              dot={false}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <p className="text-xs text-ink-soft">
        By day with its 95 % interval; dashed: the days it is compared with, together.
      </p>
    </section>
  )
}
