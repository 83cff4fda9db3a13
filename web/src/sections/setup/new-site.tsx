import { createSite, listSites } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useDraft, useForget } from '../../ui/draft.ts'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { aboutOf, newDraft, SiteFields } from './site-fields.tsx'

/** What is typed about a site that is to come, and the way to take it in: its own setup opens then. */
export function useNewSite(done: () => void) {
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
      done()
      void navigate(`/setup?${new URLSearchParams({ site: site.key }).toString()}`)
    },
  })
  return { draft, setDraft, create }
}

/** Takes another site in. */
export function NewSite({ close }: { close: () => void }) {
  const { draft, setDraft, create } = useNewSite(close)
  return (
    <FormDialog
      title="Add a site"
      description="Each site has data, funnels and fixes of its own."
      wide
      close={close}
      submit={() => create.mutate()}
      submitText="Add site"
      error={create.error}
      saving={create.isPending}
    >
      <SiteFields draft={draft} setDraft={setDraft} />
    </FormDialog>
  )
}
