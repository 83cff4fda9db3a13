import type { Segment } from '@dust-trail/api'
import { clsx } from 'clsx'
import { count } from '../../ui/format.ts'

/** The segments that hang from one, each with those that hang from it. */
export function Branch({
  parentId,
  depth,
  all,
  chosen,
  sizeOf,
  open,
}: {
  parentId: number | null
  depth: number
  all: readonly Segment[]
  chosen: Segment | undefined
  sizeOf: (segment: Segment) => number | undefined
  open: (id: number) => void
}) {
  return all
    .filter((one) => one.parentId === parentId)
    .map((one) => (
      <div key={one.id}>
        <Node
          name={one.name}
          hits={sizeOf(one)}
          depth={depth}
          chosen={one === chosen}
          open={() => open(one.id)}
        />
        <Branch parentId={one.id} depth={depth + 1} all={all} chosen={chosen} sizeOf={sizeOf} open={open} />
      </div>
    ))
}

/** One in the tree, with how many sessions it holds. */
export function Node({
  name,
  hits,
  depth,
  chosen,
  open,
}: {
  name: string
  hits: number | undefined
  depth: number
  chosen: boolean
  open: () => void
}) {
  return (
    <button
      type="button"
      role="treeitem"
      aria-selected={chosen}
      aria-level={depth + 1}
      className={clsx(
        'flex h-8 w-full items-center gap-2 pr-3 text-left',
        chosen ? 'bg-spruce-soft font-semibold' : 'hover:bg-ochre-soft',
      )}
      style={{ paddingLeft: 12 + depth * 14 }}
      onClick={open}
    >
      {depth > 0 && <span aria-hidden className="h-px w-2 shrink-0 bg-stone" />}
      <span className="min-w-0 flex-1 truncate" title={name}>
        {name}
      </span>
      <span className="text-ink-soft">{hits === undefined ? '…' : count(hits)}</span>
    </button>
  )
}
