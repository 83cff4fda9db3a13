import { createTrail, deleteMark, listTrails, orderMarks, updateMark } from '@dust-trail/api'
import type { Mark, Trail } from '@dust-trail/api'
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { GripVertical, Plus, Trash2, X } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { call } from '../api/call.ts'
import { useSite } from '../app/lens.ts'
import { Button, IconButton, inputLook, Select } from '../ui/controls.tsx'
import { count, moment, percent } from '../ui/format.ts'
import { RateBar } from '../ui/rate-bar.tsx'
import { Empty, Failure, Loading } from '../ui/states.tsx'
import { useOpenTrail } from './use-trail.ts'

/** The open investigation: its marks in order, each with its numbers then and whether they still hold. */
export function TrailDock({ close, addMark }: { close: () => void; addMark: () => void }) {
  const { trails, trail, choose, error, pending } = useOpenTrail()
  const [naming, setNaming] = useState(false)
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
      <div className="border-t border-line p-2">
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

function Marks({ trail }: { trail: Trail }) {
  const site = useSite()
  const client = useQueryClient()
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const refresh = () => client.invalidateQueries({ queryKey: [listTrails.path] })
  const order = useMutation({
    mutationFn: (marks: number[]) => call(orderMarks, { site: site.key, id: trail.id }, { marks }),
    onError: (error) => toast(error.message),
    onSettled: refresh,
  })
  const remove = useMutation({
    mutationFn: (id: number) => call(deleteMark, { site: site.key, id }),
    onError: (error) => toast(error.message),
    onSettled: refresh,
  })
  const pending = order.isPending ? order.variables : undefined
  const marks = pending
    ? pending.flatMap((id) => trail.marks.find((mark) => mark.id === id) ?? [])
    : trail.marks
  const ids = marks.map(({ id }) => id)
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && active.id !== over.id)
          order.mutate(arrayMove(ids, ids.indexOf(Number(active.id)), ids.indexOf(Number(over.id))))
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol>
          {marks.map((mark) => (
            <MarkItem key={mark.id} mark={mark} remove={() => remove.mutate(mark.id)} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  )
}

function MarkItem({ mark, remove }: { mark: Mark; remove: () => void }) {
  const site = useSite()
  const { setNodeRef, attributes, listeners, transform, transition } = useSortable({ id: mark.id })
  const holds = mark.then.hits === mark.now.hits && mark.then.base === mark.now.base
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="group flex gap-1 border-b border-line bg-sheet py-2 pr-2"
    >
      <button
        type="button"
        aria-label="Move this mark"
        className="mt-0.5 h-6 cursor-grab px-1 text-ink-soft"
        {...attributes}
        {...listeners}
      >
        <GripVertical size={14} />
      </button>
      <div className="min-w-0 flex-1">
        <Link to={mark.address} className="block font-semibold hover:underline">
          {mark.view}
        </Link>
        <RateBar rate={mark.then} tone="stone" className="my-1.5" />
        <p>
          {percent(mark.then.share)} · {count(mark.then.hits)} of {count(mark.then.base)}
        </p>
        <p className={holds ? 'text-spruce' : 'text-ochre-text'}>
          {holds
            ? '✓ holds'
            : `↻ has moved: now ${percent(mark.now.share)}, ${count(mark.now.hits)} of ${count(mark.now.base)}`}
        </p>
        <Sentence mark={mark} />
        <div className="mt-1 flex items-center text-ink-soft">
          <span className="flex-1">{moment(mark.createdMs, site.timeZone)}</span>
          <IconButton
            label="Remove this mark"
            className="-my-1 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
            onClick={remove}
          >
            <Trash2 size={14} />
          </IconButton>
        </div>
      </div>
    </li>
  )
}

function Sentence({ mark }: { mark: Mark }) {
  const site = useSite()
  const client = useQueryClient()
  const [draft, setDraft] = useState<string | null>(null)
  const save = useMutation({
    mutationFn: (sentence: string) => call(updateMark, { site: site.key, id: mark.id }, { sentence }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: [listTrails.path] })
      setDraft(null)
    },
    onError: (error) => toast(error.message),
  })
  if (draft === null)
    return (
      <button
        type="button"
        className="mt-1 block w-full text-left break-words hover:bg-ochre-soft"
        onClick={() => setDraft(mark.sentence)}
      >
        {mark.sentence || <span className="text-ink-soft">Add a sentence</span>}
      </button>
    )
  return (
    <textarea
      autoFocus
      aria-label="Sentence of this mark"
      rows={3}
      className={`${inputLook} mt-1`}
      value={draft}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={() => (draft === mark.sentence ? setDraft(null) : save.mutate(draft))}
    />
  )
}
