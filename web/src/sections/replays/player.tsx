import type { Said as SaidOfSession, SessionMoment } from '@dust-trail/api'
import type { DocumentRecording, MissingPart, Timeline } from '@dust-trail/core'
import { clsx } from 'clsx'
import { Pause, Play, SkipBack, SkipForward, StickyNote } from 'lucide-react'
import type { ReactNode } from 'react'
import { useRef, useState } from 'react'
import { z } from 'zod'
import { useKeys } from '../../app/keyboard.ts'
import { Button, IconButton, Select } from '../../ui/controls.tsx'
import { clock, plural } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { useStored } from '../../ui/stored.ts'
import type { Box } from './note-dialog.tsx'
import { FrameDrawing, NoteDialog, NoteFrame } from './note-dialog.tsx'
import type { Requested, Said } from './technical.ts'
import { TimelineLanes } from './timeline-lanes.tsx'
import { SPEEDS, usePlayback } from './use-playback.ts'
import { useStage } from './use-stage.ts'

interface Props {
  documents: DocumentRecording[]
  axis: Timeline
  moments: SessionMoment[]
  missing: readonly MissingPart[]
  said: readonly Said[]
  requests: readonly Requested[]
  notes: SaidOfSession['notes']
  addNote: (note: { atMs: number; box: Box | null; text: string }) => void
  startAtMs: number
  /** plays at once, as the next of a list does */
  plays: boolean
  /** it has been played to its end; stays the same function */
  ended: () => void
  /** stands beside the picture */
  beside: (atMs: number, seek: (atMs: number) => void, html: () => string) => ReactNode
}

const FRAME_MS = 1000 / 25
/** So long before and after its moment a frame that somebody drew is shown. */
const NOTE_MS = 1500
const sizeSchema = z.enum(['fit', 'own'])

