import type { Condition, SessionNumber, SessionText, TextTest } from '@dust-trail/core'
import { SESSION_NUMBERS, SESSION_TEXTS, SIGNAL_KINDS } from '@dust-trail/core'
import { clsx } from 'clsx'
import { Check } from 'lucide-react'
import type { ReactNode } from 'react'
import { useState } from 'react'
import { useActions, useCatalogue, useDistribution, useSegments } from '../api/queries.ts'
import { useLens, useSite } from '../app/lens.ts'
import { Button, inputLook, Select } from '../ui/controls.tsx'
import { count } from '../ui/format.ts'
import { EventForm } from './event-form.tsx'
import { PageSelect } from './page-select.tsx'
import { SequenceChoice } from './sequence-choice.tsx'
import { segmentCondition } from './segments.ts'
import { NUMBER_WORDS, TEXT_WORDS } from './words.ts'

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
      return (
        <Values
          values={[{ value: 'first' }, { value: 'returning' }]}
          add={([is]) => add({ type: 'visit', is: is as 'first' | 'returning' })}
          single
        />
      )
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
  const site = useSite()
  const { lens } = useLens()
  const answer = useDistribution(
    site.key,
    { lens, selection: { type: 'everyone' } },
    { by: of, bins: 0, quantiles: [] },
  )
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
  const site = useSite()
  const { lens } = useLens()
  const catalogue = useCatalogue(site.key, lens)
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

function SignalChoice({ add }: { add: (condition: Condition) => void }) {
  const [page, setPage] = useState('')
  const [times, setTimes] = useState('1')
  const least = Number(times)
  return (
    <Values
      values={SIGNAL_KINDS.map((value) => ({ value }))}
      add={(kinds, not) => {
        const any = kinds.map((kind): Condition => ({
          type: 'signal',
          kind: kind as (typeof SIGNAL_KINDS)[number],
          ...(page && { page: { is: 'equal', to: page } }),
          ...(least > 1 && { count: { is: 'at least', to: least } }),
        }))
        const one: Condition = any.length === 1 ? any[0]! : { type: 'any', of: any }
        add(not ? { type: 'not', of: one } : one)
      }}
    >
      <div className="flex items-center gap-1.5 text-ink-soft">
        on
        <PageSelect
          label="On which page"
          none="any page"
          className="min-w-0 flex-1"
          page={page}
          setPage={setPage}
        />
        at least
        <input
          aria-label="Times"
          type="number"
          min={1}
          className={`${inputLook} !w-16`}
          value={times}
          onChange={(event) => setTimes(event.target.value)}
        />
        {least === 1 ? 'time' : 'times'}
      </div>
    </Values>
  )
}

function ActionChoice({ add }: { add: (condition: Condition) => void }) {
  const site = useSite()
  const actions = useActions(site.key)
  return (
    <Values
      values={actions.data?.map(({ name }) => ({ value: name }))}
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
  const known = segments.data ?? []
  return (
    <Values
      values={segments.data
        ?.filter((one) => segmentCondition(one, known))
        .map(({ name }) => ({ value: name }))}
      empty="No segment has been saved yet: see Segments."
      add={([name], not) => {
        const condition = segmentCondition(
          known.find((one) => one.name === name)!,
          known,
        )!
        add(not ? { type: 'not', of: condition } : condition)
      }}
      single
    />
  )
}

function NumberChoice({ of, add }: { of: SessionNumber; add: (condition: Condition) => void }) {
  const [is, setIs] = useState<'at least' | 'at most' | 'between'>('at least')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const scale = of === 'duration' ? 1000 : 1
  const low = Number(from) * scale
  const high = Number(to) * scale
  const good = from !== '' && Number.isFinite(low) && (is !== 'between' || (to !== '' && high >= low))
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        add({ type: 'number', of, test: is === 'between' ? { is, from: low, to: high } : { is, to: low } })
      }}
    >
      <Select aria-label="How" value={is} onChange={(event) => setIs(event.target.value as typeof is)}>
        <option>at least</option>
        <option>at most</option>
        <option>between</option>
      </Select>
      <div className="flex items-center gap-2">
        <input
          aria-label={is === 'between' ? 'From' : 'Number'}
          type="number"
          autoFocus
          className={inputLook}
          value={from}
          onChange={(event) => setFrom(event.target.value)}
        />
        {is === 'between' && (
          <>
            and
            <input
              aria-label="To"
              type="number"
              className={inputLook}
              value={to}
              onChange={(event) => setTo(event.target.value)}
            />
          </>
        )}
        {of === 'duration' && 'seconds'}
      </div>
      {is === 'between' && to !== '' && high < low && (
        <p role="alert" className="text-clay">
          The second number lies below the first.
        </p>
      )}
      <Button type="submit" look="primary" disabled={!good}>
        Add filter
      </Button>
    </form>
  )
}

