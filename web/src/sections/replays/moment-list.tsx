import type { SessionMoment } from '@dust-trail/api'
import { clsx } from 'clsx'
import { useEffect, useMemo, useRef, useState } from 'react'
import { inputLook } from '../../ui/controls.tsx'
import { clock } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty } from '../../ui/states.tsx'
import { momentLines, saysIn } from '../../words/moment-lines.ts'

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
  const [words, setWords] = useState('')
  const list = useRef<HTMLOListElement>(null)
  const lines = useMemo(() => momentLines(moments), [moments])
  const shown = lines.filter(
    (line) => (which === 'all' || line.signals.length) && (!words.trim() || saysIn(line, words)),
  )
  const current = shown.findLastIndex(({ moment }) => moment.atMs <= atMs + 1)
  useEffect(() => {
    list.current?.children[current]?.scrollIntoView({ block: 'nearest' })
  }, [current])
  return (
    <>
      <div className="flex items-center gap-2 border-b border-line p-2">
        <input
          aria-label="Find among the moments"
          placeholder="Find …"
          className={clsx(inputLook, 'h-8 min-w-0 flex-1')}
          value={words}
          onChange={({ target }) => setWords(target.value)}
        />
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
        {shown.map((line, i) => {
          const { moment, times, signals } = line
          return (
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
                    {times > 1 ? `${times} × ${moment.kind}` : moment.kind}
                  </span>{' '}
                  <span className="break-words text-ink-soft">
                    {moment.kind === 'page' ? moment.page : moment.label}
                  </span>
                  {!moment.signal &&
                    [...new Set(signals.map(({ kind }) => kind))].map((kind) => (
                      <span key={kind} className="font-semibold whitespace-nowrap text-clay">
                        {' '}
                        ◆ {kind}
                      </span>
                    ))}
                </span>
              </button>
            </li>
          )
        })}
        {!shown.length &&
          (words.trim() ? (
            <Empty title="Nothing of that">No moment of this session says “{words.trim()}”.</Empty>
          ) : (
            <Empty title="None">Nothing that we detect went wrong in this session.</Empty>
          ))}
      </ol>
    </>
  )
}
