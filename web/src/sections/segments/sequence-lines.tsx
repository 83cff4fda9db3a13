import type { SequencesAnswer, Token } from '@dust-trail/core'
import { tokenWords } from '@dust-trail/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import { Link } from 'react-router'
import { useLensLink, useSite } from '../../app/lens.ts'
import { gapAfter, sizeOf } from '../../closeup/session-trail.tsx'
import { count, duration, moment, plural } from '../../ui/format.ts'

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
              {lines[index]!.map(({ token, from, count: n }, at) => {
                const chosen = stretch?.row === index && at >= stretch.from && at <= stretch.to
                const { forMs, signals } = spentAt(sequence, from, n)
                const words = [
                  tokenWords(data.tokens[token]!),
                  ...(n > 1 ? [`${n} times`] : []),
                  ...(forMs > 0 ? [duration(forMs)] : []),
                  ...(signals ? [plural(signals, 'signal')] : []),
                ].join(', ')
                return (
                  <button
                    key={at}
                    type="button"
                    title={words}
                    aria-label={words}
                    aria-pressed={chosen}
                    className={clsx(
                      'flex h-5 min-w-4 shrink-0 items-center rounded',
                      chosen && 'bg-ochre-soft outline-2 outline-ochre',
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
                    <Dot token={data.tokens[token]!} forMs={forMs} signals={signals} isRun={n > 1} />
                    {n > 1 && <sup className="font-mono text-[10px]">{n}</sup>}
                    <span
                      aria-hidden
                      className="block h-px bg-line"
                      style={{ width: at + 1 < lines[index]!.length ? gapAfter(forMs) : 2 }}
                    />
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

/** How long it was from the first event of a run to what came next, and the signals meanwhile. */
function spentAt(
  { atMs, signals }: SequencesAnswer['sequences'][number],
  from: number,
  n: number,
): { forMs: number; signals: number } {
  return {
    forMs: (atMs[from + n] ?? atMs.at(-1)!) - atMs[from]!,
    signals: signals.slice(from, from + n).reduce((sum, own) => sum + own, 0),
  }
}

/** What one event looks like: pages are discs, what is done on them rings, what fails squares; marked where a signal lies. */
function Dot({
  token: { kind },
  forMs,
  signals,
  isRun,
}: {
  token: Token
  forMs: number
  signals: number
  isRun: boolean
}) {
  const look = lookOf(kind)
  const size = look === 'page' ? sizeOf(forMs) : 8
  return (
    <span
      className={clsx(
        'relative block shrink-0',
        look === 'fault' ? 'rotate-45 bg-clay' : 'rounded-full',
        look === 'page' && (signals ? 'bg-clay' : 'bg-spruce'),
        look === 'done' && (signals ? 'border-2 border-clay' : 'border-2 border-ochre'),
        look === 'other' && 'border border-stone',
        isRun && 'outline outline-offset-1 outline-spruce',
      )}
      style={{ width: size, height: size }}
    >
      {signals > 0 && look !== 'fault' && (
        <span aria-hidden className="absolute -top-2 left-1/2 h-1.5 w-px -translate-x-1/2 bg-clay" />
      )}
    </span>
  )
}

/** What the forms mean. */
export function Legend({ tokens }: { tokens: readonly Token[] }) {
  const met = new Set(tokens.map(({ kind }) => lookOf(kind)))
  return (
    <ul aria-label="What the marks mean" className="flex flex-wrap gap-x-4 gap-y-1 text-ink-soft">
      {LOOKS.filter(([look]) => met.has(look)).map(([look, kind, words]) => (
        <li key={look} className="flex items-center gap-1.5">
          <Dot token={{ kind, page: '', what: '' }} forMs={4000} signals={0} isRun={false} /> {words}
        </li>
      ))}
      <li>larger and further apart: more time · a stroke above, or clay: a signal · hover for the name</li>
    </ul>
  )
}

type Look = 'page' | 'done' | 'fault' | 'other'
const LOOKS: readonly (readonly [Look, Token['kind'], string])[] = [
  ['page', 'page', 'a page'],
  ['done', 'click', 'something done on it'],
  ['fault', 'error', 'something that failed'],
  ['other', 'action', 'anything else'],
]

function lookOf(kind: Token['kind']): Look {
  if (kind === 'page') return 'page'
  if (kind === 'click' || kind === 'input' || kind === 'submit') return 'done'
  return kind === 'error' || kind === 'request' || kind === 'freeze' ? 'fault' : 'other'
}

const ROW_PX = 26
