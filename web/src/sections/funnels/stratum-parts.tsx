import type { Step, FunnelAnswer } from '@dust-trail/core'
import { stepName } from '@dust-trail/core'
import { inputLook } from '../../ui/controls.tsx'
import { useDraft } from '../../ui/draft.ts'
import { intervalText, percent } from '../../ui/format.ts'
import { Whisker } from '../../ui/rate-bar.tsx'

/** What a step is called; without a name of its own it is called after what it is. */
export function StepName({
  step,
  index,
  set,
  close,
}: {
  step: Step
  index: number
  set: (step: Step) => void
  close: () => void
}) {
  const [name, setName] = useDraft(`step/${JSON.stringify(step)}`, stepName(step))
  const save = () => {
    close()
    const chosen = name.trim()
    if (chosen === stepName(step)) return
    setName(stepName(step))
    if (chosen) set({ ...step, name: chosen })
    else if (step.type !== 'event') set({ ...step, name: undefined })
  }
  return (
    <input
      autoFocus
      aria-label={`Name of step ${index + 1}`}
      maxLength={120}
      className={inputLook}
      value={name}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setName(event.target.value)}
      onBlur={save}
      onKeyDown={(event) => {
        if (event.key === 'Enter') save()
        if (event.key === 'Escape') {
          setName(stepName(step))
          close()
        }
      }}
    />
  )
}

export function Share({
  rate,
  label,
  words,
  strong = false,
}: {
  rate: FunnelAnswer['steps'][number]['ofPrevious']
  label: string
  words: string
  strong?: boolean
}) {
  return (
    <div title={`${words}: ${intervalText(rate.interval)}`}>
      <p className="truncate">
        <span className={strong ? 'font-semibold' : ''}>{percent(rate.share)}</span>{' '}
        <span className="text-ink-soft">{label}</span>
      </p>
      {strong && (
        <span className="relative mt-0.5 mb-1 block h-1.5 bg-line">
          <span
            className="absolute inset-y-0 left-0 bg-spruce"
            style={{ width: `${(rate.share ?? 0) * 100}%` }}
          />
          {rate.base > 0 && <Whisker interval={rate.interval} at={(share) => `${share * 100}%`} />}
        </span>
      )}
    </div>
  )
}
