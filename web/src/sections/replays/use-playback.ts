import type { Timeline } from '@dust-trail/core'
import { useCallback, useEffect, useRef, useState } from 'react'

export const SPEEDS = [0.5, 1, 2, 4, 8, 16] as const

/** How often the controls are told the time while playing; the picture itself follows every frame. */
const TELL_MS = 100

/** A clock over a session: plays, pauses, seeks, skips what is idle. Calls `show` for every new time; both callbacks stay the same. */
export function usePlayback(
  axis: Timeline,
  { startAtMs, plays }: { startAtMs: number; plays: boolean },
  show: (atMs: number) => void,
  /** it has been played to its end */
  ended: () => void,
) {
  const [atMs, setAtMs] = useState(startAtMs)
  const [playing, setPlaying] = useState(plays)
  const [speed, setSpeed] = useState<number>(1)
  const [skipIdle, setSkipIdle] = useState(true)
  const now = useRef(startAtMs)

  const seek = useCallback(
    (toMs: number) => {
      now.current = Math.min(axis.durationMs, Math.max(0, toMs))
      setAtMs(now.current)
      show(now.current)
    },
    [axis, show],
  )

  useEffect(() => {
    if (!playing) return
    let frame = 0
    let before = performance.now()
    let told = 0
    const tick = (time: number) => {
      let next = now.current + (time - before) * speed
      before = time
      const idle = skipIdle ? axis.idle.find(({ fromMs, toMs }) => next >= fromMs && next < toMs) : undefined
      if (idle) next = idle.toMs
      now.current = Math.min(axis.durationMs, next)
      show(now.current)
      const isOver = now.current >= axis.durationMs
      if (isOver || time - told > TELL_MS) {
        told = time
        setAtMs(now.current)
      }
      if (isOver) {
        setPlaying(false)
        ended()
      } else frame = requestAnimationFrame(tick)
    }
    frame = requestAnimationFrame(tick)
    return () => cancelAnimationFrame(frame)
  }, [playing, speed, skipIdle, axis, show, ended])

  const toggle = () => {
    if (!playing && now.current >= axis.durationMs) seek(0)
    setPlaying(!playing)
  }
  return { atMs, playing, toggle, seek, speed, setSpeed, skipIdle, setSkipIdle }
}
