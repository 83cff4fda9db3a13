import type { Snapshot } from '@dust-trail/core'
import { createFrame, filesIn, Rebuilt } from '@dust-trail/replay'
import { useQueryClient } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { useEffect, useRef, useState } from 'react'
import { filesByHash, pictureOrigins } from '../../api/files.ts'
import { useSite } from '../../app/lens.ts'
import type { LinkedScroll } from './linked-scroll.ts'

/** A recorded page as it stands in its frame. */
export interface BuiltPage {
  document: Document
  /** CSS px, whole */
  height: number
}

/** A place on the page, CSS px from its top left, and the page it lies on. */
export type AtPlace = (page: BuiltPage, x: number, y: number) => void

interface Props {
  /** with its pictures and fonts: hash by address */
  snapshot: Snapshot & { files?: Readonly<Record<string, string>> }
  label: string
  /** what there is to say above the page */
  notice?: ReactNode
  /** what is laid over the page; a function of the page that stands, the same as long as it draws the same */
  overlay: (page: BuiltPage) => ReactNode
  /** other pages that scroll with this one */
  linked?: LinkedScroll | undefined
  onMove?: AtPlace
  onLeave?: () => void
  onClick?: AtPlace
}

/** The recorded page, whole and as wide as there is room, under something laid over it. */
export function RecordedPage({ snapshot, label, notice, overlay, linked, onMove, onLeave, onClick }: Props) {
  const site = useSite()
  const client = useQueryClient()
  const outer = useRef<HTMLDivElement>(null)
  const inner = useRef<HTMLDivElement>(null)
  const [built, setBuilt] = useState<BuiltPage | null>(null)
  const [scale, setScale] = useState(1)

  useEffect(() => {
    let live = true
    let made: HTMLIFrameElement | undefined
    const mayAsk = pictureOrigins(site)
    const show = async () => {
      const contents = await filesByHash(client, site.key, [snapshot])
      if (!live) return
      const frame = await createFrame(inner.current!, {
        ...{ pictureOrigins: mayAsk, ownOrigin: location.origin, title: 'Recorded page' },
      })
      made = frame
      if (!live) {
        frame.remove()
        return
      }
      frame.style.cssText = `display:block;border:0;width:${snapshot.width}px;height:${snapshot.height}px`
      const document = frame.contentDocument!
      new Rebuilt(document).show(snapshot, [], filesIn(snapshot, contents, mayAsk))
      const height = Math.max(snapshot.height, document.documentElement.scrollHeight)
      frame.style.height = `${height}px`
      setBuilt({ document, height })
    }
    void show()
    return () => {
      live = false
      made?.remove()
      setBuilt(null)
    }
    // Of the site only what may be asked matters.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [snapshot, site.key, client])

  useEffect(() => {
    const resized = new ResizeObserver(([entry]) =>
      setScale(Math.min(1, (entry!.contentRect.width - 2) / snapshot.width)),
    )
    resized.observe(outer.current!)
    return () => resized.disconnect()
  }, [snapshot.width])

  useEffect(() => linked?.add(outer.current!), [linked])

  const at = (event: React.MouseEvent, then: AtPlace | undefined) => {
    if (!built || !then) return
    const box = inner.current!.getBoundingClientRect()
    then(built, (event.clientX - box.left) / scale, (event.clientY - box.top) / scale)
  }
  const height = built?.height ?? snapshot.height
  return (
    <div
      ref={outer}
      className="h-full overflow-x-hidden overflow-y-scroll bg-line/60"
      tabIndex={0}
      role="region"
      aria-label={label}
    >
      {notice}
      <div className="mx-auto" style={{ width: snapshot.width * scale, height: height * scale }}>
        <div
          ref={inner}
          className="relative origin-top-left bg-white"
          style={{ width: snapshot.width, height, transform: `scale(${scale})` }}
        >
          {built && overlay(built)}
          {/* With a keyboard elements are chosen in the list beside the page. */}
          {/* eslint-disable-next-line jsx-a11y-x/click-events-have-key-events, jsx-a11y-x/no-static-element-interactions */}
          <div
            className="absolute inset-0 z-30"
            onMouseMove={(event) => at(event, onMove)}
            onMouseLeave={onLeave}
            onClick={(event) => at(event, onClick)}
          />
        </div>
      </div>
    </div>
  )
}
