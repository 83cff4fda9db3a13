import type { SequencesAnswer, Token } from '@dust-trail/core'
import { tokenWords } from '@dust-trail/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import { Link } from 'react-router'
import { useLensLink, useSite } from '../../app/lens.ts'
import { count, moment } from '../../ui/format.ts'
import { useTokenNames } from '../../words/token-names.ts'

export interface Stretch {
  row: number
  from: number
  to: number
}

export function Lines({
  data,
  lines,
  stretch,
  setStretch,
}: {
  data: SequencesAnswer
  lines: { token: number; from: number; count: number }[][]
  stretch: Stretch | null
  setStretch: (stretch: Stretch | null) => void
}) {
  const site = useSite()
  const linkTo = useLensLink()
  const scroller = useRef<HTMLDivElement>(null)
  const [anchor, setAnchor] = useState<{ row: number; at: number; dragging: boolean } | null>(null)
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  })
  const reach = (row: number, at: number) => {
    if (anchor?.row === row) setStretch({ row, from: Math.min(anchor.at, at), to: Math.max(anchor.at, at) })
  }
  return (
    <div
      ref={scroller}
      className="min-h-40 flex-1 overflow-auto rounded-md border border-line bg-sheet select-none"
      onPointerUp={() => anchor && setAnchor({ ...anchor, dragging: false })}
    >
      <ol aria-label="Sequences" className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, start }) => {
          const sequence = data.sequences[index]!
          return (
            <li
              key={sequence.id}
              className="absolute flex items-center gap-px pl-2"
              style={{ top: start, height: ROW_PX }}
            >
              <Link
                to={linkTo(`/replays/${sequence.id}`)}
                className="w-28 shrink-0 text-ink-soft hover:underline"
                title="Watch this session"
              >
                {moment(sequence.startMs, site.timeZone)}
              </Link>
              {lines[index]!.map(({ token, count: n }, at) => {
                const chosen = stretch?.row === index && at >= stretch.from && at <= stretch.to
                const words = `${tokenWords(data.tokens[token]!)}${n > 1 ? `, ${n} times` : ''}`
                return (
                  <button
                    key={at}
                    type="button"
                    title={words}
                    aria-label={words}
                    aria-pressed={chosen}
                    className={clsx(
                      'h-5 min-w-5 shrink-0 px-0.5 text-center font-mono text-[11px] leading-5',
                      lookOf(data.tokens[token]!),
                      chosen && 'outline-2 outline-ochre',
                    )}
                    onPointerDown={(event) => {
                      if (event.shiftKey && anchor?.row === index) {
                        reach(index, at)
                        return
                      }
                      setAnchor({ row: index, at, dragging: true })
                      setStretch({ row: index, from: at, to: at })
                    }}
                    onPointerEnter={() => anchor?.dragging && reach(index, at)}
                    onKeyDown={(event) => {
                      if (event.key === 'Enter' && event.shiftKey) reach(index, at)
                    }}
                  >
                    {mark(token)}
                    {n > 1 && <sup>{n}</sup>}
                  </button>
                )
              })}
              {sequence.more > 0 && <span className="pl-1 text-ink-soft">{count(sequence.more)} more</span>}
            </li>
          )
        })}
      </ol>
    </div>
  )
}

export function Legend({ tokens }: { tokens: readonly Token[] }) {
  const nameOf = useTokenNames()
  return (
    <ul
      tabIndex={0}
      aria-label="What the marks mean"
      className="flex max-h-20 flex-wrap gap-x-4 gap-y-1 overflow-auto"
    >
      {tokens.map((token, k) => (
        <li key={k} className="flex max-w-72 items-center gap-1.5">
          <span className={clsx('min-w-5 px-0.5 text-center font-mono text-[11px] leading-5', lookOf(token))}>
            {mark(k)}
          </span>
          <span className="truncate" title={tokenWords(token)}>
            {nameOf(token)}
          </span>
        </li>
      ))}
    </ul>
  )
}

const ROW_PX = 26

const MARKS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz'

/** A letter, or a letter and a number where there are more things than letters. */
function mark(token: number): string {
  const round = Math.floor(token / MARKS.length)
  return `${MARKS[token % MARKS.length]}${round || ''}`
}

function lookOf({ kind }: Token): string {
  if (kind === 'page') return 'bg-spruce-soft'
  if (kind === 'click' || kind === 'input' || kind === 'submit') return 'bg-ochre-soft'
  if (kind === 'error' || kind === 'request' || kind === 'freeze') return 'bg-clay-soft text-clay'
  return 'bg-chalk border border-line'
}
