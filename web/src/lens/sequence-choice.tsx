import type { Condition, EventCondition, SequenceStep } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { X } from 'lucide-react'
import { useMemo } from 'react'
import { useActions } from '../api/queries.ts'
import { useQuestion } from '../api/use-question.ts'
import { useLens, useSite } from '../app/lens.ts'
import { Button, IconButton, inputLook, Select } from '../ui/controls.tsx'
import { useDraft } from '../ui/draft.ts'
import { elementName } from '../words/selections.ts'
import { conditionWords } from '../words/sentences.ts'
import { SizeOf } from './size-of.tsx'

type Sequence = Extract<Condition, { type: 'sequence' }>

/** One step as it is being put together: events by their key in the list of what there is; "" = none yet. */
interface Row {
  event: string
  how: SequenceStep['how']
  seconds: string
  without: string
}

const EMPTY: Row = { event: '', how: 'later', seconds: '', without: '' }
const MOST_ROWS = 8
const MOST_CLICKS = 200
const ANCHOR_WORDS: Record<Sequence['anchor'], string> = {
  anywhere: 'did, among other things,',
  'starts with': 'began with',
  'ends with': 'ended with',
  only: 'did only',
}

/** A condition on what was done in which order. */
export function SequenceChoice({ add }: { add: (condition: Condition) => void }) {
  const events = useEvents()
  const [anchor, setAnchor] = useDraft<Sequence['anchor']>('sequence/anchor', 'anywhere')
  const [rows, setRows] = useDraft<Row[]>('sequence/rows', [EMPTY, EMPTY])
  const [minutes, setMinutes] = useDraft('sequence/minutes', '')
  const set = (k: number, change: Partial<Row>) =>
    setRows(rows.map((row, i) => (i === k ? { ...row, ...change } : row)))
  const sequence = sequenceOf(anchor, rows, minutes, (key) => events.get(key)?.event)
  return (
    <form
      aria-label="In order"
      className="flex min-h-0 flex-1 flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (!sequence) return
        setRows([EMPTY, EMPTY])
        setMinutes('')
        setAnchor('anywhere')
        add(sequence)
      }}
    >
      <Select
        aria-label="Where in the session"
        value={anchor}
        onChange={(event) => setAnchor(event.target.value as Sequence['anchor'])}
      >
        {Object.entries(ANCHOR_WORDS).map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </Select>
      <ol className="min-h-0 flex-1 space-y-2 overflow-auto rounded-md border border-line p-2">
        {rows.map((row, k) => (
          <li key={k} className="space-y-1">
            <div className="flex items-center gap-1.5">
              {k > 0 && (
                <Select
                  aria-label={`How step ${k + 1} follows`}
                  className="w-32 shrink-0"
                  value={row.how}
                  onChange={(event) => set(k, { how: event.target.value as Row['how'] })}
                >
                  <option value="later">then later</option>
                  <option value="directly">then directly</option>
                </Select>
              )}
              <EventSelect
                label={`Step ${k + 1}`}
                none="choose …"
                events={events}
                value={row.event}
                set={(event) => set(k, { event })}
              />
              {rows.length > 1 && (
                <IconButton
                  label={`Remove step ${k + 1}`}
                  onClick={() => setRows(rows.filter((_, i) => i !== k))}
                >
                  <X size={13} />
                </IconButton>
              )}
            </div>
            {k > 0 && (
              <div className="flex items-center gap-1.5 pl-4 text-ink-soft">
                within
                <input
                  aria-label={`Seconds to step ${k + 1}`}
                  type="number"
                  min={0}
                  className={`${inputLook} !w-16`}
                  value={row.seconds}
                  onChange={(event) => set(k, { seconds: event.target.value })}
                />
                s, without
                <EventSelect
                  label={`Without, before step ${k + 1}`}
                  none="anything named"
                  events={events}
                  value={row.without}
                  set={(without) => set(k, { without })}
                />
              </div>
            )}
          </li>
        ))}
        {rows.length < MOST_ROWS && (
          <li>
            <Button look="quiet" onClick={() => setRows([...rows, EMPTY])}>
              and then …
            </Button>
          </li>
        )}
      </ol>
      <label className="flex items-center gap-1.5 text-ink-soft">
        all within
        <input
          aria-label="Minutes from first to last"
          type="number"
          min={0}
          className={`${inputLook} !w-16`}
          value={minutes}
          onChange={(event) => setMinutes(event.target.value)}
        />
        minutes
      </label>
      <p className="line-clamp-3">{sequence ? `Sessions that ${conditionWords(sequence)}` : ''}</p>
      <SizeOf condition={sequence} missing="Choose what each step is." />
      <div>
        <Button type="submit" look="primary" disabled={!sequence}>
          Add filter
        </Button>
      </div>
    </form>
  )
}

/** The sequence that rows stand for; undefined while a step is missing. */
export function sequenceOf(
  anchor: Sequence['anchor'],
  rows: readonly Row[],
  minutes: string,
  eventOf: (key: string) => EventCondition | undefined,
): Sequence | undefined {
  const steps: SequenceStep[] = []
  for (const [k, { event: key, how, seconds, without: other }] of rows.entries()) {
    const event = eventOf(key)
    if (!event) return undefined
    const without = eventOf(other)
    steps.push({
      event,
      how: k ? how : 'later',
      ...(k > 0 && seconds !== '' && { withinMs: Number(seconds) * 1000 }),
      ...(k > 0 && without && { without }),
    })
  }
  return {
    type: 'sequence',
    anchor,
    steps,
    ...(minutes !== '' && { withinMs: Number(minutes) * 60_000 }),
  }
}

export interface Choosable {
  group: 'Pages' | 'Actions' | 'Clicks'
  words: string
  event: EventCondition
}

/** What there is to choose, by a key that stays the same. */
export function useEvents(): Map<string, Choosable> {
  const site = useSite()
  const { lens } = useLens()
  const catalogue = useQuestion(questions.catalogue, lens, {})
  const actions = useActions(site.key)
  return useMemo(() => {
    const all: Choosable[] = [
      ...(catalogue.data?.pages ?? []).map(({ page }): Choosable => ({
        group: 'Pages',
        words: page,
        event: { kinds: ['page'], page: { is: 'equal', to: page } },
      })),
      ...(actions.data ?? []).map(({ name }): Choosable => ({
        group: 'Actions',
        words: name,
        event: { action: name },
      })),
      ...(catalogue.data?.elements ?? [])
        .slice(0, MOST_CLICKS)
        .map(({ page, selector, text }): Choosable => ({
          group: 'Clicks',
          words: `${elementName(text, selector)}, ${page}`,
          event: {
            kinds: ['click'],
            page: { is: 'equal', to: page },
            element: { is: 'equal', to: selector },
          },
        })),
    ]
    return new Map(all.map((one) => [JSON.stringify(one.event), one]))
  }, [catalogue.data, actions.data])
}

/** Choice of one thing that happens, from what there is. */
export function EventSelect({
  label,
  none,
  events,
  value,
  set,
}: {
  label: string
  none: string
  events: Map<string, Choosable>
  value: string
  set: (key: string) => void
}) {
  return (
    <Select
      aria-label={label}
      className="min-w-0 flex-1"
      value={events.has(value) ? value : ''}
      onChange={(event) => set(event.target.value)}
    >
      <option value="">{none}</option>
      {(['Pages', 'Actions', 'Clicks'] as const).map((group) => (
        <optgroup key={group} label={group}>
          {[...events]
            .filter(([, one]) => one.group === group)
            .map(([key, { words }]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
        </optgroup>
      ))}
    </Select>
  )
}
