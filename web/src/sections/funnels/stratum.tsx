import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import type { FunnelOptions, FunnelAnswer, LeakKind, Selection, Step } from '@dust-trail/core'
import { stepName } from '@dust-trail/core'
import { clsx } from 'clsx'
import { GripVertical, Pencil, Trash2, Type } from 'lucide-react'
import { memo, useState } from 'react'
import { IconButton } from '../../ui/controls.tsx'
import { count } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { leakText } from '../../words/selections.ts'
import { BetweenHint } from './between-hint.tsx'
import { PathsBetween } from './paths-between.tsx'
import { Share, StepName } from './stratum-parts.tsx'
import { TimeToNext } from './time-to-next.tsx'

interface Props {
  id: string
  index: number
  steps: Step[]
  result: FunnelAnswer | undefined
  options: FunnelOptions
  setSteps: (steps: Step[]) => void
  open: (selection: Selection) => void
  /** another choice for the step at an index */
  change: (index: number) => void
}

const LEAK_LOOK: Record<LeakKind, string> = {
  error: 'leak-error',
  back: 'leak-back',
  other: 'leak-other',
  trouble: 'leak-trouble',
  left: 'leak-left',
}
/** Reasons that stand under a band; the others are a click away. */
const MOST_NAMED = 7

/** One step: its name, its band, its rates, and under it what the lost did instead and how long the others took. */
export function Stratum(props: Props) {
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: props.id,
  })
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={clsx(
        'group relative grid grid-cols-[200px_minmax(0,1fr)_180px] gap-4 bg-sheet px-2 py-2 not-first:border-t not-first:border-line',
        isDragging && 'z-10 shadow-lg',
      )}
    >
      <Inside {...props} attributes={attributes} listeners={listeners} />
    </li>
  )
}

