import type { HeatElement, Snapshot } from '@dust-trail/core'
import { createFrame, Rebuilt } from '@dust-trail/replay'
import { useEffect, useRef, useState } from 'react'
import { useSite } from '../../app/lens.ts'
import type { HeatAnswer, HeatRequest } from './heat.worker.ts'
import { boxesOf, familyAt, paint, placeClicks, SIGMA_PX } from './place-clicks.ts'

interface Props {
  snapshot: Snapshot
  elements: readonly HeatElement[]
  hovered: string | null
  setHovered: (selector: string | null) => void
  open: (selector: string) => void
}

/** Page px per cell of the raster. */
const CELL_PX = 4

interface Built {
  document: Document
  height: number
}

/** The recorded page, whole, under its clicks. */
export function HeatPage({ snapshot, elements, hovered, setHovered, open }: Props) {
  const site = useSite()
  const outer = useRef<HTMLDivElement>(null)
  const inner = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const [built, setBuilt] = useState<Built | null>(null)
  const [scale, setScale] = useState(1)
  const [missing, setMissing] = useState(0)

  useEffect(() => {
    let live = true
    let made: HTMLIFrameElement | undefined
    void createFrame(inner.current!, {
      pictureOrigins: site.origins,
      ownOrigin: location.origin,
      title: 'Recorded page',
    }).then((frame) => {
      made = frame
      if (!live) {
        frame.remove()
        return
      }
      frame.style.cssText = `display:block;border:0;width:${snapshot.width}px;height:${snapshot.height}px`
      const document = frame.contentDocument!
      new Rebuilt(document).show(snapshot)
      const height = Math.max(snapshot.height, document.documentElement.scrollHeight)
      frame.style.height = `${height}px`
      setBuilt({ document, height })
    })
    return () => {
      live = false
      made?.remove()
      setBuilt(null)
    }
  }, [snapshot, site.origins])

  useEffect(() => {
    const resized = new ResizeObserver(([entry]) =>
      setScale(Math.min(1, (entry!.contentRect.width - 2) / snapshot.width)),
    )
    resized.observe(outer.current!)
    return () => resized.disconnect()
  }, [snapshot.width])

  useEffect(() => {
    if (!built) return
    const { points, lost } = placeClicks(built.document, elements)
    setMissing(lost)
    const worker = new Worker(new URL('./heat.worker.ts', import.meta.url), { type: 'module' })
    const width = Math.ceil(snapshot.width / CELL_PX)
    const height = Math.ceil(built.height / CELL_PX)
    worker.onmessage = ({ data }: MessageEvent<HeatAnswer>) => {
      if (canvas.current) paint(canvas.current, data.raster, width, height)
      worker.terminate()
    }
    worker.postMessage({
      id: 1,
      points: points.map(({ x, y, weight }) => ({ x: x / CELL_PX, y: y / CELL_PX, weight })),
      width,
      height,
      sigma: SIGMA_PX / CELL_PX,
    } satisfies HeatRequest)
    return () => worker.terminate()
  }, [built, elements, snapshot.width])

  const boxes = built && hovered ? boxesOf(built.document, elements, hovered) : []
  const elementAt = (event: React.MouseEvent) => {
    const box = inner.current!.getBoundingClientRect()
    const x = (event.clientX - box.left) / scale
    const y = (event.clientY - box.top) / scale
    return built ? familyAt(built.document, elements, x, y) : null
  }
  return (
    <div
      ref={outer}
      className="h-full overflow-x-hidden overflow-y-scroll bg-line/60"
      tabIndex={0}
      role="region"
      aria-label={`Click heat map of ${snapshot.title}`}
    >
      {missing > 0 && (
        <p className="bg-ochre-soft px-3 py-1 text-ochre-text">
          {missing} clicks are on elements that this state of the page does not show; they are in the list
          only.
        </p>
      )}
      <div
        className="mx-auto"
        style={{ width: snapshot.width * scale, height: (built?.height ?? snapshot.height) * scale }}
      >
        <div
          ref={inner}
          className="relative origin-top-left bg-white"
          style={{
            width: snapshot.width,
            height: built?.height ?? snapshot.height,
            transform: `scale(${scale})`,
          }}
        >
          <canvas ref={canvas} aria-hidden className="absolute inset-0 z-10 h-full w-full" />
          {boxes.map((box, i) => (
            <span
              key={i}
              aria-hidden
              className="pointer-events-none absolute z-20 outline-3 outline-offset-2 outline-[#1F5C4D]"
              style={box}
            />
          ))}
          {/* With a keyboard elements are chosen in the list beside the page. */}
          {/* eslint-disable-next-line jsx-a11y-x/click-events-have-key-events, jsx-a11y-x/no-static-element-interactions */}
          <div
            className="absolute inset-0 z-30"
            onMouseMove={(event) => setHovered(elementAt(event))}
            onMouseLeave={() => setHovered(null)}
            onClick={(event) => {
              const selector = elementAt(event)
              if (selector) open(selector)
            }}
          />
        </div>
      </div>
    </div>
  )
}
