import { createSite, listSites } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { Button } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { Dialog } from '../../ui/dialog.tsx'
import { Failure } from '../../ui/states.tsx'
import { aboutOf, newDraft, SiteFields } from './site-fields.tsx'

/** Takes another site in; its own setup opens then. */
export function NewSite({ close }: { close: () => void }) {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [draft, setDraft] = useDraft('new site', newDraft())
  const forget = useForget()
  const create = useMutation({
    mutationFn: () => call(createSite, {}, aboutOf(draft)),
    onSuccess: async (site) => {
      await client.invalidateQueries({ queryKey: [listSites.path] })
      toast(`${site.name} is there. Next: put the script on it.`)
      forget('new site')
      close()
      void navigate(`/setup?${new URLSearchParams({ site: site.key }).toString()}`)
    },
  })
  return (
    <Dialog
      open
      onClose={close}
      title="Add a site"
      description="Each site has data, funnels and fixes of its own."
      wide
    >
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          create.mutate()
        }}
      >
        <SiteFields draft={draft} setDraft={setDraft} />
        {create.error && <Failure error={create.error} />}
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look="primary" disabled={create.isPending}>
            Add site
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
