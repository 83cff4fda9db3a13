import type { Condition, SessionNumber, SessionText } from '@dust-trail/core'
import { SESSION_NUMBERS, SESSION_TEXTS, questions } from '@dust-trail/core'
import { clsx } from 'clsx'
import { useState } from 'react'
import { useActions, useSegments } from '../api/queries.ts'
import { useQuestion } from '../api/use-question.ts'
import { useLens, useSite } from '../app/lens.ts'
import { NUMBER_WORDS, TEXT_WORDS } from '../words/sentences.ts'
import { EventForm } from './event-form.tsx'
import { Values } from './filter-values.tsx'
import { NumberChoice } from './number-choice.tsx'
import { segmentCondition } from './segments.ts'
import { SequenceChoice } from './sequence-choice.tsx'
import { SignalChoice } from './signal-choice.tsx'
import { useCounts } from './size-of.tsx'

type Of =
  | SessionText
  | SessionNumber
  | 'visit'
  | 'saw a page'
  | 'did an action'
  | 'did in order'
  | 'any event'
  | 'variant'
  | 'met a signal'
  | 'segment'

const GROUPS: readonly (readonly [string, readonly Of[]])[] = [
  ['Who they are', [...SESSION_TEXTS.filter((of) => !of.includes('page')), 'visit']],
  [
    'What they did',
    [
      'entry page',
      'exit page',
      'saw a page',
      'did an action',
      'did in order',
      'any event',
      'met a signal',
      'variant',
      'segment',
    ],
  ],
  ['How much', SESSION_NUMBERS],
]

function words(of: Of): string {
  if (of in TEXT_WORDS) return TEXT_WORDS[of as SessionText]
  return of in NUMBER_WORDS ? NUMBER_WORDS[of as SessionNumber] : of
}

/** Choice of one condition: of what, how, and which values, each with how many sessions it holds. */
export function FilterMenu({ add }: { add: (condition: Condition) => void }) {
  const [of, setOf] = useState<Of>('channel')
  return (
    <div className="grid h-[420px] w-[560px] grid-cols-[170px_1fr]">
      <div className="overflow-auto border-r border-line p-1.5" role="listbox" aria-label="Filter by">
        {GROUPS.map(([name, members]) => (
          <div key={name} role="group" aria-label={name}>
            <p aria-hidden className="px-2 pt-1.5 font-semibold text-ink-soft">
              {name}
            </p>
            {members.map((member) => (
              <button
                key={member}
                type="button"
                role="option"
                aria-selected={member === of}
                className={clsx(
                  'block h-7 w-full rounded-md px-2 text-left first-letter:uppercase',
                  member === of ? 'bg-spruce-soft font-semibold' : 'hover:bg-ochre-soft',
                )}
                onClick={() => setOf(member)}
              >
                {words(member)}
              </button>
            ))}
          </div>
        ))}
      </div>
      <div className="flex min-h-0 flex-col p-3" key={of}>
        <One of={of} add={add} />
      </div>
    </div>
  )
}

function One({ of, add }: { of: Of; add: (condition: Condition) => void }) {
  switch (of) {
    case 'visit':
      return <VisitChoice add={add} />
    case 'saw a page':
      return <Pages add={add} />
    case 'did an action':
      return <ActionChoice add={add} />
    case 'did in order':
      return <SequenceChoice add={add} />
    case 'any event':
    case 'variant':
      return (
        <EventForm
          draft={`filter/${of}/`}
          first={of === 'variant' ? 'variant' : 'click'}
          often
          submit="Add filter"
          add={(event, times) => add({ type: 'event', event, ...(times && { count: times }) })}
        />
      )
    case 'segment':
      return <SegmentChoice add={add} />
    case 'met a signal':
      return <SignalChoice add={add} />
    default:
      return (SESSION_TEXTS as readonly string[]).includes(of) ? (
        <TextChoice of={of as SessionText} add={add} />
      ) : (
        <NumberChoice of={of as SessionNumber} add={add} />
      )
  }
}

function TextChoice({ of, add }: { of: SessionText; add: (condition: Condition) => void }) {
  const { lens } = useLens()
  const answer = useQuestion(questions.distribution, lens, {
    selection: { type: 'everyone' },
    options: { by: of, bins: 0, quantiles: [] },
  })
  return (
    <Values
      values={answer.data?.values.map(({ value, sessions }) => ({ value, sessions }))}
      patterns
      add={(values, not, test) => {
        if (test) add({ type: 'text', of, test })
        else if (values.length === 1 && values[0] === '')
          add({ type: 'text', of, test: { is: not ? 'known' : 'not known' } })
        else add({ type: 'text', of, test: { is: not ? 'none of' : 'one of', to: [...values] } })
      }}
    />
  )
}

function Pages({ add }: { add: (condition: Condition) => void }) {
  const { lens } = useLens()
  const catalogue = useQuestion(questions.catalogue, lens, {})
  return (
    <Values
      values={catalogue.data?.pages.map(({ page, sessions }) => ({ value: page, sessions }))}
      add={(to, not) => {
        const saw: Condition = {
          type: 'event',
          event: { kinds: ['page'], page: { is: 'one of', to: [...to] } },
        }
        add(not ? { type: 'not', of: saw } : saw)
      }}
    />
  )
}

const VISITS = ['first', 'returning'] as const

function VisitChoice({ add }: { add: (condition: Condition) => void }) {
  const counts = useCounts(VISITS.map((is) => ({ type: 'visit', is })))
  return (
    <Values
      values={VISITS.map((value, k) => ({ value, sessions: counts[k] }))}
      add={([is], not) => {
        const visit: Condition = { type: 'visit', is: is as (typeof VISITS)[number] }
        add(not ? { type: 'not', of: visit } : visit)
      }}
      single
    />
  )
}

function ActionChoice({ add }: { add: (condition: Condition) => void }) {
  const site = useSite()
  const actions = useActions(site.key)
  const counts = useCounts(
    (actions.data ?? []).map(({ name }) => ({ type: 'event', event: { action: name } })),
  )
  return (
    <Values
      values={actions.data?.map(({ name }, k) => ({ value: name, sessions: counts[k] }))}
      empty="No action has been named yet: see Labels."
      add={([action], not) => {
        const did: Condition = { type: 'event', event: { action: action! } }
        add(not ? { type: 'not', of: did } : did)
      }}
      single
    />
  )
}

function SegmentChoice({ add }: { add: (condition: Condition) => void }) {
  const site = useSite()
  const segments = useSegments(site.key)
  const saved = segments.data ?? []
  const cuts = saved.flatMap((one) => {
    const condition = segmentCondition(one, saved)
    return condition ? { name: one.name, condition } : []
  })
  const counts = useCounts(cuts.map(({ condition }) => condition))
  return (
    <Values
      values={segments.data && cuts.map(({ name }, k) => ({ value: name, sessions: counts[k] }))}
      empty="No segment has been saved yet: see Segments."
      add={([name], not) => {
        const { condition } = cuts.find((one) => one.name === name)!
        add(not ? { type: 'not', of: condition } : condition)
      }}
      single
    />
  )
}
