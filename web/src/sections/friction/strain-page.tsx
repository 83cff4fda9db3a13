import type { AnswerOf, Condition } from '@dust-trail/core'
import { meanDifference, questions, STRAIN_BY } from '@dust-trail/core'
import { z } from 'zod'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { comparedLens, useLens, useVersus } from '../../app/lens.ts'
import { NoSessions } from '../../app/no-sessions.tsx'
import { useSelection } from '../../closeup/use-selection.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Select } from '../../ui/controls.tsx'
import { verdictOf } from '../../ui/difference.tsx'
import { day, plural } from '../../ui/format.ts'
import { Failure, Loading, Settling } from '../../ui/states.tsx'
import { FrictionViews } from './friction-views.tsx'
import { AllSites } from './all-sites.tsx'
import { StrainParts, strainText } from './strain-parts.tsx'
import { StrainHistogram } from './strain-histogram.tsx'
import { StrainWeightsForm } from './strain-weights.tsx'
import { useWeights } from './use-weights.ts'

const BY = z.enum(STRAIN_BY)

/** Sessions whose strain lies from one number up to below another. */
export function strainBetween(from: number, to: number | undefined): Condition {
  const over: Condition = { type: 'number', of: 'strain', test: { is: 'at least', to: from } }
  if (to === undefined) return over
  return { type: 'all', of: [over, { type: 'number', of: 'strain', test: { is: 'less than', to } }] }
}

/** How hard it was for visitors, and for whom. */
export function StrainPage() {
  const { lens } = useLens()
  const [versus] = useVersus()
  const { setSelection } = useSelection()
  const [by, setBy] = useAddressValue('by', BY)
  const weights = useWeights()
  const earlier = comparedLens(lens, versus === 'none' ? 'before' : versus)!
  const asked = weights.changed ? { weights: weights.wanted } : {}
  const now = useQuestion(questions.strain, lens, { by: by ?? 'device', ...asked })
  const before = useQuestion(questions.strain, earlier, asked)
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: { type: 'everyone' } },
    tables: [
      keptTable(questions.strain, `Strain by ${by ?? 'device'}`, { by: by ?? 'device' }, [
        ['value', 'For whom'],
        ['n', by === 'page' ? 'Views' : 'Sessions', 'count'],
        ['mean', 'Strain', 'decimal'],
        ['difference', 'Against the others', 'decimal'],
      ]),
    ],
  })
  const { data } = now
  const error = now.error ?? before.error
  const open = (from: number, to: number | undefined) =>
    setSelection({ type: 'where', condition: strainBetween(from, to) })
  return (
    <div className="space-y-4 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1>Strain</h1>
          <p>{data ? answerWords(data, before.data, earlier) : 'Adding up signals …'}</p>
          <p className="text-ink-soft">
            From 0 for a session without signals towards 100; each further signal adds less.
          </p>
        </div>
        <FrictionViews />
      </header>
      {error && <Failure error={error} retry={() => void now.refetch()} />}
      {now.isPending && !error && <Loading />}
      {data && !data.sessions && <NoSessions />}
      {data && data.sessions > 0 && (
        <Settling stale={now.isPlaceholderData} className="space-y-5">
          <StrainHistogram answer={data} open={open} />
          <section aria-label="For whom">
            <div className="mb-1 flex items-baseline gap-3">
              <h2>For whom</h2>
              <Select
                aria-label="Told apart by"
                value={by ?? 'device'}
                onChange={({ target }) => setBy(BY.parse(target.value))}
              >
                {STRAIN_BY.map((one) => (
                  <option key={one} value={one}>
                    by {one}
                  </option>
                ))}
              </Select>
            </div>
            <StrainParts parts={data.parts} by={by ?? 'device'} />
            <AllSites own={data} />
          </section>
        </Settling>
      )}
      <StrainWeightsForm {...weights} />
    </div>
  )
}

type Answer = AnswerOf<typeof questions.strain>

function answerWords(
  data: Answer,
  before: Answer | undefined,
  earlier: { from: string; to: string },
): string {
  if (data.mean === null) return 'No sessions.'
  const [low, high] = data.interval ?? [data.mean, data.mean]
  const own = `${data.mean.toFixed(1)} on average (${low.toFixed(1)} to ${high.toFixed(1)}) over ${plural(data.sessions, 'session')}`
  const apart = before && meanDifference({ n: data.sessions, ...data }, { n: before.sessions, ...before })
  if (!before || !apart) return `${own}.`
  const { difference, interval } = apart
  const sign = difference > 0 ? '+' : ''
  return `${own}; ${sign}${strainText(difference)} against ${day(earlier.from)} – ${day(earlier.to)} (${plural(before.sessions, 'session')}), ${verdictOf(difference, interval) === 'cannot tell' ? 'which may be noise' : 'which is more than noise'}.`
}
