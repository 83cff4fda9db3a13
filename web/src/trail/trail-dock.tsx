import type { Trail } from '@dust-trail/api'
import { createTrail, listTrails } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import { call } from '../api/call.ts'
import { useSite } from '../app/lens.ts'
import { evidenceOfAll } from '../report/evidence.ts'
import { trailReport } from '../report/reports.ts'
import { SaveReport } from '../report/save-report.tsx'
import { Button, IconButton, inputLook, Select } from '../ui/controls.tsx'
import { Empty, Failure, Loading } from '../ui/states.tsx'
import { Marks } from './marks.tsx'
import { useOpenTrail } from './use-trail.ts'

/** The open investigation: its marks in order, each with its numbers then and whether they still hold. */
export function TrailDock({ close, addMark }: { close: () => void; addMark: () => void }) {
  const { trails, trail, choose, error, pending } = useOpenTrail()
  const site = useSite()
  const [naming, setNaming] = useState(false)
  const reportOf = async (one: Trail, share: boolean) => {
    const marks = one.marks.map(({ id, question }) => ({ id, ...question }))
    return trailReport(site, one, await evidenceOfAll(site.key, marks, share))
  }
  return (
    <aside aria-label="Trail" className="flex w-72 shrink-0 flex-col border-l border-line bg-sheet">
      <div className="flex h-11 items-center gap-1 border-b border-line px-2">
        {trails.length > 1 ? (
          <Select
            className="flex-1"
            aria-label="Trail"
            value={trail?.id}
            onChange={(event) => choose(Number(event.target.value))}
          >
            {trails.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Select>
        ) : (
          <h2 className="min-w-0 flex-1 truncate pl-1.5" title={trail?.name}>
            {trail?.name ?? 'Trail'}
          </h2>
        )}
        <IconButton label="New trail" onClick={() => setNaming(true)}>
          <Plus size={16} />
        </IconButton>
        <IconButton label="Hide the trail" onClick={close}>
          <X size={16} />
        </IconButton>
      </div>
      {naming && <NewTrail done={() => setNaming(false)} choose={choose} />}
      <div className="min-h-0 flex-1 overflow-auto">
        {error ? (
          <Failure error={error} />
        ) : pending ? (
          <Loading rows={3} />
        ) : trail?.marks.length ? (
          <Marks trail={trail} />
        ) : (
          <Empty title="No marks yet">
            A mark keeps what you see: the view, its numbers and a sentence. Press m anywhere.
          </Empty>
        )}
      </div>
      <div className="space-y-2 border-t border-line p-2">
        {trail && trail.marks.length > 0 && (
          <SaveReport label="Save as a report" name="case" make={(share) => reportOf(trail, share)} />
        )}
        <Button className="w-full justify-center" onClick={addMark}>
          Add what is shown
        </Button>
      </div>
    </aside>
  )
}

function NewTrail({ done, choose }: { done: () => void; choose: (id: number) => void }) {
  const site = useSite()
  const client = useQueryClient()
  const [name, setName] = useState('')
  const create = useMutation({
    mutationFn: () => call(createTrail, { site: site.key }, { name }),
    onSuccess: async (trail) => {
      await client.invalidateQueries({ queryKey: [listTrails.path] })
      choose(trail.id)
      done()
    },
  })
  return (
    <form
      className="border-b border-line p-2"
      onSubmit={(event) => {
        event.preventDefault()
        create.mutate()
      }}
    >
      <input
        autoFocus
        aria-label="Name of the new trail"
        placeholder="Question you follow"
        className={inputLook}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      {create.error && <p className="mt-1 text-clay">{create.error.message}</p>}
      <div className="mt-2 flex justify-end gap-2">
        <Button onClick={done}>Cancel</Button>
        <Button type="submit" look="primary">
          Start trail
        </Button>
      </div>
    </form>
  )
}
