import type { SessionMoment } from '@dust-trail/api'
import type { DocumentRecording, Timeline } from '@dust-trail/core'
import { createFrame, Stage } from '@dust-trail/replay'
import { Pause, Play, SkipBack, SkipForward } from 'lucide-react'
import { useCallback, useEffect, useRef, useState } from 'react'
import { useKeys } from '../../app/keyboard.ts'
import { useSite } from '../../app/lens.ts'
import { useTheme } from '../../app/theme.ts'
import { Button, IconButton } from '../../ui/controls.tsx'
import { clock, plural } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { drawPointer } from './draw-pointer.ts'
import { MomentList } from './moment-list.tsx'
import { TimelineLanes } from './timeline-lanes.tsx'
import { SPEEDS, usePlayback } from './use-playback.ts'

interface Props {
  documents: DocumentRecording[]
  axis: Timeline
  moments: SessionMoment[]
  startAtMs: number
}

const FRAME_MS = 1000 / 25

/** The page in the middle, the timeline under it, the moments beside it. */
export function Player({ documents, axis, moments, startAtMs }: Props) {
  const site = useSite()
  const { colour } = useTheme()
  const holder = useRef<HTMLDivElement>(null)
  const screen = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const stage = useRef<{ stage: Stage; frame: HTMLIFrameElement } | null>(null)
  const latest = useRef(startAtMs)
  const [title, setTitle] = useState('')
  const [skipped, setSkipped] = useState(0)

  const show = useCallback(
    (atMs: number) => {
      latest.current = atMs
      const ready = stage.current
      if (!ready || !holder.current || !screen.current || !canvas.current) return
      const view = ready.stage.seek(atMs)
      const { clientWidth, clientHeight } = holder.current
      const scale = Math.min(1, clientWidth / view.width, clientHeight / view.height)
      ready.frame.style.width = `${view.width}px`
      ready.frame.style.height = `${view.height}px`
      screen.current.style.width = `${view.width}px`
      screen.current.style.height = `${view.height}px`
      screen.current.style.transform = `translate(-50%, -50%) scale(${scale})`
      drawPointer(canvas.current, view, { dust: colour('ochre'), click: colour('clay') })
      setTitle(documents[view.index]!.snapshot.title)
      setSkipped(ready.stage.page.skipped)
    },
    [documents, colour],
  )

  useEffect(() => {
    let live = true
    const container = screen.current!
    void createFrame(container, {
      pictureOrigins: site.origins,
      ownOrigin: location.origin,
      title: 'Recorded page',
    }).then((frame) => {
      if (!live) {
        frame.remove()
        return
      }
      stage.current = { stage: new Stage(frame.contentDocument!, documents, axis.documents), frame }
      show(latest.current)
    })
    const resized = new ResizeObserver(() => show(latest.current))
    resized.observe(holder.current!)
    return () => {
      live = false
      resized.disconnect()
      stage.current?.frame.remove()
      stage.current = null
    }
    // The frame is made once; later times and sizes only move it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [documents, axis])

  const playback = usePlayback(axis, startAtMs, show)
  const { atMs, playing, toggle, seek } = playback
  const signals = moments.filter(({ signal }) => signal)
  const jump = (step: 1 | -1) => {
    const target =
      step === 1
        ? signals.find((moment) => moment.atMs > atMs + 50)
        : signals.findLast((moment) => moment.atMs < atMs - 50)
    if (target) seek(target.atMs)
  }

  useKeys((key) => {
    switch (key) {
      case ' ':
        toggle()
        return true
      case ',':
        seek(atMs - FRAME_MS)
        return true
      case '.':
        seek(atMs + FRAME_MS)
        return true
      case '[':
        jump(-1)
        return true
      case ']':
        jump(1)
        return true
      default:
        return false
    }
  })

  return (
    <div className="flex min-h-0 flex-1 border-t border-line">
      <div className="flex min-w-0 flex-1 flex-col">
        <p className="truncate px-4 py-1 text-ink-soft" title={title}>
          {title}
          {skipped > 0 && ` · ${plural(skipped, 'step')} of this recording could not be shown`}
        </p>
        <div ref={holder} className="relative mx-4 min-h-0 flex-1 overflow-hidden bg-line/60">
          <div
            ref={screen}
            className="absolute top-1/2 left-1/2 origin-center overflow-hidden bg-white [&>iframe]:block [&>iframe]:border-0"
          >
            <canvas ref={canvas} aria-hidden className="absolute inset-0 z-10" />
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
          <span className="w-24 text-ink-soft">
            <span className="font-semibold text-ink">{clock(atMs)}</span> of {clock(axis.durationMs)}
          </span>
          <span className="flex-1" />
          <label className="inline-flex items-center gap-1.5">
            <input
              type="checkbox"
              className="accent-spruce"
              checked={playback.skipIdle}
              onChange={(event) => playback.setSkipIdle(event.target.checked)}
            />
            Skip idle time
          </label>
          <RadioGroup
            label="Speed"
            value={String(playback.speed)}
            onChange={(value) => playback.setSpeed(Number(value))}
            options={SPEEDS.map((speed) => [String(speed), `${speed}×`] as const)}
          />
        </div>
        <TimelineLanes axis={axis} moments={moments} atMs={atMs} seek={seek} />
      </div>
      <MomentList moments={moments} atMs={atMs} seek={seek} />
    </div>
  )
}
