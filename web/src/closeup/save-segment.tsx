import { createSegment, listSegments } from '@dust-trail/api'
import type { Condition, Noise } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { call } from '../api/call.ts'
import { useLensLink, useSite } from '../app/lens.ts'
import { NameField } from '../ui/controls.tsx'
import { useDraft, useForget } from '../ui/draft.ts'
import { FormDialog } from '../ui/form-dialog.tsx'
import { NoteFields, useOwner } from '../app/note-fields.tsx'
import { conditionWords, noiseWords } from '../words/sentences.ts'

/** Keeps a condition, with the noise left out, as a segment: by itself, or as one cut from another. */
export function SaveSegment({
  condition,
  clean,
  parentId = null,
  suggested,
  close,
}: {
  condition: Condition | null
  clean: Noise[]
  parentId?: number | null
  suggested: string
  close: (saved?: number) => void
}) {
  const site = useSite()
  const client = useQueryClient()
  const linkTo = useLensLink()
  const draft = `segment/${JSON.stringify(condition)}/`
  const [name, setName] = useDraft(`${draft}name`, suggested.slice(0, 120))
  const [note, setNote] = useDraft(`${draft}note`, '')
  const forget = useForget()
  const [owner, setOwner] = useOwner()
  const save = useMutation({
    mutationFn: () =>
      call(createSegment, { site: site.key }, { name, note, owner, parentId, cut: { condition, clean } }),
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: [listSegments.path] })
      toast(
        <span>
          Segment saved.{' '}
          <Link className="underline" to={linkTo('/segments', { segment: String(id) })}>
            Look at it
          </Link>
        </span>,
      )
      forget(draft)
      close(id)
    },
  })
  const words = [condition && conditionWords(condition), ...clean.map(noiseWords)].filter(Boolean).join('; ')
  return (
    <FormDialog
      title="Save segment"
      description={`Sessions: ${words || 'all'}`}
      close={() => close()}
      submit={() => save.mutate()}
      submitText="Save segment"
      saving={save.isPending}
    >
      <NameField error={save.error?.message} name={name} setName={setName} />
      <NoteFields
        label="Why"
        hint="What made you cut it out: you will have forgotten in a month."
        {...{ note, setNote, owner, setOwner }}
      />
    </FormDialog>
  )
}
