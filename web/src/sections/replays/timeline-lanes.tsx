import type { SessionMoment, Said as SaidOfSession } from '@dust-trail/api'
import type { MissingPart, Timeline } from '@dust-trail/core'
import { clsx } from 'clsx'
import { useState } from 'react'
import { clock, duration } from '../../ui/format.ts'
import type { Requested, Said } from './technical.ts'
import { isFailed } from './technical.ts'

interface Props {
  axis: Timeline
  moments: SessionMoment[]
  said: readonly Said[]
  requests: readonly Requested[]
  notes: SaidOfSession['notes']
  missing: readonly MissingPart[]
  atMs: number
  seek: (atMs: number) => void
}

/** A gap is named where there is room for its length. */
const NAMED_GAP = 0.06
/** Marks so near each other, as a share of the line, are told together when pointed at. */
const NEAR = 0.012

interface Mark {
  atMs: number
  text: string
  forMs?: number
  look: string
}

/** One axis, a lane for each kind of thing: pages, activity with its idle stretches, signals, failures, requests, notes. */
export function TimelineLanes({ axis, moments, said, requests, notes, missing, atMs, seek }: Props) {
  const [pointedMs, setPointedMs] = useState<number | null>(null)
  const x = (ms: number) => `${(Math.min(Math.max(0, ms), axis.durationMs) / axis.durationMs) * 100}%`
  const most = Math.max(1, ...axis.activity)
  const lanes: { name: string; marks: Mark[] }[] = [
    {
      name: 'Signals',
      marks: moments
        .filter(({ signal }) => signal)
        .map(({ atMs: at, kind, label }) => ({
          ...{ atMs: at, text: `${kind}${label ? `: ${label}` : ''}` },
          look: 'size-2 -translate-x-1/2 rotate-45 bg-clay',
        })),
    },
    {
      name: 'Errors',
      marks: said
        .filter(({ level }) => level === 'error' || level === 'warn')
        .map(({ atMs: at, level, text }) => ({
          ...{ atMs: at, text: `${level}: ${text}` },
          look: clsx('h-2 w-1 -translate-x-1/2', level === 'error' ? 'bg-clay' : 'bg-ochre'),
        })),
    },
    {
      name: 'Requests',
      marks: requests.map((one) => ({
        ...{ atMs: one.atMs, forMs: one.ms },
        text: `${one.method} ${one.path} ${one.status || 'no answer'}`,
        look: clsx('h-1.5 min-w-0.5', isFailed(one) ? 'bg-clay' : 'bg-stone'),
      })),
    },
    {
      name: 'Notes',
      marks: notes.map(({ atMs: at, text }) => ({
        ...{ atMs: at, text: `note: ${text}` },
        look: 'size-2 -translate-x-1/2 rounded-full bg-ochre',
      })),
    },
  ].filter(({ marks }) => marks.length)
  const near =
    pointedMs === null
      ? []
      : lanes
          .flatMap(({ marks }) => marks)
          .filter((mark) => Math.abs(mark.atMs - pointedMs) <= NEAR * axis.durationMs)
  return (
    <div className="flex px-4 pt-1 pb-2">
      <div className="w-16 shrink-0 text-[11px] leading-4 text-ink-soft" aria-hidden>
        <p className="h-5 leading-5">Pages</p>
        <p className="h-6 leading-6">Activity</p>
        {lanes.map(({ name, marks }) => (
          <p key={name} className="h-4">
            {name} {marks.length}
          </p>
        ))}
      </div>
      <div
        className="relative min-w-0 flex-1"
        onPointerMove={({ currentTarget, clientX }) => {
          const { left, width } = currentTarget.getBoundingClientRect()
          setPointedMs(((clientX - left) / width) * axis.durationMs)
        }}
        onPointerLeave={() => setPointedMs(null)}
      >
        <div className="relative h-5 overflow-hidden" aria-hidden>
          {axis.documents.map(({ index, fromMs, toMs, title }) => (
            <span
              key={index}
              className="absolute inset-y-0 truncate border-l border-stone pl-1 text-[11px] leading-5 text-ink-soft"
              style={{ left: x(fromMs), width: `calc(${x(toMs)} - ${x(fromMs)})` }}
            >
              {title}
            </span>
          ))}
        </div>
        <div className="relative h-6 bg-chalk" aria-hidden>
          <svg
            className="absolute inset-0 block h-full w-full"
            viewBox={`0 0 ${axis.activity.length} 24`}
            preserveAspectRatio="none"
          >
            {axis.activity.map((n, i) =>
              n ? (
                <rect
                  key={i}
                  x={i}
                  width={0.8}
                  y={24 - (Math.sqrt(n / most) * 22 + 2)}
                  height={Math.sqrt(n / most) * 22 + 2}
                  fill="var(--stone)"
                />
              ) : null,
            )}
          </svg>
          {axis.idle.map(({ fromMs, toMs }) => (
            <span
              key={fromMs}
              className="absolute bottom-0 h-0.5 bg-line text-center text-[10px] leading-3 text-ink-soft"
              style={{ left: x(fromMs), width: `calc(${x(toMs)} - ${x(fromMs)})` }}
            >
              {toMs - fromMs > NAMED_GAP * axis.durationMs && (
                <span className="absolute inset-x-0 bottom-1 truncate">idle {duration(toMs - fromMs)}</span>
              )}
            </span>
          ))}
          {missing.map(({ startMs, fromMs, toMs, document }) => (
            <span
              key={`${document} ${fromMs}`}
              title="Parts of the recording never arrived"
              className="absolute inset-y-0 min-w-1 border-x border-clay bg-clay-soft/70"
              style={{
                left: x(startMs + fromMs - axis.startMs),
                width: `calc(${x(startMs + toMs - axis.startMs)} - ${x(startMs + fromMs - axis.startMs)})`,
              }}
            />
          ))}
        </div>
        {lanes.map(({ name, marks }) => (
          <div key={name} className="relative h-4" aria-hidden>
            {marks.map(({ atMs: at, forMs, look }, i) => (
              <span
                key={i}
                className={clsx('absolute top-1', look)}
                style={{
                  left: x(at),
                  ...(forMs !== undefined && { width: `calc(${x(at + forMs)} - ${x(at)})` }),
                }}
              />
            ))}
          </div>
        ))}
        <span
          aria-hidden
          className="pointer-events-none absolute inset-y-0 w-0.5 -translate-x-1/2 bg-ochre"
          style={{ left: x(atMs) }}
        />
        {pointedMs !== null && (
          <span
            aria-hidden
            className="pointer-events-none absolute bottom-full z-20 mb-1 max-w-72 rounded-md border border-line bg-sheet px-2 py-1 text-xs"
            style={
              pointedMs > axis.durationMs / 2
                ? { right: `calc(100% - ${x(pointedMs)})` }
                : { left: x(pointedMs) }
            }
          >
            <b>{clock(pointedMs)}</b>
            {near.slice(0, 4).map(({ text }, k) => (
              <span key={k} className="block truncate">
                {text}
              </span>
            ))}
            {near.length > 4 && <span className="block text-ink-soft">and {near.length - 4} more</span>}
          </span>
        )}
        <input
          type="range"
          aria-label="Time in the session"
          aria-valuetext={`${clock(atMs)} of ${clock(axis.durationMs)}`}
          className="absolute inset-0 h-full w-full cursor-pointer opacity-0"
          min={0}
          max={Math.ceil(axis.durationMs)}
          step={100}
          value={Math.round(atMs)}
          onChange={(event) => seek(Number(event.target.value))}
        />
      </div>
    </div>
  )
}