/** Drawn anew only where something in it has changed, not whenever the list is measured. */
const Inside = memo(function Inside({
  index,
  steps,
  options,
  result,
  setSteps,
  open,
  change,
  attributes,
  listeners,
}: Props & Pick<ReturnType<typeof useSortable>, 'attributes' | 'listeners'>) {
  const unit = options.per === 'visitor' ? 'visitors' : 'sessions'
  const name = stepName(steps[index]!)
  const step = result?.steps[index]
  const widest = Math.max(1, ...(result?.steps.map(({ sessions }) => sessions) ?? [1]))
  const last = index === steps.length - 1
  const at = (sessions: number) => `${(sessions / widest) * 100}%`
  const [all, setAll] = useState(false)
  const [naming, setNaming] = useState(false)
  const leak = step?.leak ?? []
  // The largest, in the order of the band.
  const least = [...leak].sort((a, b) => b.sessions - a.sessions).slice(0, MOST_NAMED)
  const named = all ? leak : leak.filter((part) => least.includes(part))
  const more = leak.length - named.length
  const goesOn = step ? step.sessions - step.lost : 0
  const selection = (side: 'reached' | 'continued' | 'dropped'): Selection => ({
    ...{ type: 'funnel', steps, options },
    ...{ step: index, side },
  })
  return (
    <>
      <div className="flex min-w-0 gap-1">
        <button
          type="button"
          aria-label={`Move step ${index + 1}: ${name}`}
          className="h-7 cursor-grab px-1 text-ink-soft"
          {...attributes}
          {...listeners}
        >
          <GripVertical size={14} />
        </button>
        <div className="min-w-0 flex-1">
          {naming ? (
            <StepName
              step={steps[index]!}
              index={index}
              set={(named) => setSteps(steps.map((old, k) => (k === index ? named : old)))}
              close={() => setNaming(false)}
            />
          ) : (
            <button
              type="button"
              className="block max-w-full truncate text-left font-semibold hover:underline"
              title={name}
              onClick={() => open(selection('reached'))}
            >
              {index + 1}. {name}
            </button>
          )}
          <div className="flex h-5 items-center">
            <p className="min-w-0 flex-1 truncate text-ink-soft">
              {step ? `${count(step.sessions)} ${unit}` : '…'}
            </p>
            <div className="flex opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
              <IconButton label={`Rename step ${index + 1}`} onClick={() => setNaming(true)}>
                <Type size={13} />
              </IconButton>
              <IconButton label={`Change step ${index + 1}`} onClick={() => change(index)}>
                <Pencil size={13} />
              </IconButton>
              {steps.length > 1 && (
                <IconButton
                  label={`Remove step ${index + 1}`}
                  onClick={() => setSteps(steps.filter((_, i) => i !== index))}
                >
                  <Trash2 size={13} />
                </IconButton>
              )}
            </div>
          </div>
        </div>
      </div>

      <div className="min-w-0">
        <div className="relative flex h-8 bg-chalk" role="group" aria-label={`Band of step ${index + 1}`}>
          {step && step.sessions > 0 && (
            <>
              {goesOn > 0 && (
                <button
                  type="button"
                  className="bg-spruce hover:brightness-110"
                  style={{ width: at(goesOn) }}
                  aria-label={
                    last
                      ? `${count(goesOn)} ${unit} reached the last step`
                      : `${count(goesOn)} ${unit} went on`
                  }
                  title={last ? `${count(goesOn)} reached the last step` : `${count(goesOn)} went on`}
                  onClick={() => open(selection(last ? 'reached' : 'continued'))}
                />
              )}
              {step.leak.map((part) => {
                const words = `${count(part.sessions)} ${leakText(part.kind, part.page)}`
                return (
                  <button
                    key={`${part.kind}/${part.page}`}
                    type="button"
                    className={clsx('border-l border-sheet hover:brightness-95', LEAK_LOOK[part.kind])}
                    style={{ width: at(part.sessions) }}
                    aria-label={words}
                    title={words}
                    onClick={() =>
                      open({
                        ...selection('dropped'),
                        leak: part.kind,
                        page: part.page,
                      } as Selection)
                    }
                  />
                )
              })}
            </>
          )}
        </div>
        {step && (
          <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-0.5">
            {step.lost > 0 && (
              <LinkButton tone="clay" className="font-semibold" onClick={() => open(selection('dropped'))}>
                {count(step.lost)} lost
              </LinkButton>
            )}
            {named.map((part) => (
              <button
                key={`${part.kind}/${part.page}`}
                type="button"
                className="inline-flex max-w-80 items-center gap-1.5 hover:underline"
                onClick={() =>
                  open({
                    ...selection('dropped'),
                    leak: part.kind,
                    page: part.page,
                  } as Selection)
                }
              >
                <span
                  aria-hidden
                  className={clsx('inline-block size-3 shrink-0 border border-clay', LEAK_LOOK[part.kind])}
                />
                <span className="truncate">
                  {count(part.sessions)} {leakText(part.kind, part.page)}
                </span>
              </button>
            ))}
            {(more > 0 || all) && step.leak.length > MOST_NAMED && (
              <button
                type="button"
                className="text-spruce underline"
                aria-expanded={all}
                onClick={() => setAll(!all)}
              >
                {all ? 'fewer' : `${more} more`}
              </button>
            )}
            {!last && <TimeToNext toNext={step.toNext} />}
          </div>
        )}
        {step && !last && <BetweenHint index={index} steps={steps} setSteps={setSteps} />}
        {step && !last && <PathsBetween selection={selection} next={steps[index + 1]!} />}
      </div>

      <div>
        {step && index > 0 && (
          <>
            <Share
              words="of those who came this far before"
              rate={step.ofPrevious}
              label={`of ${count(step.ofPrevious.base)} at step ${index}`}
              strong
            />
            <Share
              words="of all who entered"
              rate={step.ofEntered}
              label={`of ${count(step.ofEntered.base)} entered`}
            />
          </>
        )}
        {step && index === 0 && (
          <Share
            words={`of all ${unit}`}
            rate={step.ofPrevious}
            label={`of ${count(step.ofPrevious.base)} ${unit}`}
            strong
          />
        )}
      </div>
    </>
  )
})
