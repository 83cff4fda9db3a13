import type { PathPart, PathStep, PathStepsAnswer } from '@dust-trail/core'
import { placeText } from '@dust-trail/core'
import { clsx } from 'clsx'
import { Download, Group, Pin } from 'lucide-react'
import { useState } from 'react'
import { IconButton } from '../../ui/controls.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { MenuItem } from '../../ui/menu-item.tsx'
import { Popover } from '../../ui/popover.tsx'
import { placeName } from '../../words/sentences.ts'
import { GroupPages } from './group-pages.tsx'
import { PlaceParts } from './place-parts.tsx'
import { savePng, saveSvg, stepsPicture } from './steps-picture.ts'
import type { Direction, PathsAsked } from './use-paths.ts'
import { partOf } from './use-paths.ts'

/** Places of a step that are in sight before the rest is opened. */
const SHOWN = 8
/** Places of an opened rest that are drawn at once: a list of thousands is no picture. */
const OPENED = 100

type StepPlace = PathStep['places'][number]

interface Shared {
  entered: number
  direction: Direction
  asked: PathsAsked
  held: readonly PathPart[] | null
  open: (parts: PathPart[], ended?: boolean) => void
  follow: (parts: PathPart[]) => void
}

/**
 * What all paths have in each step, equal places as one; shares of all who entered and of those who took the step, told
 * apart. A place or a link can be followed: then the counts are of its traffic alone, in both directions, and the rest fades.
 */
export function StepColumns({
  answer,
  through,
  ...shared
}: Omit<Shared, 'entered'> & {
  answer: PathStepsAnswer
  /** the same for those who are followed; null: nobody is */
  through: PathStepsAnswer | null
}) {
  const entered = answer.sessions
  const { steps } = answer
  if (!steps.length) return null
  const back = shared.direction === 'back'
  const columns = steps.map((step, k) => (
    <Column
      key={k}
      nth={k}
      step={step}
      next={steps[k + 1]}
      through={through ? (through.steps[k]?.places ?? []) : null}
      entered={entered}
      {...shared}
    />
  ))
  const picture = () => stepsPicture(answer, { focus: shared.asked.focus(shared.direction), back })
  return (
    <div>
      <div className="overflow-x-auto">
        <ol
          className="grid gap-2"
          style={{ gridTemplateColumns: `repeat(${steps.length}, minmax(190px, 1fr))` }}
        >
          {back ? columns.toReversed() : columns}
        </ol>
      </div>
      <p className="mt-1 flex items-center gap-2 text-ink-soft">
        <Download size={13} aria-hidden /> The picture as{' '}
        <LinkButton onClick={() => saveSvg(picture())}>SVG</LinkButton>
        <LinkButton onClick={() => void savePng(picture())}>PNG</LinkButton>
      </p>
    </div>
  )
}

function Column({
  step: { sessions, places, links: _ },
  next,
  nth,
  through,
  ...shared
}: Shared & {
  step: PathStep
  next: PathStep | undefined
  nth: number
  through: readonly StepPlace[] | null
}) {
  const { entered, direction } = shared
  const [whole, setWhole] = useState(false)
  const [grouping, setGrouping] = useState(false)
  const shown = places.slice(0, whole ? OPENED : SHOWN)
  const hidden = places.slice(shown.length)
  const others = hidden.reduce((sum, one) => sum + one.sessions, 0)
  const followed = through && new Map(through.map((one) => [placeText(one), one.sessions]))
  const pages = hidden.filter(({ kind }) => kind === 'page').map(({ page }) => page)
  return (
    <li className="min-w-0 rounded-md border border-line bg-sheet p-2">
      <h3 className="font-semibold">
        {nth + 1}
        {direction === 'back' ? ' before' : '. step'}
      </h3>
      <p className="mb-1 text-ink-soft">
        {count(sessions)}, {percent(sessions / entered)} of all
      </p>
      <ul className="space-y-1" data-list>
        {shown.map((place, index) => (
          <StepRow
            key={placeText(place)}
            place={place}
            index={index}
            nth={nth}
            next={next}
            of={sessions}
            followed={followed ? (followed.get(placeText(place)) ?? 0) : null}
            {...shared}
          />
        ))}
        {hidden.length > 0 && (
          <li className="flex flex-wrap gap-x-2 border-t border-line pt-1">
            {whole ? (
              <span className="text-ink-soft">
                {plural(hidden.length, 'rarer place')}: {percent(others / entered)}, in the table
              </span>
            ) : (
              <LinkButton onClick={() => setWhole(true)}>
                {plural(hidden.length, 'other place')}: {percent(others / entered)}
              </LinkButton>
            )}
          </li>
        )}
        {whole && (
          <li className="flex flex-wrap gap-x-3">
            <LinkButton onClick={() => setWhole(false)}>Fewer</LinkButton>
            {(pages.length > 0 || shown.length > SHOWN) && (
              <button
                type="button"
                className="inline-flex items-center gap-1 text-spruce hover:underline"
                onClick={() => setGrouping(true)}
              >
                <Group size={13} aria-hidden /> Group pages …
              </button>
            )}
          </li>
        )}
      </ul>
      {grouping && (
        <GroupPages
          pages={places.filter(({ kind }) => kind === 'page').slice(SHOWN)}
          close={() => setGrouping(false)}
        />
      )}
    </li>
  )
}

