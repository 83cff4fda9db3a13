import type { Fix } from '@dust-trail/api'
import { getFix, listFixes, mergeFix, splitFix } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useFixes } from '../../api/queries.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { Button, inputLook, Select } from '../../ui/controls.tsx'
import { Failure } from '../../ui/states.tsx'

/** Takes another fix into this one, or a second one out of it. */
export function MergeAndSplit({ fix }: { fix: Fix }) {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const client = useQueryClient()
  const others = useFixes(site.key, lens).data?.filter((one) => one.fix.id !== fix.id) ?? []
  const [other, setOther] = useState('')
  const [title, setTitle] = useState('')
  const renew = () =>
    Promise.all([getFix, listFixes].map(({ path }) => client.invalidateQueries({ queryKey: [path] })))
  const merge = useMutation({
    mutationFn: () => call(mergeFix, { site: site.key, id: fix.id }, { other: Number(other) }),
    onSuccess: () => {
      setOther('')
      toast('Merged: its evidence and history are here now.')
      return renew()
    },
  })
  const split = useMutation({
    mutationFn: () => call(splitFix, { site: site.key, id: fix.id }, { title }),
    onSuccess: async (made) => {
      await renew()
      toast('Split: both rest on the same evidence.')
      void navigate(linkTo(`/fixes/${made.id}`))
    },
  })
  return (
    <section aria-label="Merge and split" className="space-y-2">
      <h2>Merge and split</h2>
      {others.length > 0 && (
        <div className="flex gap-2">
          <Select
            aria-label="Fix to merge into this one"
            className="min-w-0 flex-1"
            value={other}
            onChange={({ target }) => setOther(target.value)}
          >
            <option value="">Another fix for the same thing …</option>
            {others.map(({ fix: one }) => (
              <option key={one.id} value={one.id}>
                {one.title}
              </option>
            ))}
          </Select>
          <Button disabled={!other || merge.isPending} onClick={() => merge.mutate()}>
            Merge into this
          </Button>
        </div>
      )}
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          if (title.trim()) split.mutate()
        }}
      >
        <input
          aria-label="Title of the second fix"
          maxLength={160}
          className={inputLook}
          placeholder="A second thing to be done about it"
          value={title}
          onChange={({ target }) => setTitle(target.value)}
        />
        <Button type="submit" disabled={!title.trim() || split.isPending}>
          Split off
        </Button>
      </form>
      {(merge.error ?? split.error) && <Failure error={(merge.error ?? split.error)!} />}
    </section>
  )
}
