import type { SavedFunnel } from '@dust-trail/api'
import type { FunnelOptions, FunnelAnswer, Selection, Step } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { lazy, Suspense, useState } from 'react'
import { useFunnels, useSizes } from '../../api/queries.ts'
import { useQuestion, useQuestionThrough } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { TEXT, useLens, useSite } from '../../app/lens.ts'
import { NoSessions } from '../../app/no-sessions.tsx'
import { useSelection } from '../../closeup/use-selection.ts'
import { useSides } from '../../lens/sides.tsx'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Select } from '../../ui/controls.tsx'
import { count, duration, intervalText, rateText } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure, Loading, Settling } from '../../ui/states.tsx'
import { BetweenSteps } from './between-hint.tsx'
import { definition, whatIsBroken } from './definition.ts'
import { FunnelTable } from './funnel-table.tsx'
import { Ledger, Multiples } from './ledger.tsx'
import { OptionsDialog } from './options-dialog.tsx'
import { SaveFunnel } from './save-funnel.tsx'
import { Strata } from './strata.tsx'
import { useSteps } from './use-steps.ts'

const Trend = lazy(async () => ({ default: (await import('./trend.tsx')).Trend }))

/** Where visitors drop off on the way to a goal, and what they do instead. */
export function FunnelsPage() {
  const site = useSite()
  const { lens } = useLens()
  const funnels = useFunnels(site.key)
  const [wanted] = useAddressValue('funnel', TEXT)
  const saved = funnels.data?.find(({ id }) => String(id) === wanted) ?? funnels.data?.[0]
  const { steps, options, edited, setSteps, setOptions } = useSteps(saved)
  const [choosing, setChoosing] = useState(false)
  useQuestion(questions.catalogue, lens, {}, { quiet: true })
  const answer = useQuestion(
    questions.funnel,
    lens,
    { steps, options, counts: false },
    { enabled: steps.length > 0 },
  )
  const between = useQuestion(questions.between, lens, { steps, options }, { enabled: steps.length > 1 })
  const unit = options.per === 'visitor' ? 'visitors' : 'sessions'
  const { setSelection } = useSelection()
  const result = answer.data?.steps.length === steps.length ? answer.data : undefined
  const last = steps.length - 1
  const whole: Selection | null = steps.length
    ? { type: 'funnel', steps, options, step: 0, side: 'reached' }
    : null
  const converted: Selection | null = steps.length
    ? { type: 'funnel', steps, options, step: last, side: 'reached' }
    : null
  useView(
    converted && {
      words: `${saved?.name ?? 'Funnel'}: reached “${result?.steps[last]?.name ?? 'the last step'}”`,
      question: { lens, selection: converted },
      tables: [
        keptTable(questions.funnel, 'Steps', { steps, options }, [
          ['name', 'Step'],
          ['sessions', unit === 'visitors' ? 'Visitors' : 'Sessions', 'count'],
          ['ofPrevious.share', 'Of the step before', 'percent'],
          ['ofEntered.share', 'Of all who entered', 'percent'],
          ['lost', 'Lost', 'count'],
        ]),
      ],
    },
  )
  const biggest = result && biggestLeak(result)
  return (
    <div className="px-5 py-3">
      <div className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <FunnelTitle funnels={funnels.data ?? []} saved={saved} edited={edited} />
          {result && result.entered > 0 ? (
            <p className="mt-1 text-[14px]">
              <LinkButton
                className="font-semibold"
                title={intervalText(result.steps[last]!.ofEntered.interval)}
                onClick={() => converted && setSelection(converted)}
              >
                {rateText(result.steps[last]!.ofEntered)} {unit}
              </LinkButton>{' '}
              that entered went all the way{result.whole.medianMs !== null && <WholeWay of={result.whole} />}.
              {biggest && (
                <>
                  {' '}
                  Most are lost at{' '}
                  <LinkButton
                    tone="clay"
                    className="font-semibold"
                    onClick={() =>
                      setSelection({ type: 'funnel', steps, options, step: biggest.step, side: 'dropped' })
                    }
                  >
                    {biggest.name}: {count(biggest.lost)} of {count(biggest.of)}
                  </LinkButton>
                  .
                </>
              )}
            </p>
          ) : (
            <p className="text-ink-soft">Where do visitors drop off, and what do they do instead?</p>
          )}
          {saved && (saved.note || saved.owner) && (
            <p className="text-ink-soft">
              {saved.note} {saved.owner && `(${saved.owner})`}
            </p>
          )}
        </div>
        <SaveFunnel
          saved={saved}
          steps={steps}
          options={options}
          edited={edited}
          reset={() => setSteps(null)}
        />
      </div>
      {result && whole && (
        <p className="text-ink-soft">
          <button type="button" className="hover:underline" onClick={() => setSelection(whole)}>
            {count(result.entered)} {unit} entered
          </button>{' '}
          of {count(result.sessions)} in the lens. {definition(steps, options)}{' '}
          <button type="button" className="text-spruce underline" onClick={() => setChoosing(true)}>
            Change how it counts
          </button>
        </p>
      )}
      {funnels.error && <Failure error={funnels.error} retry={() => void funnels.refetch()} />}
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {funnels.isPending ? (
        <Loading />
      ) : (
        <Settling stale={answer.isPlaceholderData} className="mt-3">
          <BetweenSteps value={between.isPlaceholderData ? undefined : between.data}>
            <Strata steps={steps} setSteps={setSteps} options={options} result={result} open={setSelection} />
          </BetweenSteps>
          {result && <Broken steps={steps} result={result} />}
          {result?.byValue && (
            <Multiples parts={result.byValue} names={result.steps.map(({ name }) => name)} />
          )}
          {result?.overTime && (
            <Suspense fallback={<Loading />}>
              <Trend parts={result.overTime} />
            </Suspense>
          )}
          <Sides steps={steps} options={options} own={result} />
          {result && <FunnelTable steps={steps} options={options} result={result} open={setSelection} />}
        </Settling>
      )}
      {choosing && (
        <OptionsDialog steps={steps} options={options} set={setOptions} close={() => setChoosing(false)} />
      )}
      {result?.sessions === 0 && <NoSessions />}
    </div>
  )
}

