import { useState } from 'react'
import { Field, inputLook } from './controls.tsx'

/** Who something belongs to: whoever was named last on this machine, unless it has an owner. */
export function useOwner(known?: string): [owner: string, setOwner: (owner: string) => void] {
  const [owner, setOwner] = useState(known ?? lastOwner())
  return [
    owner,
    (next) => {
      setOwner(next)
      localStorage.setItem('owner', next)
    },
  ]
}

export function lastOwner(): string {
  return localStorage.getItem('owner') ?? ''
}

/** What one must know of it, and who it belongs to. */
export function NoteFields({
  label,
  hint,
  note,
  setNote,
  owner,
  setOwner,
}: {
  label: string
  hint?: string
  note: string
  setNote: (note: string) => void
  owner: string
  setOwner: (owner: string) => void
}) {
  return (
    <>
      <Field label={label} {...(hint !== undefined && { hint })}>
        <textarea
          rows={2}
          maxLength={2000}
          className={inputLook}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
      </Field>
      <Field label="Owner">
        <input
          maxLength={120}
          className={inputLook}
          value={owner}
          onChange={(event) => setOwner(event.target.value)}
        />
      </Field>
    </>
  )
}