function StepRow({
  place,
  index,
  nth,
  next,
  of,
  followed,
  entered,
  direction,
  asked,
  held,
  open,
  follow,
}: Shared & {
  place: StepPlace
  index: number
  nth: number
  next: PathStep | undefined
  of: number
  /** of those who are followed, how many were here; null: nobody is followed */
  followed: number | null
}) {
  const [shown, setShown] = useState(false)
  const name = placeName(place)
  const parts: PathPart[] = [...new Array<null>(nth).fill(null), partOf(place)]
  const isHeld = held !== null && JSON.stringify(held) === JSON.stringify(parts)
  const end = direction === 'onward' ? 'left' : 'began'
  return (
    <li
      className={clsx('group rounded', followed === 0 && 'opacity-40', isHeld && 'outline-2 outline-ochre')}
    >
      <span aria-hidden className="relative block h-1.5 bg-line">
        <span
          className={clsx('absolute inset-y-0 left-0', followed === null ? 'bg-spruce' : 'bg-stone')}
          style={{ width: `${(place.sessions / of) * 100}%` }}
        />
        {followed !== null && (
          <span
            className="absolute inset-y-0 left-0 bg-spruce"
            style={{ width: `${(followed / of) * 100}%` }}
          />
        )}
      </span>
      <span className="flex items-center gap-1">
        <LinkButton
          data-row
          className="min-w-0 flex-1 truncate text-left"
          title={name}
          onClick={() => open(parts)}
        >
          {name}
        </LinkButton>
        <Popover
          label={`At ${name}`}
          open={shown}
          setOpen={setShown}
          className="w-80 p-2"
          trigger={
            <IconButton
              label={`Follow, and who they are: ${name}`}
              className="!size-6 opacity-0 group-hover:opacity-100 focus-visible:opacity-100"
            >
              <Pin size={13} />
            </IconButton>
          }
        >
          <MenuItem
            title="Counts of its traffic alone, in both directions"
            onClick={() => {
              follow(parts)
              setShown(false)
            }}
          >
            Follow those who were here
          </MenuItem>
          <Links
            index={index}
            next={next}
            direction={direction}
            follow={(to) => {
              follow([...parts, to])
              setShown(false)
            }}
          />
          <PlaceParts selection={asked.pathOf(direction, parts)} />
          {place.kind === 'page' && (
            <MenuItem
              title="Recomputed as if it had not been viewed"
              onClick={() => {
                const { walk, setWalk } = asked
                const event = { kinds: ['page' as const], page: { is: 'equal' as const, to: place.page } }
                setWalk({ ...walk, leftOut: [...(walk.leftOut ?? []), event] })
              }}
            >
              Leave this page out
            </MenuItem>
          )}
        </Popover>
      </span>
      <span className="flex flex-wrap gap-x-1.5">
        <strong>{percent((followed ?? place.sessions) / entered)}</strong>
        <span className="text-ink-soft">{percent(place.sessions / of)} here</span>
        {place.ended > 0 && (
          <button
            type="button"
            className="text-clay hover:underline"
            title={`Open the ${plural(place.ended, 'session')} that ${end} there`}
            onClick={() => open(parts, true)}
          >
            {percent(place.ended / place.sessions)} {end}
          </button>
        )}
      </span>
    </li>
  )
}

/** Where they went from a place, or whence they came, in the next step: shares of those who moved on from it. */
function Links({
  index,
  next,
  direction,
  follow,
}: {
  /** of the place among those of its step */
  index: number
  next: PathStep | undefined
  direction: Direction
  follow: (to: PathPart) => void
}) {
  if (!next) return null
  const links = next.links.filter(({ from }) => from === index)
  const moved = links.reduce((sum, { sessions }) => sum + sessions, 0)
  return (
    <>
      <p className="px-2 pt-1 text-xs text-ink-soft">
        {direction === 'onward' ? 'Went on to' : 'Came from'}, of {count(moved)} who{' '}
        {direction === 'onward' ? 'moved on' : 'had been somewhere'}:
      </p>
      {links.slice(0, 8).map(({ to, sessions }) => (
        <MenuItem
          key={to}
          title="Follow those who took this link"
          onClick={() => follow(partOf(next.places[to]!))}
        >
          {placeName(next.places[to]!)} · {percent(sessions / moved)}
        </MenuItem>
      ))}
      {links.length > 8 && (
        <p className="px-2 text-xs text-ink-soft">{plural(links.length - 8, 'rarer link')}</p>
      )}
    </>
  )
}
