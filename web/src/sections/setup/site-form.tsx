import { updateSite } from '@dust-trail/api'
import { questions } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { Button, Field, Select } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { count } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'
import { aboutOf, draftOf, SiteFields } from './site-fields.tsx'

/** What is known of the site, and which page is its goal. */
export function SiteForm() {
  const site = useSite()
  const { lens } = useLens()
  const client = useQueryClient()
  const [draft, setDraft] = useDraft('site/draft', draftOf(site))
  const [goal, setGoal] = useDraft('site/goal', site.goal)
  const forget = useForget()
  const pages = useQuestion(questions.catalogue, lens, {}).data?.pages ?? []
  const sessionsOf = new Map(pages.map(({ page, sessions }) => [page, sessions]))
  const choices = [...new Set([...site.pageGroups.map(({ name }) => name), ...sessionsOf.keys()])]
  const save = useMutation({
    mutationFn: () => {
      const { retentionDays, recordingDays } = site
      return call(updateSite, { site: site.key }, { ...aboutOf(draft), goal, retentionDays, recordingDays })
    },
    onSuccess: () => {
      void client.invalidateQueries()
      forget('site/')
      toast('Site saved.')
    },
  })
  return (
    <form
      aria-label="The site"
      className="space-y-4"
      onSubmit={(event) => {
        event.preventDefault()
        save.mutate()
      }}
    >
      <h2>The site</h2>
      <SiteFields draft={draft} setDraft={setDraft} />
      <Field label="Goal" hint="Seeing this page is the main goal. Other goals, actions and values: above.">
        <Select className="w-full" value={goal} onChange={(event) => setGoal(event.target.value)}>
          <option value="">No goal yet</option>
          {(goal === '' ? choices : [...new Set([goal, ...choices])]).map((page) => (
            <option key={page} value={page}>
              {page}
              {sessionsOf.has(page) ? ` (${count(sessionsOf.get(page)!)} sessions in the lens)` : ''}
            </option>
          ))}
        </Select>
      </Field>
      {save.error && <Failure error={save.error} />}
      <Button type="submit" look="primary" disabled={save.isPending}>
        Save site
      </Button>
    </form>
  )
}