const PATTERNS = ['containing', 'not containing', 'starting with', 'ending with', 'matching'] as const
const PATTERN_WORDS: Record<(typeof PATTERNS)[number], string> = {
  containing: 'contains',
  'not containing': 'does not contain',
  'starting with': 'begins with',
  'ending with': 'ends with',
  matching: 'matches (* any, ? one)',
}

function Values({
  values,
  add,
  single = false,
  patterns = false,
  empty = 'Nothing by that name in the lens.',
  children,
}: {
  values: { value: string; sessions?: number }[] | undefined
  add: (chosen: readonly string[], not: boolean, test?: TextTest) => void
  single?: boolean
  patterns?: boolean
  empty?: string
  /** what else there is to choose */
  children?: ReactNode
}) {
  const [how, setHow] = useState<'is' | 'is not' | (typeof PATTERNS)[number]>('is')
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [search, setSearch] = useState('')
  const pattern = PATTERNS.find((one) => one === how)
  const wanted = search.toLowerCase()
  const shown = (values ?? []).filter(
    ({ value }) => pattern !== undefined || value.toLowerCase().includes(wanted),
  )
  return (
    <form
      className="flex min-h-0 flex-1 flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (pattern) add([], false, { is: pattern, to: search })
        else add(chosen, how === 'is not')
      }}
    >
      <div className="flex gap-2">
        <Select
          aria-label="How"
          className="w-40 shrink-0"
          value={how}
          onChange={(event) => setHow(event.target.value as typeof how)}
        >
          <option>is</option>
          <option>is not</option>
          {patterns &&
            PATTERNS.map((one) => (
              <option key={one} value={one}>
                {PATTERN_WORDS[one]}
              </option>
            ))}
        </Select>
        <input
          autoFocus
          aria-label={pattern ? 'Text' : 'Search values'}
          placeholder={pattern ? 'Text' : 'Search'}
          className={inputLook}
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
      </div>
      {!pattern && (
        <div className="min-h-0 flex-1 overflow-auto rounded-md border border-line" aria-busy={!values}>
          {shown.slice(0, 500).map(({ value, sessions }) => {
            const on = chosen.includes(value)
            return (
              <button
                key={value}
                type="button"
                role={single ? 'radio' : 'checkbox'}
                aria-checked={on}
                className="flex h-7 w-full items-center gap-2 px-2 text-left hover:bg-ochre-soft"
                onClick={() =>
                  setChosen(
                    single ? [value] : on ? chosen.filter((one) => one !== value) : [...chosen, value],
                  )
                }
              >
                <Check size={13} aria-hidden className={on ? 'text-spruce' : 'invisible'} />
                <span className="min-w-0 flex-1 truncate" title={value}>
                  {value || 'not known'}
                </span>
                {sessions !== undefined && <span className="text-ink-soft">{count(sessions)}</span>}
              </button>
            )
          })}
          {values && !shown.length && <p className="p-2 text-ink-soft">{empty}</p>}
        </div>
      )}
      {children}
      <div>
        <Button type="submit" look="primary" disabled={pattern ? !search : !chosen.length}>
          Add filter
        </Button>
      </div>
    </form>
  )
}
