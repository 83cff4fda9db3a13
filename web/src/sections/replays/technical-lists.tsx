import type { SessionLine } from '@dust-trail/api'
import { clsx } from 'clsx'
import { useState } from 'react'
import { Select } from '../../ui/controls.tsx'
import { bytesText, clock, duration, plural } from '../../ui/format.ts'
import { Empty } from '../../ui/states.tsx'
import type { Requested, Said } from './technical.ts'
import { isFailed } from './technical.ts'

interface Seeks {
  seek: (atMs: number) => void
}

const rowLook = 'flex w-full gap-2 px-3 py-1.5 text-left hover:bg-ochre-soft'

function At({ atMs }: { atMs: number }) {
  return <span className="w-9 shrink-0 text-right text-ink-soft">{clock(Math.max(0, atMs))}</span>
}

/** Failures of scripts and what the page wrote to the console, by level. */
export function ConsoleList({ said, seek }: { said: readonly Said[] } & Seeks) {
  const [level, setLevel] = useState('')
  const levels = [...new Set(said.map((one) => one.level))]
  const shown = said.filter((one) => !level || one.level === level)
  if (!said.length)
    return (
      <Empty title="Nothing was said">
        No script failed, and nothing that may leave the page was written to the console.
      </Empty>
    )
  return (
    <>
      <div className="border-b border-line p-2">
        <Select aria-label="Level" value={level} onChange={({ target }) => setLevel(target.value)}>
          <option value="">All levels, {said.length}</option>
          {levels.map((one) => (
            <option key={one} value={one}>
              {one}, {said.filter((other) => other.level === one).length}
            </option>
          ))}
        </Select>
      </div>
      <ol className="min-h-0 flex-1 overflow-auto" data-list>
        {shown.map(({ atMs, level: own, text, stack, failed }, k) => (
          <li key={k}>
            <button type="button" data-row className={rowLook} onClick={() => seek(atMs)}>
              <At atMs={atMs} />
              <span className="min-w-0 flex-1">
                <span className={clsx('font-semibold', own === 'error' && 'text-clay')}>
                  {failed ? 'failure' : own}
                </span>{' '}
                <span className="break-words">{text}</span>
                {stack && (
                  <span className="mt-1 block max-h-40 overflow-auto font-mono text-[11px] break-words whitespace-pre-wrap text-ink-soft">
                    {stack}
                  </span>
                )}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </>
  )
}

/** Requests one under the other on one scale of time, each as long as it took. */
export function RequestList({ requests, seek }: { requests: readonly Requested[] } & Seeks) {
  const [failedOnly, setFailedOnly] = useState(false)
  const failed = requests.filter(isFailed)
  if (!requests.length) return <Empty title="No requests">The pages asked for nothing that is told.</Empty>
  const shown = failedOnly ? failed : requests
  const from = Math.min(...requests.map(({ atMs }) => atMs))
  const to = Math.max(from + 1, ...requests.map(({ atMs, ms }) => atMs + ms))
  return (
    <>
      <label className="flex items-center gap-1.5 border-b border-line px-3 py-2.5">
        <input
          type="checkbox"
          className="accent-spruce"
          checked={failedOnly}
          onChange={({ target }) => setFailedOnly(target.checked)}
        />
        Only the {plural(failed.length, 'failed one')} of {requests.length}
      </label>
      <ol className="min-h-0 flex-1 overflow-auto" data-list>
        {shown.map((one, k) => (
          <li key={k}>
            <button type="button" data-row className={rowLook} onClick={() => seek(one.atMs)}>
              <At atMs={one.atMs} />
              <span className="min-w-0 flex-1">
                <span className="flex gap-2">
                  <span className="min-w-0 flex-1 break-words">
                    {one.method} <span className="text-ink-soft">{one.path}</span>
                  </span>
                  <span className={clsx('shrink-0', isFailed(one) && 'font-semibold text-clay')}>
                    {one.status || 'no answer'}
                  </span>
                  <span className="w-14 shrink-0 text-right text-ink-soft">
                    {one.bytes ? bytesText(one.bytes) : ''}
                  </span>
                  <span className="w-14 shrink-0 text-right text-ink-soft">{duration(one.ms)}</span>
                </span>
                <span aria-hidden className="relative mt-1 block h-1 bg-chalk">
                  <span
                    className={clsx('absolute inset-y-0 min-w-0.5', isFailed(one) ? 'bg-clay' : 'bg-stone')}
                    style={{
                      left: `${((one.atMs - from) / (to - from)) * 100}%`,
                      width: `${(one.ms / (to - from)) * 100}%`,
                    }}
                  />
                </span>
              </span>
            </button>
          </li>
        ))}
      </ol>
    </>
  )
}

/** Lines as they were taken in. */
export function RawList({
  lines,
  startMs,
  seek,
}: { lines: readonly SessionLine[]; startMs: number } & Seeks) {
  return (
    <ol className="min-h-0 flex-1 overflow-auto" data-list>
      {lines.map((line, k) => (
        <li key={k}>
          <details>
            <summary className={clsx(rowLook, 'cursor-pointer')} onClick={() => seek(line.t - startMs)}>
              <At atMs={line.t - startMs} />
              <span className="min-w-0 truncate">
                {line.kind} <span className="text-ink-soft">{shortLine(line)}</span>
              </span>
            </summary>
            <pre className="overflow-auto bg-chalk px-3 py-2 text-[11px] break-words whitespace-pre-wrap">
              {JSON.stringify(line, null, 2)}
            </pre>
          </details>
        </li>
      ))}
    </ol>
  )
}

function shortLine(line: SessionLine): string {
  const target = line['target'] as { text?: string; selector?: string } | undefined
  for (const text of [
    line['name'],
    target?.text,
    target?.selector,
    line['message'],
    line['path'],
    line['url'],
  ])
    if (typeof text === 'string' && text) return text
  return ''
}