/** The page in the middle, the timeline under it, what is known beside it. */
export function Player(props: Props) {
  const { documents, axis, moments, missing, said, requests, notes, addNote, startAtMs, plays, ended } = props
  const holder = useRef<HTMLDivElement>(null)
  const screen = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const [size, setSize] = useStored('player size', sizeSchema, 'fit')
  const [noting, setNoting] = useState<'no' | 'drawing' | { box: Box | null }>('no')
  const { show, shown, html } = useStage(
    { holder, screen, canvas },
    { documents, axis, startAtMs, fits: size === 'fit' },
  )
  const playback = usePlayback(axis, { startAtMs, plays }, show, ended)
  const { atMs, playing, toggle, seek } = playback
  const signals = moments.filter(({ signal }) => signal)
  const jump = (step: 1 | -1) => {
    const target =
      step === 1
        ? signals.find((moment) => moment.atMs > atMs + 50)
        : signals.findLast((moment) => moment.atMs < atMs - 50)
    if (target) seek(target.atMs)
  }
  const note = (how: 'drawing' | { box: null }) => {
    if (playing) toggle()
    setNoting(how)
  }

  useKeys((key) => {
    const does: Record<string, () => void> = {
      ' ': toggle,
      ',': () => seek(atMs - FRAME_MS),
      '.': () => seek(atMs + FRAME_MS),
      '[': () => jump(-1),
      ']': () => jump(1),
      c: () => note({ box: null }),
    }
    does[key]?.()
    return key in does
  })

  const lost = missing.reduce((sum, { pieces }) => sum + pieces, 0)
  return (
    <div className="flex min-h-0 flex-1 border-t border-line">
      <div className="flex min-w-0 flex-1 flex-col">
        <p className="truncate px-4 py-1 text-ink-soft" title={shown.title}>
          {shown.title}
          {lost > 0 && ` · ${missingWords(missing, axis)}`}
          {shown.unread > 0 &&
            ` · ${plural(shown.unread, 'style sheet')} of another site could not be read when this was recorded`}
          {shown.missing > 0 && ` · ${plural(shown.missing, 'picture')} of the page not kept: shown as boxes`}
          {shown.skipped > 0 && ` · ${plural(shown.skipped, 'step')} of this recording could not be shown`}
        </p>
        <div
          ref={holder}
          className={clsx(
            'relative mx-4 min-h-0 flex-1 bg-line/60',
            size === 'fit' ? 'overflow-hidden' : 'overflow-auto',
          )}
        >
          <div
            ref={screen}
            className="absolute origin-top-left overflow-hidden bg-white [&>iframe]:block [&>iframe]:border-0"
          >
            <canvas ref={canvas} aria-hidden className="absolute inset-0 z-10" />
            {notes.map(
              ({ id, box, text, atMs: at }) =>
                box && Math.abs(at - atMs) < NOTE_MS && <NoteFrame key={id} box={box} text={text} />,
            )}
            {noting === 'drawing' && (
              <FrameDrawing width={shown.width} drawn={(box) => setNoting(box ? { box } : 'no')} />
            )}
          </div>
        </div>
        <div className="flex items-center gap-2 px-4 pt-2">
          <IconButton label="Previous signal" disabled={!signals.length} onClick={() => jump(-1)}>
            <SkipBack size={16} />
          </IconButton>
          <Button look="primary" onClick={toggle} className="w-20 justify-center">
            {playing ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
            {playing ? 'Pause' : 'Play'}
          </Button>
          <IconButton label="Next signal" disabled={!signals.length} onClick={() => jump(1)}>
            <SkipForward size={16} />
          </IconButton>
          <span className="w-24 whitespace-nowrap text-ink-soft">
            <span className="font-semibold text-ink">{clock(atMs)}</span> of {clock(axis.durationMs)}
          </span>
          <Select
            aria-label="Speed"
            value={playback.speed}
            onChange={({ target }) => playback.setSpeed(Number(target.value))}
          >
            {SPEEDS.map((speed) => (
              <option key={speed} value={speed}>
                {speed}×
              </option>
            ))}
          </Select>
          <label className="inline-flex items-center gap-1.5 whitespace-nowrap">
            <input
              type="checkbox"
              className="accent-spruce"
              checked={playback.skipIdle}
              onChange={(event) => playback.setSkipIdle(event.target.checked)}
            />
            Skip idle time
          </label>
          <span className="flex-1" />
          <Button onClick={() => note({ box: null })} title="Write a note at this moment (C)">
            <StickyNote size={14} aria-hidden /> Note
          </Button>
          <Button
            aria-pressed={noting === 'drawing'}
            onClick={() => (noting === 'drawing' ? setNoting('no') : note('drawing'))}
            title="Draw a frame around a part of the page, and write a note on it"
          >
            Frame
          </Button>
          <RadioGroup
            label="Size of the picture"
            value={size}
            onChange={setSize}
            options={[
              ['fit', 'Fit'],
              ['own', '1:1'],
            ]}
          />
        </div>
        <TimelineLanes {...{ axis, moments, said, requests, notes, missing, atMs, seek }} />
      </div>
      {props.beside(atMs, seek, html)}
      {typeof noting === 'object' && (
        <NoteDialog
          atMs={atMs}
          box={noting.box}
          close={() => setNoting('no')}
          save={(text) => {
            addNote({ atMs: Math.round(atMs), box: noting.box, text })
            setNoting('no')
          }}
        />
      )}
    </div>
  )
}

/** What never arrived, and from when on the page may look different. */
function missingWords(missing: readonly MissingPart[], axis: Timeline): string {
  const [first, ...others] = missing
  const at = clock(Math.max(0, first!.startMs + first!.fromMs - axis.startMs))
  const what = first!.whole
    ? `the page at ${at} never arrived`
    : `${plural(first!.pieces, 'part')} of the recording after ${at} never arrived: from there the page may have looked different`
  return others.length ? `${what}, and ${plural(others.length, 'more gap')}` : what
}
