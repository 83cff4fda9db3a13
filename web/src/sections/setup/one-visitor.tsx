import { findVisitors } from '@dust-trail/api'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure } from '../../ui/states.tsx'
import { TextField } from '../../ui/text-field.tsx'
import { Erase } from '../visitors/erase.tsx'

const MOST_SHOWN = 20

/** Gives out, or deletes, what is known of one visitor who asks for it. */
export function OneVisitor() {
  const site = useSite()
  const [typed, setVisitor] = useState('')
  const visitor = typed.trim()
  return (
    <section aria-label="One visitor" className="space-y-2">
      <h2>When a visitor asks for their data, or to be forgotten</h2>
      <TextField
        label="Visitor"
        hint="The id that stands beside each of their sessions."
        maxLength={128}
        value={typed}
        set={setVisitor}
      />
      {visitor && (
        <div key={visitor} className="flex flex-wrap items-center gap-2">
          <a
            className="text-spruce underline"
            href={`/api/v1/sites/${encodeURIComponent(site.key)}/visitors/${encodeURIComponent(visitor)}/export.json`}
          >
            All that is kept of them (JSON)
          </a>
          <Erase visitor={visitor} />
        </div>
      )}
      <ByOwnId choose={setVisitor} />
    </section>
  )
}

/** Finds visitors by an id that the site itself sends with what it reports. */
function ByOwnId({ choose }: { choose: (visitor: string) => void }) {
  const site = useSite()
  const [property, setProperty] = useState('')
  const [value, setValue] = useState('')
  const find = useMutation({
    mutationFn: () =>
      call(findVisitors, { site: site.key }, { property: property.trim(), value: value.trim() }),
  })
  const found = find.data?.visitors
  return (
    <form
      aria-label="Find a visitor by an id of the site’s own"
      className="space-y-2"
      onSubmit={(event) => {
        event.preventDefault()
        find.mutate()
      }}
    >
      <div className="flex items-end gap-2">
        <TextField
          label="Or by a property of the site’s own"
          maxLength={120}
          value={property}
          set={setProperty}
        />
        <TextField label="which is" maxLength={500} value={value} set={setValue} />
        <Button type="submit" disabled={!property.trim() || !value.trim() || find.isPending}>
          Find
        </Button>
      </div>
      <p className="text-ink-soft">Such as customer, where the site sends it with an action.</p>
      {find.error && <Failure error={find.error} />}
      {found && (
        <p role="status">
          {found.length ? `${plural(found.length, 'visitor')}: ` : 'Nobody has sent that.'}
          {found.slice(0, MOST_SHOWN).map((one) => (
            <LinkButton key={one} className="mr-2 font-mono" onClick={() => choose(one)}>
              {one}
            </LinkButton>
          ))}
          {found.length > MOST_SHOWN && '…'}
        </p>
      )}
    </form>
  )
}
