import type { Timeline } from '@dust-trail/core'
import { useCallback, useEffect, useRef, useState } from 'react'

export const SPEEDS = [1, 2, 4, 8] as const

/** How often the controls are told the time while playing; the picture itself follows every frame. */
const TELL_MS = 100

/** A clock over a session: plays, pauses, seeks, skips what is idle. Calls `show` for every new time. */
export function usePlayback(axis: Timeline, startAtMs: number, show: (atMs: number) => void) {
  const [atMs, setAtMs] = useState(startAtMs)
  const [playing, setPlaying] = useState(false)
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
      const ended = now.current >= axis.durationMs
      if (ended || time - told > TELL_MS) {
        told = time
        setAtMs(now.current)
      }
      if (ended) setPlaying(false)
      else frame = requestAnimationFrame(tick)
    }
    frame = requestAnimationFrame(tick)
    return () => cancelAnimationFrame(frame)
  }, [playing, speed, skipIdle, axis, show])

  const toggle = () => {
    if (!playing && now.current >= axis.durationMs) seek(0)
    setPlaying(!playing)
  }
  return { atMs, playing, toggle, seek, speed, setSpeed, skipIdle, setSkipIdle }
}
