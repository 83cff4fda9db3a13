import type { Condition, Lens, Rate, Selection } from '@dust-trail/core'
import { newcombe } from '@dust-trail/core'
import { Columns3, X } from 'lucide-react'
import { Popover } from 'radix-ui'
import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { useSegments, useSizes } from '../api/queries.ts'
import { comparedLens, useLens, useSite, versusFrom } from '../app/lens.ts'
import { Button } from '../ui/controls.tsx'
import { count, day, percent, points } from '../ui/format.ts'
import { useSelection } from '../closeup/use-selection.ts'
import { together } from './words.ts'
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
  const [parameters, setParameters] = useSearchParams()
  const versus = parameters.get('vs')
  const text = parameters.get('segments') ?? ''
  // One list as long as the address says the same, so that questions are not asked anew.
  const sides = useMemo((): Side[] => {
    const all = segments.data ?? []
    const other = comparedLens(lens, versusFrom(new URLSearchParams(versus ? { vs: versus } : {})))
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
    setChosen: (ids) =>
      setParameters((known) => {
        const next = new URLSearchParams(known)
        if (ids.length) next.set('segments', ids.join(','))
        else next.delete('segments')
        return next
      }),
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
          <span
            key={k}
            className="inline-flex h-7 max-w-72 items-center gap-1.5 rounded-md border border-line pr-2 pl-2"
          >
            <Swatch side={k} />
            <span className="truncate" title={name}>
              {name}
            </span>
            <span className="shrink-0 text-ink-soft">
              {sizes.data?.sizes[k] ? count(sizes.data.sizes[k].hits) : '…'}
            </span>
            {id !== undefined && (
              <button
                type="button"
                aria-label={`No longer beside: ${name}`}
                className="-mr-2 inline-flex size-7 shrink-0 items-center justify-center hover:text-ink"
                onClick={() => setChosen(chosen.filter((one) => one !== id))}
              >
                <X size={13} />
              </button>
            )}
          </span>
        ))}
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <Button look="quiet">
            <Columns3 size={14} aria-hidden /> Beside
          </Button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            aria-label="Beside"
            align="start"
            sideOffset={4}
            className="z-40 w-72 rounded-md border border-line bg-sheet p-1.5 shadow-lg"
          >
            {free.length > 0 && sides.length < MOST_SIDES ? (
              <>
                <p className="px-2 py-1 text-ink-soft">Set a segment beside the lens, on every screen.</p>
                <div className="max-h-72 overflow-auto">
                  {free.map(({ id, name }) => (
                    <button
                      key={id}
                      type="button"
                      className="block h-8 w-full truncate rounded-md px-2 text-left hover:bg-ochre-soft"
                      title={name}
                      onClick={() => {
                        setChosen([...chosen, id])
                        setOpen(false)
                      }}
                    >
                      {name}
                    </button>
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
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
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
  const gap =
    first && first.share !== null && rate.share !== null
      ? newcombe(rate.hits, rate.base, first.hits, first.base)
      : undefined
  const [low, high] = gap?.interval ?? [0, 0]
  const sure = low > 0 || high < 0
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
          className={sure ? 'ml-1.5 font-semibold' : 'ml-1.5 text-ink-soft'}
          title={`95 % interval ${points(low)} to ${points(high)}: ${sure ? 'more than noise' : 'cannot tell'}`}
        >
          {points(gap.difference)}
          {sure ? '' : ' ?'}
        </span>
      )}
    </span>
  )
}
