import type { SavedFunnel } from '@dust-trail/api'
import { createFunnel, deleteFunnel, listFunnels, updateFunnel } from '@dust-trail/api'
import type { FunnelOptions, Step } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Pencil } from 'lucide-react'
import type { ReactNode } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useAddress } from '../../app/address.ts'
import { useSite } from '../../app/lens.ts'
import { Button, IconButton, NameField } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { lastOwner, NoteFields, useOwner } from '../../app/note-fields.tsx'

/** What is said about a funnel, beside what it counts. */
type About = Pick<SavedFunnel, 'name' | 'note' | 'owner' | 'isDefault'>
type Fields = Omit<SavedFunnel, 'id'>

/** Saves what is on screen, in place of what was saved or as a new funnel; changes what is said about it; deletes it. */
export function SaveFunnel({
  saved,
  steps,
  options,
  edited,
  reset,
}: {
  saved: SavedFunnel | undefined
  steps: Step[]
  options: FunnelOptions
  edited: boolean
  reset: () => void
}) {
  const site = useSite()
  const client = useQueryClient()
  const [, setAddress] = useAddress()
  const forget = useForget()
  const [open, setOpen] = useDraft<'new' | 'about' | null>('funnel/open', null)
  /** shows a funnel as it is saved, or the first one; edits stay where only what is said about it has changed */
  const show = async (id: number | undefined, keepEdits = false) => {
    await client.invalidateQueries({ queryKey: [listFunnels.path] })
    setAddress((before) => {
      const changed = new URLSearchParams(before)
      if (id === undefined) changed.delete('funnel')
      else changed.set('funnel', String(id))
      if (!keepEdits) for (const name of ['steps', 'options']) changed.delete(name)
      return changed
    })
  }
  const close = () => {
    setOpen(null)
    forget('funnel/')
  }
  const update = useMutation({
    mutationFn: ({ id, ...fields }: SavedFunnel) => call(updateFunnel, { site: site.key, id }, fields),
  })
  const create = useMutation({
    mutationFn: (fields: Fields) => call(createFunnel, { site: site.key }, fields),
    onSuccess: ({ id }) => {
      close()
      toast('Funnel saved.')
      void show(id)
    },
  })
  const remove = useMutation({
    mutationFn: ({ id }: SavedFunnel) => call(deleteFunnel, { site: site.key, id }),
    onSuccess: (_, { id: _id, ...fields }) => {
      close()
      toast(`Funnel “${fields.name}” deleted.`, {
        action: {
          label: 'Undo',
          onClick: () => create.mutate(fields, { onError: (error) => toast(error.message) }),
        },
      })
      void show(undefined)
    },
    onError: (error) => toast(error.message),
  })
  return (
    <div className="flex shrink-0 gap-2">
      {edited && <Button onClick={reset}>Undo edits</Button>}
      {edited && saved && (
        <Button
          look="primary"
          disabled={update.isPending}
          onClick={() =>
            update.mutate(
              { ...saved, steps, options },
              {
                onSuccess: ({ id }) => {
                  toast('Funnel saved.')
                  void show(id)
                },
                onError: (error) => toast(error.message),
              },
            )
          }
        >
          Save funnel
        </Button>
      )}
      <Button disabled={!steps.length} onClick={() => setOpen('new')}>
        Save as new
      </Button>
      {saved && (
        <IconButton
          label="Name, note, owner"
          className="!size-8"
          onClick={() => {
            // What went wrong with another change is no matter here.
            update.reset()
            setOpen('about')
          }}
        >
          <Pencil size={15} />
        </IconButton>
      )}
      {open === 'new' && (
        <AboutDialog
          title="Save as a new funnel"
          draft="funnel/new/"
          about={{ name: '', note: '', owner: lastOwner(), isDefault: false }}
          error={create.error?.message}
          save={(about) => create.mutate({ ...about, steps, options })}
          close={() => setOpen(null)}
        />
      )}
      {open === 'about' && saved && (
        <AboutDialog
          title="What is said about this funnel"
          draft={`funnel/${saved.id}/`}
          about={saved}
          error={update.error?.message}
          save={(about) =>
            update.mutate(
              { ...saved, ...about },
              {
                onSuccess: ({ id }) => {
                  close()
                  toast('Saved.')
                  void show(id, true)
                },
              },
            )
          }
          close={() => setOpen(null)}
        >
          <Button look="danger" disabled={remove.isPending} onClick={() => remove.mutate(saved)}>
            Delete this funnel
          </Button>
        </AboutDialog>
      )}
    </div>
  )
}

function AboutDialog({
  title,
  draft,
  about,
  error,
  save,
  close,
  children,
}: {
  title: string
  /** under which what was typed is kept */
  draft: string
  about: About
  error: string | undefined
  save: (about: About) => void
  close: () => void
  children?: ReactNode
}) {
  const [name, setName] = useDraft(`${draft}name`, about.name)
  const [note, setNote] = useDraft(`${draft}note`, about.note)
  const [isDefault, setIsDefault] = useDraft(`${draft}default`, about.isDefault)
  const [owner, setOwner] = useOwner(about.owner)
  return (
    <FormDialog
      title={title}
      close={close}
      submit={() => save({ name, note, owner, isDefault })}
      submitText="Save funnel"
      beside={children}
    >
      <NameField error={error} name={name} setName={setName} />
      <NoteFields
        label="Note"
        hint="What it is for, what one must know."
        {...{ note, setNote, owner, setOwner }}
      />
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={isDefault} onChange={(event) => setIsDefault(event.target.checked)} />
        Show this one first
      </label>
    </FormDialog>
  )
}
