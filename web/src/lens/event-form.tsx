import type { EventCondition, Kind, NumberTest } from '@dust-trail/core'
import { KINDS } from '@dust-trail/core'
import { Plus, X } from 'lucide-react'
import { useId } from 'react'
import { useEventValues } from '../api/queries.ts'
import { useLens, useSite } from '../app/lens.ts'
import { Button, IconButton, inputLook, Select } from '../ui/controls.tsx'
import { useDraft, useForget } from '../ui/draft.ts'
import { plural } from '../ui/format.ts'
import type { Often, Part, PartOf } from './event-parts.ts'
import { SizeOf } from './size-of.tsx'
import {
  eventFrom,
  fixedValues,
  howsFor,
  KIND_WORDS,
  partsOf,
  suggestionsFor,
  timesFrom,
} from './event-parts.ts'

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

function emptyPart(of: PartOf): Part {
  return { of, key: '', how: Object.keys(howsFor(of))[0]!, value: fixedValues(of)?.[0] ?? '' }
}

function PartRow({
  kind,
  part,
  possible,
  set,
  remove,
}: {
  kind: Kind
  part: Part
  possible: [PartOf, string][]
  set: (change: Partial<Part>) => void
  remove: () => void
}) {
  const fixed = fixedValues(part.of)
  return (
    <li className="flex flex-wrap items-center gap-1.5">
      <Select
        aria-label="Of it"
        className="w-36"
        value={part.of}
        onChange={(changed) => set(emptyPart(changed.target.value as PartOf))}
      >
        {possible.map(([of, words]) => (
          <option key={of} value={of}>
            {words}
          </option>
        ))}
      </Select>
      {part.of === 'property' && (
        <Suggested
          label="Which property"
          kind={kind}
          part={{ ...part, key: '' }}
          value={part.key}
          set={(key) => set({ key })}
        />
      )}
      <Select
        aria-label="How"
        className="w-32"
        value={part.how}
        onChange={(changed) => set({ how: changed.target.value })}
      >
        {Object.entries(howsFor(part.of)).map(([how, words]) => (
          <option key={how} value={how}>
            {words}
          </option>
        ))}
      </Select>
      {fixed ? (
        <Select
          aria-label="Value"
          value={part.value}
          onChange={(changed) => set({ value: changed.target.value })}
        >
          {fixed.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Select>
      ) : (
        <Suggested label="Value" kind={kind} part={part} value={part.value} set={(value) => set({ value })} />
      )}
      <IconButton label="Take this part out" onClick={remove}>
        <X size={13} />
      </IconButton>
    </li>
  )
}

/** A text for which the data has suggestions, each with the sessions it occurs in. */
function Suggested({
  label,
  kind,
  part,
  value,
  set,
}: {
  label: string
  kind: Kind
  part: Part
  value: string
  set: (value: string) => void
}) {
  const site = useSite()
  const { lens } = useLens()
  const list = useId()
  const asked = suggestionsFor(part)
  const values = useEventValues(site.key, lens, kind, asked)
  return (
    <>
      <input
        aria-label={label}
        list={list}
        className={`${inputLook} min-w-24 !w-auto flex-1`}
        value={value}
        onChange={(changed) => set(changed.target.value)}
      />
      <datalist id={list}>
        {(asked ? (values.data?.values ?? []) : []).map((one) => (
          <option key={one.value} value={one.value}>
            {plural(one.sessions, 'session')}
          </option>
        ))}
      </datalist>
    </>
  )
}
