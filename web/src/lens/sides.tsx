import type { Condition, Lens, Rate, Selection } from '@dust-trail/core'
import { difference } from '@dust-trail/core'
import { Columns3 } from 'lucide-react'
import { useMemo, useState } from 'react'
import { useSegments, useSizes } from '../api/queries.ts'
import { useAddressValue } from '../app/address.ts'
import { comparedLens, TEXT, useLens, useSite, useVersus } from '../app/lens.ts'
import { useSelection } from '../closeup/use-selection.ts'
import { Chip } from '../ui/chip.tsx'
import { Button } from '../ui/controls.tsx'
import { rangeText, verdictOf } from '../ui/difference.tsx'
import { count, day, percent, points } from '../ui/format.ts'
import { MenuItem } from '../ui/menu-item.tsx'
import { Popover } from '../ui/popover.tsx'
import { together } from '../words/sentences.ts'
import { lensOf, MOST_SIDES, segmentCondition, segmentNoise, SIDES } from './segments.ts'

/** One of the things that lie side by side: the lens itself, the days it is compared with, a segment. */
export interface Side {
  name: string
  lens: Lens
  /** of a segment */
  id?: number
  /** what its sessions meet, where that is all there is to it */
  condition?: Condition | undefined
}

/** What lies side by side on every screen: first the lens itself, then what it is held against. */
export function useSides(): { sides: Side[]; chosen: number[]; setChosen: (ids: number[]) => void } {
  const site = useSite()
  const { lens } = useLens()
  const segments = useSegments(site.key)
  const [versus] = useVersus()
  const [ids, setIds] = useAddressValue('segments', TEXT)
  const text = ids ?? ''
  // One list as long as the address says the same, so that questions are not asked anew.
  const sides = useMemo((): Side[] => {
    const all = segments.data ?? []
    const other = comparedLens(lens, versus)
    const chosen = text.split(',').flatMap((id) => all.find((one) => one.id === Number(id)) ?? [])
    return [
      { name: other ? `${day(lens.from)} – ${day(lens.to)}` : 'All in the lens', lens },
      ...(other ? [{ name: `${day(other.from)} – ${day(other.to)}`, lens: other }] : []),
      ...chosen.map((one) => ({
        name: one.name,
        lens: lensOf(lens, one, all),
        id: one.id,
        condition: segmentNoise(one, all).length ? undefined : segmentCondition(one, all),
      })),
    ].slice(0, MOST_SIDES)
  }, [lens, segments.data, text, versus])
  return {
    sides,
    chosen: sides.flatMap(({ id }) => id ?? []),
    setChosen: (chosenIds) => setIds(chosenIds.length ? chosenIds.join(',') : null),
  }
}

/** What the lens is held against, each with its base, and a way to put more beside it. */
export function Beside() {
  const site = useSite()
  const segments = useSegments(site.key)
  const { sides, chosen, setChosen } = useSides()
  const [open, setOpen] = useState(false)
  const sizes = useSizes(
    site.key,
    sides.length > 1 ? sides.map(({ lens }) => ({ lens, selection: { type: 'everyone' as const } })) : [],
  )
  const free = (segments.data ?? []).filter(({ id }) => !chosen.includes(id))
  return (
    <>
      {sides.length > 1 &&
        sides.map(({ name, id }, k) => (
          <Chip
            key={k}
            look="outlined"
            before={<Swatch side={k} />}
            words={name}
            after={
              <span className="shrink-0 text-ink-soft">
                {sizes.data?.sizes[k] ? count(sizes.data.sizes[k].hits) : '…'}
              </span>
            }
            removeLabel={`No longer beside: ${name}`}
            remove={id === undefined ? undefined : () => setChosen(chosen.filter((one) => one !== id))}
          />
        ))}
      <Popover
        label="Beside"
        open={open}
        setOpen={setOpen}
        className="w-72 p-1.5"
        trigger={
          <Button look="quiet">
            <Columns3 size={14} aria-hidden /> Beside
          </Button>
        }
      >
        {free.length > 0 && sides.length < MOST_SIDES ? (
          <>
            <p className="px-2 py-1 text-ink-soft">Set a segment beside the lens, on every screen.</p>
            <div className="max-h-72 overflow-auto">
              {free.map(({ id, name }) => (
                <MenuItem
                  key={id}
                  title={name}
                  onClick={() => {
                    setChosen([...chosen, id])
                    setOpen(false)
                  }}
                >
                  {name}
                </MenuItem>
              ))}
            </div>
          </>
        ) : (
          <p className="p-2 text-ink-soft">
            {sides.length >= MOST_SIDES
              ? `At most ${MOST_SIDES} lie side by side.`
              : 'No other segment has been saved. Save one from any close-up; another period is chosen with the dates.'}
          </p>
        )}
      </Popover>
    </>
  )
}

export function Swatch({ side }: { side: number }) {
  const { colour, dash } = SIDES[side % SIDES.length]!
  return (
    <svg aria-hidden width={22} height={8} className="inline-block shrink-0 align-middle">
      <line x1={0} x2={22} y1={4} y2={4} stroke={colour} strokeWidth={3} strokeDasharray={dash} />
    </svg>
  )
}

/** A side as the head of a column: its name, cut off where it is long, and its base. */
export function SideHead({ side, name, base }: { side: number; name: string; base?: number | undefined }) {
  return (
    <span className="inline-flex max-w-36 items-center gap-1.5" title={name}>
      <Swatch side={side} />
      <span className="truncate">{name}</span>
      {base !== undefined && <span className="shrink-0 font-normal">{count(base)}</span>}
    </span>
  )
}

/** A side's share with its base, and how far it is from the lens itself; marked where that is more than noise. */
export function SideRate({
  rate,
  first,
  side,
  of,
}: {
  rate: Rate | undefined
  first: Rate | undefined
  /** with what is counted there: opens these sessions, of a segment */
  side?: Side | undefined
  of?: Selection | undefined
}) {
  const { setSelection } = useSelection()
  if (!rate) return <>…</>
  const gap = first && first.share !== null && rate.share !== null ? difference(rate, first) : undefined
  const isSure = gap !== undefined && verdictOf(gap.difference, gap.interval) !== 'cannot tell'
  return (
    <span title={`${count(rate.hits)} of ${count(rate.base)}`}>
      {side?.condition && of ? (
        <button
          type="button"
          className="hover:underline"
          onClick={(event) => {
            event.stopPropagation()
            setSelection({
              type: 'where',
              condition: together([side.condition, { type: 'selected', selection: of }])!,
            })
          }}
        >
          {percent(rate.share)} · {count(rate.hits)}
        </button>
      ) : (
        <>
          {percent(rate.share)} · {count(rate.hits)}
        </>
      )}
      {gap && (
        <span
          className={isSure ? 'ml-1.5 font-semibold' : 'ml-1.5 text-ink-soft'}
          title={`95 % interval ${rangeText(gap.interval)}: ${isSure ? 'more than noise' : 'cannot tell'}`}
        >
          {points(gap.difference)}
          {isSure ? '' : ' ?'}
        </span>
      )}
    </span>
  )
}
