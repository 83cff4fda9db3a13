import { deleteVisitor } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { count, moment, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { saveFile } from '../../ui/save-file.ts'
import { Failure } from '../../ui/states.tsx'

/** Deletes all that is known of a visitor, and shows what was deleted as a proof that can be kept. */
export function Erase({ visitor }: { visitor: string }) {
  const site = useSite()
  const client = useQueryClient()
  const [sure, setSure] = useState(false)
  const remove = useMutation({
    mutationFn: () => call(deleteVisitor, { site: site.key, visitor }, undefined),
    onSuccess: () => void client.invalidateQueries(),
    onSettled: () => setSure(false),
  })
  const { data: proof } = remove
  return (
    <>
      <Button look="danger" disabled={remove.isPending || proof !== undefined} onClick={() => setSure(true)}>
        Delete this visitor …
      </Button>
      {remove.error && <Failure error={remove.error} />}
      {proof && (
        <p role="status" className="rounded-md border border-line bg-sheet px-3 py-1.5">
          {plural(proof.sessions, 'session')} deleted on {moment(proof.atMs, site.timeZone)}, with events and
          recordings. Counted again after it: {count(proof.left.sessions)} sessions,{' '}
          {count(proof.left.recordings)} recordings left.{' '}
          <LinkButton
            onClick={() =>
              saveFile(
                new Blob([JSON.stringify({ site: site.key, ...proof }, null, 2)], {
                  type: 'application/json',
                }),
                'erasure.json',
              )
            }
          >
            Keep the proof
          </LinkButton>
        </p>
      )}
      <Dialog open={sure} onClose={() => setSure(false)} title={`Delete all of visitor ${visitor}?`}>
        <p>Sessions, events and recordings go for good, from every answer and from the database.</p>
        <div className="mt-3 flex justify-end gap-2">
          <Button onClick={() => setSure(false)}>Keep</Button>
          <Button look="primary" onClick={() => remove.mutate()}>
            Delete for good
          </Button>
        </div>
      </Dialog>
    </>
  )
}
