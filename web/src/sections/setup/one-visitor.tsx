import { useState } from 'react'
import { TextField } from '../../ui/text-field.tsx'
import { Erase } from '../visitors/erase.tsx'

/** Deletes what is known of one visitor who asks for it. */
export function OneVisitor() {
  const [typed, setVisitor] = useState('')
  const visitor = typed.trim()
  return (
    <section aria-label="One visitor" className="space-y-2">
      <h2>When a visitor asks to be forgotten</h2>
      <TextField
        label="Visitor"
        hint="The id that stands beside each of their sessions."
        maxLength={128}
        value={typed}
        set={setVisitor}
      />
      {visitor && <Erase key={visitor} visitor={visitor} />}
    </section>
  )
}
