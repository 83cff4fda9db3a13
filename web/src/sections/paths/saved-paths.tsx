import type { SavedPaths as Saved } from '@dust-trail/api'
import { createPaths, deletePaths, listPaths } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Bookmark, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useLensLink, useSite } from '../../app/lens.ts'
import { Button, IconButton, NameField } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { MenuItem } from '../../ui/menu-item.tsx'
import { NoteFields, useOwner } from '../../app/note-fields.tsx'
import { Popover } from '../../ui/popover.tsx'
import type { PathsAsked } from './use-paths.ts'

/** Paths that are kept by name, and a way to keep those on screen. */
export function SavedPaths({ asked }: { asked: PathsAsked }) {
  const site = useSite()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const client = useQueryClient()
  const [open, setOpen] = useState(false)
  const [saving, setSaving] = useDraft('paths/saving', false)
  const saved = useEndpoint(listPaths, { site: site.key }, undefined)
  const changed = () => void client.invalidateQueries({ queryKey: [listPaths.path] })
  const remove = useMutation({
    mutationFn: ({ id }: Saved) => call(deletePaths, { site: site.key, id }, undefined),
    onSuccess: (_, { id: _id, ...fields }) => {
      changed()
      toast(`Paths “${fields.name}” deleted.`, {
        action: {
          label: 'Undo',
          onClick: () => void call(createPaths, { site: site.key }, fields).then(changed),
        },
      })
    },
  })
  return (
    <>
      <Popover
        label="Saved paths"
        open={open}
        setOpen={setOpen}
        className="w-80 p-1.5"
        trigger={
          <Button look="quiet">
            <Bookmark size={14} aria-hidden /> Saved{saved.data?.length ? ` ${saved.data.length}` : ''}
          </Button>
        }
      >
        {saved.data?.map((one) => (
          <div key={one.id} className="flex items-center gap-1">
            <MenuItem
              title={[one.note, one.owner].filter(Boolean).join(' · ')}
              onClick={() => {
                setOpen(false)
                void navigate(linkTo('/paths', addressOf(one.asked)))
              }}
            >
              {one.name}
            </MenuItem>
            <IconButton label={`Delete “${one.name}”`} onClick={() => remove.mutate(one)}>
              <Trash2 size={14} />
            </IconButton>
          </div>
        ))}
        {!saved.data?.length && <p className="px-2 py-1 text-ink-soft">Nothing is kept yet.</p>}
        <Button
          className="mt-1"
          onClick={() => {
            setOpen(false)
            setSaving(true)
          }}
        >
          Keep what is on screen …
        </Button>
      </Popover>
      {saving && <SaveDialog asked={asked} close={() => setSaving(false)} saved={changed} />}
    </>
  )
}

function SaveDialog({ asked, close, saved }: { asked: PathsAsked; close: () => void; saved: () => void }) {
  const site = useSite()
  const forget = useForget()
  const [name, setName] = useDraft('paths/name', '')
  const [note, setNote] = useDraft('paths/note', '')
  const [owner, setOwner] = useOwner('')
  const { page, origin, way, depth, least, walk } = asked
  const save = useMutation({
    mutationFn: () =>
      call(
        createPaths,
        { site: site.key },
        { name, note, owner, asked: { page, origin, way, depth, least, walk } },
      ),
    onSuccess: () => {
      close()
      forget('paths/')
      saved()
      toast('Paths saved.')
    },
  })
  return (
    <FormDialog
      title="Keep these paths"
      close={close}
      submit={() => save.mutate()}
      submitText="Save paths"
      ready={name.trim() !== ''}
      saving={save.isPending}
      error={save.error}
    >
      <NameField error={undefined} name={name} setName={setName} />
      <NoteFields label="Note" hint="What they are for." {...{ note, setNote, owner, setOwner }} />
    </FormDialog>
  )
}

/** Paths as they stand in an address. */
function addressOf({ page, origin, way, depth, least, walk }: Saved['asked']): Record<string, string> {
  return {
    ...(page !== null && { start: page }),
    ...(origin && { origin: JSON.stringify(origin) }),
    ...{ way, depth: String(depth), least: String(least), walk: JSON.stringify(walk) },
  }
}
