import { useState } from 'react'
import { z } from 'zod'
import { Field, inputLook } from '../ui/controls.tsx'
import { readStored, writeStored } from '../ui/stored.ts'
import { OwnerField } from './owner-field.tsx'

const ownerSchema = z.string()

/** The owner of something; where it has none yet, the owner that was entered last in this browser. */
export function useOwner(known?: string): [owner: string, setOwner: (owner: string) => void] {
  const [owner, setOwner] = useState(known ?? lastOwner())
  return [
    owner,
    (next) => {
      setOwner(next)
      writeStored('owner', next)
    },
  ]
}

export function lastOwner(): string {
  return readStored('owner', ownerSchema, '')
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
      <OwnerField owner={owner} setOwner={setOwner} />
    </>
  )
}
