import type { SessionMoment } from '@dust-trail/api'
import type { Timeline } from '@dust-trail/core'
import { clock } from '../../ui/format.ts'

interface Props {
  axis: Timeline
  moments: SessionMoment[]
  atMs: number
  seek: (atMs: number) => void
}

/** One axis, three lanes: pages, activity with its idle stretches, signals. A slider over all of it seeks. */
export function TimelineLanes({ axis, moments, atMs, seek }: Props) {
  const x = (ms: number) => `${(Math.min(ms, axis.durationMs) / axis.durationMs) * 100}%`
  const most = Math.max(1, ...axis.activity)
  return (
    <div className="px-4 pt-1 pb-3">
      <div className="relative">
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
        <svg
          className="block h-6 w-full bg-chalk"
          viewBox={`0 0 ${axis.activity.length} 24`}
          preserveAspectRatio="none"
          aria-hidden
        >
          {axis.idle.map(({ fromMs, toMs }) => (
            <rect
              key={fromMs}
              x={(fromMs / axis.durationMs) * axis.activity.length}
              width={((toMs - fromMs) / axis.durationMs) * axis.activity.length}
              y={22}
              height={2}
              fill="var(--line)"
            />
          ))}
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
        <div className="relative h-4" aria-hidden>
          {moments
            .filter(({ signal }) => signal)
            .map(({ atMs: at, kind, label }, i) => (
              <span
                key={i}
                title={`${clock(at)} ${kind}: ${label}`}
                className="absolute top-0.5 size-2.5 -translate-x-1/2 rotate-45 bg-clay"
                style={{ left: x(at) }}
              />
            ))}
        </div>
        <span
          aria-hidden
          className="pointer-events-none absolute inset-y-0 w-0.5 -translate-x-1/2 bg-ochre"
          style={{ left: x(atMs) }}
        />
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
