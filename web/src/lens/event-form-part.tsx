import { questions, type Kind } from '@dust-trail/core'
import { X } from 'lucide-react'
import { useId } from 'react'
import { useQuestion } from '../api/use-question.ts'
import { useLens } from '../app/lens.ts'
import { IconButton, inputLook, Select } from '../ui/controls.tsx'
import { plural } from '../ui/format.ts'
import type { Part, PartOf } from '../words/event-parts.ts'
import { fixedValues, howsFor, suggestionsFor } from '../words/event-parts.ts'

export function PartRow({
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
  const { lens } = useLens()
  const list = useId()
  const asked = suggestionsFor(part)
  const values = useQuestion(
    questions.eventValues,
    lens,
    { kind, ...(asked ?? { of: 'name' }) },
    { enabled: asked !== undefined, keep: false },
  )
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

export function emptyPart(of: PartOf): Part {
  return { of, key: '', how: Object.keys(howsFor(of))[0]!, value: fixedValues(of)?.[0] ?? '' }
}
