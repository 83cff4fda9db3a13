import type { SessionMoment } from '@dust-trail/api'
import { clsx } from 'clsx'
import { useEffect, useRef, useState } from 'react'
import { clock } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty } from '../../ui/states.tsx'

/** What happened, in order; each leads there. */
export function MomentList({
  moments,
  atMs,
  seek,
}: {
  moments: SessionMoment[]
  atMs: number
  seek: (atMs: number) => void
}) {
  const [which, setWhich] = useState<'all' | 'signals'>('all')
  const list = useRef<HTMLOListElement>(null)
  const shown = which === 'all' ? moments : moments.filter(({ signal }) => signal)
  const current = shown.findLastIndex((moment) => moment.atMs <= atMs + 1)
  useEffect(() => {
    list.current?.children[current]?.scrollIntoView({ block: 'nearest' })
  }, [current])
  return (
    <aside aria-label="Moments" className="flex w-72 shrink-0 flex-col border-l border-line bg-sheet">
      <div className="flex h-11 items-center justify-between border-b border-line px-3">
        <h2>Moments</h2>
        <RadioGroup
          label="Which moments"
          value={which}
          onChange={setWhich}
          options={[
            ['all', 'All'],
            ['signals', `Signals ${moments.filter(({ signal }) => signal).length}`],
          ]}
        />
      </div>
      <ol ref={list} className="min-h-0 flex-1 overflow-auto" data-list>
        {shown.map((moment, i) => (
          <li key={i}>
            <button
              type="button"
              data-row
              aria-current={i === current}
              onClick={() => seek(moment.atMs)}
              className={clsx(
                'flex w-full gap-2 px-3 py-1.5 text-left hover:bg-ochre-soft',
                i === current && 'bg-ochre-soft',
              )}
            >
              <span className="w-9 shrink-0 text-right text-ink-soft">{clock(moment.atMs)}</span>
              <span className="min-w-0">
                <span className={moment.signal ? 'font-semibold text-clay' : ''}>
                  {moment.signal && '◆ '}
                  {moment.kind}
                </span>{' '}
                <span className="break-words text-ink-soft">
                  {moment.kind === 'page' ? moment.page : moment.label}
                </span>
              </span>
            </button>
          </li>
        ))}
        {!shown.length && <Empty title="None">Nothing that we detect went wrong in this session.</Empty>}
      </ol>
    </aside>
  )
}