/** Says why a funnel comes to nothing, where it does. */
function Broken({ steps, result }: { steps: Step[]; result: FunnelAnswer }) {
  const site = useSite()
  const { lens } = useLens()
  const isBroken = result.sessions > 0 && result.steps.some(({ sessions }) => sessions === 0)
  const alone = useSizes(
    site.key,
    isBroken
      ? steps.map((step) => ({
          lens,
          selection: { type: 'funnel' as const, steps: [step], step: 0, side: 'reached' as const },
        }))
      : [],
  )
  const words = isBroken
    ? whatIsBroken(
        steps,
        result,
        alone.data?.sizes.map(({ hits }) => hits),
      )
    : undefined
  return words ? (
    <p role="alert" className="mt-3 rounded-md border border-clay bg-clay-soft px-3 py-2">
      {words}
    </p>
  ) : null
}

/** The funnel beside itself: through the segments chosen, and over the days of the comparison. */
function Sides({
  steps,
  options,
  own: result,
}: {
  steps: Step[]
  options: FunnelOptions
  own: FunnelAnswer | undefined
}) {
  const { sides } = useSides()
  const others = sides.slice(1)
  const answers = useQuestionThrough(questions.funnel, steps.length ? others.map(({ lens }) => lens) : [], {
    steps,
    options,
    counts: true,
  })
  if (!others.length) return null
  return (
    <Ledger
      sides={[
        { name: sides[0]!.name, result: result },
        ...others.map(({ name }, k) => ({ name, result: answers[k]?.data })),
      ]}
    />
  )
}

/** How long the whole way took those who made it. */
function WholeWay({ of: { medianMs, p25Ms, p75Ms } }: { of: FunnelAnswer['whole'] }) {
  return (
    <>
      , in{' '}
      <span
        className="font-semibold"
        title="from the first step to the last, the median of those who made it"
      >
        {duration(medianMs)}
      </span>{' '}
      at the median (quartiles {duration(p25Ms)} to {duration(p75Ms)})
    </>
  )
}

function biggestLeak(result: { steps: { name: string; lost: number; sessions: number }[] }) {
  let step = -1
  result.steps.forEach(({ lost }, k) => {
    if (lost > (result.steps[step]?.lost ?? 0)) step = k
  })
  const found = result.steps[step]
  return found && { step, name: found.name, lost: found.lost, of: found.sessions }
}

/** what an address says of the funnel on screen, and not of the one chosen next */
const OF_ANOTHER_FUNNEL = { clears: ['steps', 'options', 'close'] }

function FunnelTitle({
  funnels,
  saved,
  edited,
}: {
  funnels: SavedFunnel[]
  saved: SavedFunnel | undefined
  edited: boolean
}) {
  const [, choose] = useAddressValue('funnel', TEXT, OF_ANOTHER_FUNNEL)
  if (funnels.length < 2)
    return (
      <h1 className="truncate">
        {saved?.name ?? 'New funnel'}
        {edited && <Edited />}
      </h1>
    )
  return (
    <h1 className="flex items-center gap-2">
      <Select
        aria-label="Funnel"
        className="max-w-xl font-semibold"
        value={saved?.id}
        onChange={(event) => choose(event.target.value)}
      >
        {funnels.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Select>
      {edited && <Edited />}
    </h1>
  )
}

function Edited() {
  return <span className="ml-2 align-middle text-[13px] font-normal text-ochre-text">edited, not saved</span>
}
