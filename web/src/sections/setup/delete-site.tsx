import { deleteSite } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { plural } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'
import { TextField } from '../../ui/text-field.tsx'

/** Deletes the site with all that is kept of it, once its name has been written. */
export function DeleteSite() {
  const site = useSite()
  const client = useQueryClient()
  const navigate = useNavigate()
  const [open, setOpen] = useState(false)
  const [name, setName] = useState('')
  const remove = useMutation({
    mutationFn: () => call(deleteSite, { site: site.key }, { name }),
    onSuccess: async ({ sessions }) => {
      toast(`${site.name} is deleted, with ${plural(sessions, 'session')}.`)
      await navigate('/')
      await client.resetQueries()
    },
  })
  return (
    <section aria-label="Delete the site" className="space-y-2">
      <h2>Delete the site</h2>
      <p className="text-ink-soft">
        {plural(site.sessions, 'session')}, recordings, labels, segments, funnels, fixes and cases go for
        good. That it was done stays in the log.
      </p>
      <Button look="danger" onClick={() => setOpen(true)}>
        Delete {site.name} …
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} title={`Delete ${site.name} for good?`}>
        <TextField
          label="Its name, once more"
          hint="So that nobody does it by mistake."
          maxLength={80}
          value={name}
          set={setName}
        />
        {remove.error && <Failure error={remove.error} />}
        <div className="mt-3 flex justify-end gap-2">
          <Button onClick={() => setOpen(false)}>Keep</Button>
          <Button
            look="primary"
            disabled={name.trim() !== site.name || remove.isPending}
            onClick={() => remove.mutate()}
          >
            Delete for good
          </Button>
        </div>
      </Dialog>
    </section>
  )
}
