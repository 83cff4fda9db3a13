import type { Segment } from '@dust-trail/api'
import { createSegment, deleteSegment, listSegments, updateSegment } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button, NameField } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { NoteFields, useOwner } from '../../app/note-fields.tsx'

/** What a segment is called and why it was cut; and its end. */
export function EditSegment({ segment, close }: { segment: Segment; close: () => void }) {
  const site = useSite()
  const client = useQueryClient()
  const [name, setName] = useDraft(`node/${segment.id}/name`, segment.name)
  const [note, setNote] = useDraft(`node/${segment.id}/note`, segment.note)
  const [owner, setOwner] = useOwner(segment.owner)
  const forget = useForget()
  const done = async () => {
    await client.invalidateQueries({ queryKey: [listSegments.path] })
    forget(`node/${segment.id}/`)
    close()
  }
  const params = { site: site.key, id: segment.id }
  const save = useMutation({
    mutationFn: () => call(updateSegment, params, { name, note, owner }),
    onSuccess: done,
  })
  const restore = useMutation({
    mutationFn: () => {
      const { id: _, createdMs: __, ...fields } = segment
      return call(createSegment, { site: site.key }, fields)
    },
    onSuccess: () => client.invalidateQueries({ queryKey: [listSegments.path] }),
    onError: (error) => toast(error.message),
  })
  const remove = useMutation({
    mutationFn: () => call(deleteSegment, params),
    onSuccess: () => {
      toast(`Segment “${segment.name}” deleted.`, {
        action: { label: 'Undo', onClick: () => restore.mutate() },
      })
      return done()
    },
  })
  const error = save.error ?? remove.error
  return (
    <FormDialog
      title="Segment"
      close={close}
      submit={() => save.mutate()}
      submitText="Save"
      error={error}
      beside={
        <Button look="danger" onClick={() => remove.mutate()}>
          Delete
        </Button>
      }
    >
      <NameField error={undefined} name={name} setName={setName} />
      <NoteFields label="Why" {...{ note, setNote, owner, setOwner }} />
    </FormDialog>
  )
}
