import type { Fix, FixStatus } from '@dust-trail/api'
import { FIX_STATUSES, getFix, listFixes, orderFixes } from '@dust-trail/api'
import { DndContext, rectIntersection, useDroppable } from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { GripVertical } from 'lucide-react'
import { Link } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useLensLink, useSite } from '../../app/lens.ts'
import { useSortSensors } from '../../ui/sort-sensors.ts'

export interface Card {
  fix: Fix
  /** what its problem costs now, in a few words */
  cost: string
  /** that it is met again though it was verified */
  back: boolean
}

/** Fixes by status; one is dragged, or moved by keyboard, within its status or to another. */
export function Board({ cards }: { cards: readonly Card[] }) {
  const site = useSite()
  const client = useQueryClient()
  const sensors = useSortSensors()
  const order = useMutation({
    mutationFn: (body: { status: FixStatus; ids: number[] }) => call(orderFixes, { site: site.key }, body),
    onError: (error) => toast(error.message),
    onSettled: () =>
      Promise.all([listFixes, getFix].map(({ path }) => client.invalidateQueries({ queryKey: [path] }))),
  })
  const columns = FIX_STATUSES.map((status) => ({
    status,
    cards: cardsIn(cards, status, order.isPending ? order.variables : undefined),
  }))
  return (
    <DndContext
      sensors={sensors}
      // What a card lies on, not what is near: tall columns would lose against cards beside them.
      collisionDetection={rectIntersection}
      onDragEnd={({ active, over }) => {
        if (!over || over.id === active.id) return
        const to = columns.find(({ status, cards: own }) =>
          status === over.id ? true : own.some(({ fix }) => fix.id === over.id),
        )
        if (!to) return
        const ids = to.cards.map(({ fix }) => fix.id)
        const at = ids.indexOf(Number(over.id))
        const others = ids.filter((id) => id !== Number(active.id))
        others.splice(at < 0 ? others.length : at, 0, Number(active.id))
        order.mutate({ status: to.status, ids: others })
      }}
    >
      <div className="grid grid-cols-6 gap-2" role="group" aria-label="Board">
        {columns.map(({ status, cards: own }) => (
          <Column key={status} status={status} cards={own} />
        ))}
      </div>
    </DndContext>
  )
}

/** The cards of a status in their order, as they will be where they have just been moved. */
function cardsIn(
  cards: readonly Card[],
  status: FixStatus,
  moved: { status: FixStatus; ids: number[] } | undefined,
): Card[] {
  if (moved?.status === status) return moved.ids.flatMap((id) => cards.find(({ fix }) => fix.id === id) ?? [])
  return cards
    .filter(({ fix }) => fix.status === status && !moved?.ids.includes(fix.id))
    .sort((a, b) => a.fix.position - b.fix.position || a.fix.id - b.fix.id)
}

function Column({ status, cards }: { status: FixStatus; cards: readonly Card[] }) {
  const { setNodeRef, isOver } = useDroppable({ id: status })
  return (
    <section
      ref={setNodeRef}
      aria-label={`${status}: ${cards.length}`}
      className={clsx('min-h-28 rounded-md border border-line p-1.5', isOver ? 'bg-ochre-soft' : 'bg-chalk')}
    >
      <h3 className="mb-1 flex justify-between px-1 font-semibold first-letter:uppercase">
        <span className="first-letter:uppercase">{status}</span>
        <span className="font-normal text-ink-soft">{cards.length}</span>
      </h3>
      <SortableContext items={cards.map(({ fix }) => fix.id)} strategy={verticalListSortingStrategy}>
        <ol className="space-y-1.5">
          {cards.map((card) => (
            <CardItem key={card.fix.id} card={card} />
          ))}
        </ol>
      </SortableContext>
    </section>
  )
}

function CardItem({ card: { fix, cost, back } }: { card: Card }) {
  const linkTo = useLensLink()
  const { setNodeRef, attributes, listeners, transform, transition } = useSortable({ id: fix.id })
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="flex rounded-md border border-line bg-sheet py-1.5 pr-1.5"
    >
      <button
        type="button"
        aria-label={`Move “${fix.title}”`}
        className="h-6 shrink-0 cursor-grab px-0.5 text-ink-soft"
        {...attributes}
        {...listeners}
      >
        <GripVertical size={14} />
      </button>
      <div className="min-w-0 flex-1">
        <Link
          className="line-clamp-3 font-semibold break-words hover:underline"
          title={fix.title}
          to={linkTo(`/fixes/${fix.id}`)}
        >
          {fix.title}
        </Link>
        <p>{cost}</p>
        <p className="text-ink-soft">
          {fix.effort} of work{fix.owner && ` · ${fix.owner}`}
        </p>
        {fix.verified && <p className="text-ink-soft">found: {fix.verified.verdict}</p>}
        {back && <p className="font-semibold text-clay">It has come back.</p>}
      </div>
    </li>
  )
}
