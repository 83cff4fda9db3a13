import type { Mark, Trail } from '@dust-trail/api'
import { deleteMark, drawMark, listTrails } from '@dust-trail/api'
import { closestCenter, DndContext } from '@dnd-kit/core'
import { rectSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import type { Lens } from '@dust-trail/core'
import { rate } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { GripVertical, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSegments, useSizes } from '../../api/queries.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../app/lens.ts'
import { lensOf } from '../../lens/segments.ts'
import { PictureView } from '../../trail/picture.tsx'
import { nameOf, useMarkOrder } from '../../trail/use-mark-order.ts'
import { useOpenTrail } from '../../trail/use-trail.ts'
import { IconButton, Select } from '../../ui/controls.tsx'
import { count, plural, points, rateText } from '../../ui/format.ts'
import { RateBar } from '../../ui/rate-bar.tsx'

/** What was pinned from any screen, each with its own lens, as it is now; or through a segment. */
export function Pinned() {
  const site = useSite()
  const { pinned, ownPinned } = useOpenTrail()
  const segments = useSegments(site.key)
  const [chosen, setChosen] = useState('')
  const segment = segments.data?.find(({ id }) => String(id) === chosen)
  const through = segment && ((lens: Lens) => lensOf(lens, segment, segments.data ?? []))
  const boards = [pinned, ownPinned].flatMap((trail) => (trail?.marks.length ? [trail] : []))
  return (
    <section aria-label="Pinned">
      <div className="mb-1 flex items-center gap-3">
        <h2 className="flex-1">Pinned</h2>
        {boards.length > 0 && (segments.data?.length ?? 0) > 0 && (
          <Select
            aria-label="Looked at through"
            value={chosen}
            onChange={({ target }) => setChosen(target.value)}
          >
            <option value="">each through its own lens</option>
            {segments.data!.map(({ id, name }) => (
              <option key={id} value={id}>
                through {name}
              </option>
            ))}
          </Select>
        )}
      </div>
      {boards.length === 0 && (
        <p className="text-ink-soft">
          Nothing yet. Press m on any screen, or “Add to trail” in a close-up, and choose to pin it here.
        </p>
      )}
      {boards.map((trail) => (
        <div key={trail.id} className="mb-3">
          {trail.own && <h3 className="mb-1">For me alone</h3>}
          <PinBoard trail={trail} through={through} />
        </div>
      ))}
    </section>
  )
}

type Through = ((lens: Lens) => Lens) | undefined

function PinBoard({ trail, through }: { trail: Trail; through: Through }) {
  const site = useSite()
  const client = useQueryClient()
  const { groups, ids, sensors, onDragEnd } = useMarkOrder(trail)
  const marks = groups.flatMap((group) => group.marks)
  const sizes = useSizes(
    site.key,
    through ? marks.map(({ question }) => ({ ...question, lens: through(question.lens) })) : [],
  )
  const remove = useMutation({
    mutationFn: (id: number) => call(deleteMark, { site: site.key, id }),
    onError: (error) => toast(error.message),
    onSettled: () => client.invalidateQueries({ queryKey: [listTrails.path] }),
  })
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={ids} strategy={rectSortingStrategy}>
        <ul className="grid grid-flow-dense grid-cols-3 items-start gap-3">
          {marks.map((mark, k) => (
            <Pin
              key={mark.id}
              mark={mark}
              through={through}
              size={through && sizes.data?.sizes[k]}
              remove={() => remove.mutate(mark.id)}
            />
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  )
}

function Pin({
  mark,
  through,
  size,
  remove,
}: {
  mark: Mark
  through: Through
  /** its number through a segment, once it is counted */
  size: Mark['now'] | undefined
  remove: () => void
}) {
  const site = useSite()
  const { setNodeRef, attributes, listeners, transform, transition } = useSortable({ id: mark.id })
  const { shows, question, now, then } = mark
  const isPicture = shows.form !== 'figure'
  // Of everybody the share says nothing.
  const isAll = question.selection.type === 'everyone'
  const drawn = useEndpoint(
    drawMark,
    { site: site.key, id: mark.id },
    { lens: through ? through(question.lens) : null },
    { enabled: isPicture },
  )
  const shown = through ? size : now
  const moved = now.share === null || then.share === null ? null : now.share - then.share
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={clsx(
        'group rounded-md border border-line bg-sheet p-2',
        shows.form === 'table' && 'col-span-2',
      )}
    >
      <div className="flex items-start gap-1">
        <Link
          to={mark.address}
          title={mark.view}
          className="min-w-0 flex-1 truncate font-semibold hover:underline"
        >
          {mark.sentence || nameOf(mark)}
        </Link>
        <IconButton
          label="Unpin"
          className="-my-1 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
          onClick={remove}
        >
          <Trash2 size={14} />
        </IconButton>
        <button
          type="button"
          aria-label="Move this pin"
          className="h-6 cursor-grab text-ink-soft"
          {...attributes}
          {...listeners}
        >
          <GripVertical size={14} />
        </button>
      </div>
      {mark.sentence && (
        <p className="truncate text-xs text-ink-soft" title={mark.view}>
          {nameOf(mark)}
        </p>
      )}
      {!isAll && <RateBar rate={shown ?? rate(0, 0)} tone="stone" className="my-1.5" />}
      <p>
        {!shown ? 'counting …' : isAll ? plural(shown.hits, 'session') : rateText(shown, 'sessions')}
        <span className="text-ink-soft">
          {through
            ? ` · without the segment ${isAll ? count(now.hits) : rateText(now)}`
            : mark.dead
              ? ` · ${mark.dead}`
              : moved
                ? ` · ${points(moved)} since it was pinned`
                : ''}
        </span>
      </p>
      {isPicture && (
        <div className="mt-1.5">
          {drawn.error ? (
            <p className="text-clay">{drawn.error.message}</p>
          ) : (
            <PictureView shows={shows} picture={drawn.data ?? null} />
          )}
        </div>
      )}
    </li>
  )
}
