import { deleteVisitor } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button, Field, inputLook } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { plural } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

/** Deletes what is known of one visitor who asks for it. */
export function OneVisitor() {
  const site = useSite()
  const client = useQueryClient()
  const [visitor, setVisitor] = useState('')
  const [sure, setSure] = useState(false)
  const remove = useMutation({
    mutationFn: () => call(deleteVisitor, { site: site.key, visitor: visitor.trim() }, undefined),
    onSuccess: () => void client.invalidateQueries(),
    onSettled: () => setSure(false),
  })
  return (
    <section aria-label="One visitor" className="space-y-2">
      <h2>When a visitor asks to be forgotten</h2>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          setSure(true)
        }}
      >
        <div className="min-w-0 flex-1">
          <Field label="Visitor" hint="The id that stands beside each of their sessions.">
            <input
              className={inputLook}
              value={visitor}
              maxLength={128}
              onChange={(event) => {
                setVisitor(event.target.value)
                remove.reset()
              }}
            />
          </Field>
        </div>
        <Button type="submit" disabled={!visitor.trim() || remove.isPending}>
          Delete this visitor…
        </Button>
      </form>
      {remove.error && <Failure error={remove.error} />}
      {remove.data && (
        <p role="status">{plural(remove.data.sessions, 'session')} deleted, with recordings.</p>
      )}
      <Dialog open={sure} onClose={() => setSure(false)} title={`Delete all of visitor ${visitor.trim()}?`}>
        <p>Sessions, events and recordings go for good, from every answer and from the database.</p>
        <div className="mt-3 flex justify-end gap-2">
          <Button onClick={() => setSure(false)}>Keep</Button>
          <Button look="primary" onClick={() => remove.mutate()}>
            Delete for good
          </Button>
        </div>
      </Dialog>
    </section>
  )
}
