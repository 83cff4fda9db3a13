import type { EventCondition, Kind, NumberTest } from '@dust-trail/core'
import { KINDS } from '@dust-trail/core'
import { Plus } from 'lucide-react'
import { Button, inputLook, Select } from '../ui/controls.tsx'
import { useDraft, useForget } from '../ui/draft.ts'
import type { Often, Part } from '../words/event-parts.ts'
import { eventFrom, KIND_WORDS, partsOf, timesFrom } from '../words/event-parts.ts'
import { emptyPart, PartRow } from './event-form-part.tsx'
import { SizeOf } from './size-of.tsx'

const MOST_PARTS = 8
const ALWAYS: Often = { how: '', times: '' }

/** A condition on anything that happens: of what kind, and what holds of it; with how many sessions it means so far. */
export function EventForm({
  draft,
  first = 'click',
  often: asksOften = false,
  submit,
  add,
}: {
  /** under which what was typed is kept */
  draft: string
  first?: Kind
  /** whether it matters how often it happened */
  often?: boolean
  /** what the button says */
  submit: string
  add: (event: EventCondition, count: NumberTest | undefined) => void
}) {
  const forget = useForget()
  const [kind, setKind] = useDraft<Kind>(`${draft}kind`, first)
  const [parts, setParts] = useDraft<Part[]>(`${draft}parts`, [])
  const [often, setOften] = useDraft<Often>(`${draft}often`, ALWAYS)
  const possible = partsOf(kind)
  const event = eventFrom(kind, parts)
  const times = timesFrom(often)
  const good = event !== undefined && (often.how === '' || times !== undefined)
  const set = (k: number, change: Partial<Part>) =>
    setParts(parts.map((part, i) => (i === k ? { ...part, ...change } : part)))
  const addPart = () => {
    const free = possible.find(([of]) => !parts.some((part) => part.of === of)) ?? possible[0]!
    setParts([...parts, emptyPart(free[0])])
  }
  return (
    <form
      aria-label="Something that happened"
      className="flex min-h-0 flex-1 flex-col gap-2"
      onSubmit={(submitted) => {
        submitted.preventDefault()
        if (!good) return
        setParts([])
        setOften(ALWAYS)
        forget(draft)
        add(event, times)
      }}
    >
      <Select
        aria-label="What happened"
        value={kind}
        onChange={(changed) => {
          const next = changed.target.value as Kind
          const still = partsOf(next).map(([of]) => of)
          setKind(next)
          setParts(parts.filter(({ of }) => still.includes(of)))
        }}
      >
        {KINDS.map((one) => (
          <option key={one} value={one}>
            {KIND_WORDS[one]}
          </option>
        ))}
      </Select>
      <ul className="-mx-1 min-h-0 flex-1 space-y-2 overflow-auto p-1" aria-label="What holds of it">
        {parts.map((part, k) => (
          <PartRow
            key={k}
            kind={kind}
            part={part}
            possible={possible}
            set={(change) => set(k, change)}
            remove={() => setParts(parts.filter((_, i) => i !== k))}
          />
        ))}
        {parts.length < MOST_PARTS && (
          <li>
            <Button look="quiet" onClick={addPart}>
              <Plus size={13} aria-hidden /> {parts.length ? 'and' : 'of which'} …
            </Button>
          </li>
        )}
      </ul>
      {asksOften && (
        <div className="flex items-center gap-1.5">
          <Select
            aria-label="How often"
            value={often.how}
            onChange={(changed) => setOften({ ...often, how: changed.target.value as Often['how'] })}
          >
            <option value="">at least once</option>
            <option value="at least">at least so often</option>
            <option value="at most">at most so often</option>
            <option value="equal">exactly so often</option>
          </Select>
          {often.how && (
            <input
              aria-label="Times"
              type="number"
              min={0}
              className={`${inputLook} !w-20`}
              value={often.times}
              onChange={(changed) => setOften({ ...often, times: changed.target.value })}
            />
          )}
        </div>
      )}
      <SizeOf
        missing="Something is still missing."
        condition={good ? { type: 'event', event, ...(times && { count: times }) } : undefined}
      />
      <div>
        <Button type="submit" look="primary" disabled={!good}>
          {submit}
        </Button>
      </div>
    </form>
  )
}
