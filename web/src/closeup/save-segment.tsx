import { createSegment, listSegments } from '@dust-trail/api'
import type { Condition, Noise } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { call } from '../api/call.ts'
import { keepLens, useSite } from '../app/lens.ts'
import { conditionWords, noiseWords } from '../lens/words.ts'
import { Button, NameField } from '../ui/controls.tsx'
import { useDraft, useForget } from '../ui/draft.ts'
import { Dialog } from '../ui/dialog.tsx'
import { NoteFields, useOwner } from '../ui/note-fields.tsx'

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
  const [parameters] = useSearchParams()
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
          <Link className="underline" to={keepLens('/segments', parameters, { segment: String(id) })}>
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
    <Dialog open onClose={() => close()} title="Save segment" description={`Sessions: ${words || 'all'}`}>
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          save.mutate()
        }}
      >
        <NameField error={save.error?.message} name={name} setName={setName} />
        <NoteFields
          label="Why"
          hint="What made you cut it out: you will have forgotten in a month."
          {...{ note, setNote, owner, setOwner }}
        />
        <div className="flex justify-end gap-2">
          <Button onClick={() => close()}>Cancel</Button>
          <Button type="submit" look="primary" disabled={save.isPending}>
            Save segment
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
