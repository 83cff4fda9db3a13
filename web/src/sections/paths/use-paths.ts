import type { PathPart, Place, Selection, Walk } from '@dust-trail/core'
import { pathPartSchema, selectionSchema, walkSchema } from '@dust-trail/core'
import { useMemo } from 'react'
import { z } from 'zod'
import { useAddressValue } from '../../app/address.ts'
import { describeSelection, eventWords } from '../../words/sentences.ts'

const PAGE = z.string()
const DIRECTION = z.enum(['onward', 'back', 'around'])
export type Way = z.infer<typeof DIRECTION>
export type Direction = 'onward' | 'back'

export const SHARES = [0.01, 0.02, 0.05, 0.1, 0.2] as const
const LEAST = z.coerce.number().refine((share) => SHARES.some((one) => one === share))
export const STEPS = [3, 5, 7, 10] as const
const DEPTH = z.coerce.number().refine((steps) => STEPS.some((one) => one === steps))
/** the way through one place, or one link, that is followed in both directions */
const PINNED = z.object({ direction: z.enum(['onward', 'back']), parts: z.array(pathPartSchema) })
export type Pinned = z.infer<typeof PINNED>

/** What is followed through the paths, as the address says it. */
export function usePinned(): [Pinned | null, (pinned: Pinned | null) => void] {
  return useAddressValue('pinned', PINNED, REPLACES)
}
const REPLACES = { replace: true }

const PLAIN: Walk = walkSchema.parse({})

/** What the paths are of, as the address says it. */
export interface PathsAsked {
  page: string | null
  setPage: (page: string | null) => void
  /** a selection from whose moments they go out, in place of a page */
  origin: Selection | null
  setOrigin: (origin: Selection | null) => void
  way: Way
  setWay: (way: Way) => void
  depth: number
  setDepth: (depth: number) => void
  least: number
  setLeast: (least: number) => void
  walk: Walk
  setWalk: (walk: Walk) => void
  /** what the question is asked with */
  selection: Selection
  /** those who walked somewhere from there */
  pathOf: (direction: Direction, parts: PathPart[], ended?: boolean) => Selection
  /** where all paths begin, in words */
  focus: (direction: Direction) => string
}

export function usePaths(): PathsAsked {
  const [page, setPage] = useAddressValue('start', PAGE, CLEARS)
  const [origin, setOrigin] = useAddressValue('origin', selectionSchema, CLEARS)
  const [way, setWay] = useAddressValue('way', DIRECTION)
  const [least, setLeast] = useAddressValue('least', LEAST)
  const [depth, setDepth] = useAddressValue('depth', DEPTH)
  const [chosenWalk, setWalk] = useAddressValue('walk', walkSchema)
  const walk = chosenWalk ?? PLAIN
  const selection = useMemo(
    (): Selection => origin ?? (page ? { type: 'page', page } : { type: 'everyone' }),
    [origin, page],
  )
  return {
    ...{
      page: origin ? null : page,
      origin,
      way: way ?? 'onward',
      least: least ?? 0.05,
      depth: depth ?? 5,
      walk,
      selection,
    },
    setPage,
    setOrigin,
    setWay: (next) => setWay(next === 'onward' ? null : next),
    setLeast: (next) => setLeast(next === 0.05 ? null : next),
    setDepth: (next) => setDepth(next === 5 ? null : next),
    setWalk: (next) => setWalk(JSON.stringify(next) === JSON.stringify(PLAIN) ? null : next),
    pathOf: (direction, parts, ended) => ({
      ...{ type: 'path', page: origin ? null : page, direction, parts },
      ...(origin && { from: origin }),
      ...(chosenWalk && { walk: chosenWalk }),
      ...(ended && { ended }),
    }),
    focus: (direction) =>
      walk.start
        ? eventWords(walk.start)
        : origin
          ? describeSelection(origin)
          : (page ?? (direction === 'onward' ? 'where they began' : 'where they ended')),
  }
}

const CLEARS = { clears: ['start', 'origin', 'pinned'] }

/** A place as part of a path: a page group by its name alone. */
export function partOf({ kind, page, selector, name }: Place): PathPart {
  if (kind === 'page') return page
  return { kind, page, ...(selector !== undefined && { selector }), ...(name !== undefined && { name }) }
}
