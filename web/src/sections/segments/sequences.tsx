import type { SequencesResult, Token } from '@dust-trail/api'
import type { Level, Selection } from '@dust-trail/core'
import { folded, tokenWords } from '@dust-trail/core'
import { useVirtualizer } from '@tanstack/react-virtual'
import { clsx } from 'clsx'
import { useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { useTokenNames } from '../../lens/token-names.ts'
import { useSequences } from '../../api/queries.ts'
import { keepLens, useSite } from '../../app/lens.ts'
import type { Lens } from '@dust-trail/core'
import { Button, Choice } from '../../ui/controls.tsx'
import { count, moment, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading } from '../../ui/states.tsx'

const LEVEL_WORDS: readonly (readonly [Level, string])[] = [
  ['page', 'Pages'],
  ['element', 'Pages and what is done on them'],
  ['kind', 'Kinds'],
]
const MARKS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz'
const ROW_PX = 26

interface Stretch {
  row: number
  from: number
  to: number
}

/** What sessions did, one line each, one mark an event; a stretch of a line can be chosen and cut by. */
export function Sequences({
  lens,
  selection,
  cut,
}: {
  lens: Lens
  selection: Selection
  /** what to do with a stretch */
  cut: (pattern: Token[], how: 'directly' | 'later', what: 'with' | 'without' | 'funnel' | 'nodes') => void
}) {
  const site = useSite()
  const [level, setLevel] = useState<Level>('page')
  const [fold, setFold] = useState(true)
  const [how, setHow] = useState<'directly' | 'later'>('directly')
  const [stretch, setStretch] = useState<Stretch | null>(null)
  const nameOf = useTokenNames()
  const answer = useSequences(site.key, { lens, selection }, { level })
  const { data } = answer
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!data) return <Loading />
  if (!data.total) return <Empty title="No sessions here">Choose other dates, or another segment.</Empty>
  const lines = data.sequences.map(({ tokens }) =>
    fold ? folded(tokens) : tokens.map((token, from) => ({ token, from, count: 1 })),
  )
  const pattern = stretch
    ? lines[stretch.row]!.slice(stretch.from, stretch.to + 1).map(({ token }) => data.tokens[token]!)
    : []
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2">
      <div className="flex flex-wrap items-center gap-2">
        <Choice
          label="Events told apart by"
          value={level}
          options={LEVEL_WORDS}
          onChange={(next) => {
            setLevel(next)
            setStretch(null)
          }}
        />
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={fold}
            onChange={(event) => {
              setFold(event.target.checked)
              setStretch(null)
            }}
          />
          Fold runs
        </label>
        <span className="text-ink-soft">
          {data.total > data.sequences.length
            ? `The newest ${count(data.sequences.length)} of ${plural(data.total, 'session')}.`
            : plural(data.total, 'session')}{' '}
          Drag over marks (or click one, then Shift-click another) to choose a stretch.
        </span>
      </div>
      <div
        role="region"
        aria-label="Chosen stretch"
        className={clsx(
          'flex min-h-8 flex-wrap items-center gap-2 rounded-md px-2',
          pattern.length && 'bg-ochre-soft',
        )}
      >
        {pattern.length ? (
          <>
            <span
              className="min-w-0 max-w-[50%] truncate font-semibold text-ochre-text"
              title={pattern.map(tokenWords).join(' → ')}
            >
              {pattern.map(nameOf).join(' → ')}
            </span>
            <Choice
              label="How they follow"
              value={how}
              options={[
                ['directly', 'directly'],
                ['later', 'or later'],
              ]}
              onChange={setHow}
            />
            <Button onClick={() => cut(pattern, how, 'with')}>Cut: only with it</Button>
            <Button onClick={() => cut(pattern, how, 'without')}>Cut: only without it</Button>
            <Button look="primary" disabled={pattern.length > 8} onClick={() => cut(pattern, how, 'funnel')}>
              As funnel
            </Button>
            <Button disabled={pattern.length > 8} onClick={() => cut(pattern, how, 'nodes')}>
              Each beginning as a segment
            </Button>
          </>
        ) : (
          <span className="text-ink-soft">No stretch is chosen.</span>
        )}
      </div>
      <Lines data={data} lines={lines} stretch={stretch} setStretch={setStretch} />
      <Legend tokens={data.tokens} />
    </div>
  )
}

function Lines({
  data,
  lines,
  stretch,
  setStretch,
}: {
  data: SequencesResult
  lines: { token: number; from: number; count: number }[][]
  stretch: Stretch | null
  setStretch: (stretch: Stretch | null) => void
}) {
  const site = useSite()
  const [parameters] = useSearchParams()
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
          const own = data.sequences[index]!
          return (
            <li
              key={own.id}
              className="absolute flex items-center gap-px pl-2"
              style={{ top: start, height: ROW_PX }}
            >
              <Link
                to={keepLens(`/replays/${own.id}`, parameters)}
                className="w-28 shrink-0 text-ink-soft hover:underline"
                title="Watch this session"
              >
                {moment(own.startMs, site.timeZone)}
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
              {own.more > 0 && <span className="pl-1 text-ink-soft">{count(own.more)} more</span>}
            </li>
          )
        })}
      </ol>
    </div>
  )
}

function Legend({ tokens }: { tokens: readonly Token[] }) {
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
