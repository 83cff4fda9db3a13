import type { Mark, Trail } from '@dust-trail/api'
import { listTrails, orderMarks, updateMark } from '@dust-trail/api'
import type { DragEndEvent } from '@dnd-kit/core'
import {} from '@dnd-kit/core'
import { arrayMove } from '@dnd-kit/sortable'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import { call } from '../api/call.ts'
import { useSite } from '../app/lens.ts'
import { useSortSensors } from '../ui/sort-sensors.ts'

/** Marks under one heading; "" = under none. */
export interface MarkGroup {
  heading: string
  marks: Mark[]
}

/** Marks by heading: those under none first, then in the order in which the first of each stands. */
export function groupsOf(marks: readonly Mark[]): MarkGroup[] {
  const groups = new Map<string, Mark[]>()
  if (marks.some(({ heading }) => !heading)) groups.set('', [])
  for (const mark of marks) {
    const group = groups.get(mark.heading)
    if (group) group.push(mark)
    else groups.set(mark.heading, [mark])
  }
  return [...groups].map(([heading, own]) => ({ heading, marks: own }))
}

/** What a mark is of: the table that it shows, or the view. */
export const nameOf = ({ shows, view }: Mark) => (shows.form === 'table' ? shows.title : view)

/** The marks of a trail as they are being put in order, by pointer or keys; one that is put among others takes their heading. */
export function useMarkOrder(trail: Trail) {
  const site = useSite()
  const client = useQueryClient()
  const sensors = useSortSensors()
  const order = useMutation({
    mutationFn: async ({ ids, moved }: { ids: number[]; moved?: { id: number; heading: string } }) => {
      if (moved) await call(updateMark, { site: site.key, id: moved.id }, { heading: moved.heading })
      return call(orderMarks, { site: site.key, id: trail.id }, { marks: ids })
    },
    onError: (error) => toast(error.message),
    onSettled: () => client.invalidateQueries({ queryKey: [listTrails.path] }),
  })
  const pending = order.isPending ? order.variables : undefined
  const inOrder = pending
    ? pending.ids.flatMap((id) => trail.marks.find((mark) => mark.id === id) ?? [])
    : trail.marks
  const groups = groupsOf(
    inOrder.map((mark) => (pending?.moved?.id === mark.id ? { ...mark, ...pending.moved } : mark)),
  )
  const ids = groups.flatMap(({ marks }) => marks.map(({ id }) => id))
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return
    const [from, to] = [Number(active.id), Number(over.id)]
    const headingOf = (id: number) => trail.marks.find((mark) => mark.id === id)?.heading ?? ''
    const heading = headingOf(to)
    order.mutate({
      ids: arrayMove(ids, ids.indexOf(from), ids.indexOf(to)),
      ...(heading !== headingOf(from) && { moved: { id: from, heading } }),
    })
  }
  return { groups, ids, sensors, onDragEnd }
}
