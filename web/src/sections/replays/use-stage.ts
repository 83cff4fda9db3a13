import type { DocumentRecording, Timeline } from '@dust-trail/core'
import { createFrame, drawPointer, filesIn, pageCode, Stage } from '@dust-trail/replay'
import { useQueryClient } from '@tanstack/react-query'
import type { RefObject } from 'react'
import { useCallback, useEffect, useRef, useState } from 'react'
import { filesByHash, pictureOrigins } from '../../api/files.ts'
import { useSite } from '../../app/lens.ts'
import { useTheme } from '../../app/theme.ts'

/** What the picture says of itself. */
export interface Shown {
  title: string
  /** of the recorded window, CSS px */
  width: number
  skipped: number
  unread: number
  /** pictures that are not known */
  missing: number
}

/** How long at a time the moments are looked for from which a replay can begin. */
const PREPARE_MS = 12
/** Between two such times the page is for whoever watches. */
const REST_MS = 60
/** A small window is shown larger where there is room, but not so large that it blurs. */
const LARGEST = 1.6

interface Places {
  /** has the room for the picture */
  holder: RefObject<HTMLDivElement | null>
  /** is as large as the recorded window */
  screen: RefObject<HTMLDivElement | null>
  canvas: RefObject<HTMLCanvasElement | null>
}

/** The recorded page in its frame. `show` puts it to a time; it stays the same function. */
export function useStage(
  { holder, screen, canvas }: Places,
  {
    documents,
    axis,
    startAtMs,
    fits,
  }: { documents: DocumentRecording[]; axis: Timeline; startAtMs: number; fits: boolean },
) {
  const site = useSite()
  const client = useQueryClient()
  const { colour } = useTheme()
  const stage = useRef<{ stage: Stage; frame: HTMLIFrameElement } | null>(null)
  const latest = useRef(startAtMs)
  const isFitted = useRef(fits)
  const [shown, setShown] = useState<Shown>({ title: '', width: 1, skipped: 0, unread: 0, missing: 0 })

  const show = useCallback(
    (atMs: number) => {
      latest.current = atMs
      const ready = stage.current
      if (!ready || !holder.current || !screen.current || !canvas.current) return
      const view = ready.stage.seek(atMs)
      const { clientWidth, clientHeight } = holder.current
      const fitting = Math.min(LARGEST, clientWidth / view.width, clientHeight / view.height)
      const scale = isFitted.current ? fitting : 1
      const { style } = screen.current
      style.width = `${view.width}px`
      style.height = `${view.height}px`
      // In its own size it is scrolled, from its upper left corner.
      style.left = isFitted.current ? `${(clientWidth - view.width * scale) / 2}px` : '0'
      style.top = isFitted.current ? `${(clientHeight - view.height * scale) / 2}px` : '0'
      style.transform = `scale(${scale})`
      drawPointer(canvas.current, view, { dust: colour('ochre'), click: colour('clay') })
      const { skipped, unread, missing } = ready.stage.page
      const next = {
        title: documents[view.index]!.snapshot.title,
        width: view.width,
        skipped,
        unread,
        missing,
      }
      setShown((before) =>
        Object.entries(next).every(([name, value]) => before[name as keyof Shown] === value) ? before : next,
      )
    },
    [documents, colour, holder, screen, canvas],
  )

  useEffect(() => {
    isFitted.current = fits
    show(latest.current)
  }, [fits, show])

  useEffect(() => {
    let live = true
    let timer = 0
    const container = screen.current!
    const mayAsk = pictureOrigins(site)
    const make = async () => {
      const contents = await filesByHash(client, site.key, documents)
      if (!live) return
      const frame = await createFrame(container, {
        ...{ pictureOrigins: mayAsk, ownOrigin: location.origin, title: 'Recorded page' },
      })
      if (!live) {
        frame.remove()
        return
      }
      const resize = (width: number, height: number) => {
        frame.style.width = `${width}px`
        frame.style.height = `${height}px`
      }
      const made = new Stage(frame.contentDocument!, documents, axis.documents, resize, (recording) =>
        filesIn(recording, contents, mayAsk),
      )
      stage.current = { stage: made, frame }
      show(latest.current)
      const prepare = () => {
        const end = performance.now() + PREPARE_MS
        if (made.prepare(() => performance.now() < end)) timer = window.setTimeout(prepare, REST_MS)
      }
      timer = window.setTimeout(prepare, REST_MS)
    }
    void make()
    const resized = new ResizeObserver(() => show(latest.current))
    resized.observe(holder.current!)
    return () => {
      live = false
      clearTimeout(timer)
      resized.disconnect()
      stage.current?.frame.remove()
      stage.current = null
    }
    // The frame is made once; later times and sizes only move it.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [documents, axis])

  const html = useCallback(() => {
    const page = stage.current?.frame.contentDocument
    return page ? pageCode(page) : ''
  }, [])
  return { show, shown, html }
}
