import type { HeatElement, Snapshot } from '@dust-trail/core'
import { useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import { saveFile } from '../../ui/save-file.ts'
import type { HeatAnswer, HeatRequest } from './heat.worker.ts'
import type { LinkedScroll } from './linked-scroll.ts'
import { boxesOf, familyAt, greatest, paint, placeClicks, SIGMA_PX } from './place-clicks.ts'
import type { BuiltPage } from './recorded-page.tsx'
import { RecordedPage } from './recorded-page.tsx'
import { pagePicture } from './page-picture.ts'

interface Props {
  snapshot: Snapshot
  elements: readonly HeatElement[]
  hovered: string | null
  setHovered: (selector: string | null) => void
  open: (selector: string) => void
  /** told how many clicks there are at the place with most, as many as one fingertip would hold */
  peaked: (clicks: number) => void
  /** clicks at one place that the darkest colour stands for; those at the place with most where it is missing */
  darkest?: number | undefined
  linked?: LinkedScroll | undefined
  /** what the clicks are held against: the map shows where they are more, and where fewer, for each who saw the page */
  minus?: { elements: readonly HeatElement[]; viewers: number; ownViewers: number } | undefined
}

/** Page px per cell of the raster. */
const CELL_PX = 4

/** The recorded page under its clicks. */
export function HeatPage({
  snapshot,
  elements,
  hovered,
  setHovered,
  open,
  peaked,
  darkest,
  linked,
  minus,
}: Props) {
  const [missing, setMissing] = useState(0)
  const save = async (page: BuiltPage, map: HTMLCanvasElement) => {
    try {
      saveFile(await pagePicture(page, snapshot.width, map), 'heat-map.png')
    } catch (error) {
      toast(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <RecordedPage
      snapshot={snapshot}
      label={`Click heat map of ${snapshot.title}`}
      notice={
        missing > 0 && (
          <p className="bg-ochre-soft px-3 py-1 text-ochre-text">
            {missing} clicks are on elements that this state of the page does not show; they are in the list
            only.
          </p>
        )
      }
      overlay={(page) => (
        <>
          <ClickLayer {...{ page, snapshot, elements, setMissing, peaked, darkest, minus, save }} />
          {hovered &&
            boxesOf(page.document, elements, hovered).map((box, i) => (
              <span
                key={i}
                aria-hidden
                className="pointer-events-none absolute z-20 outline-3 outline-offset-2 outline-[#1F5C4D]"
                style={box}
              />
            ))}
        </>
      )}
      linked={linked}
      onMove={({ document }, x, y) => setHovered(familyAt(document, elements, x, y))}
      onLeave={() => setHovered(null)}
      onClick={({ document }, x, y) => {
        const selector = familyAt(document, elements, x, y)
        if (selector) open(selector)
      }}
    />
  )
}

/** How many clicks a density stands for, were all of them at one place: the height of a normal density in two dimensions. */
const CLICKS_PER_DENSITY = 2 * Math.PI * (SIGMA_PX / CELL_PX) ** 2

/** Clicks as a density, made by a worker. */
function ClickLayer({
  page,
  snapshot,
  elements,
  setMissing,
  peaked,
  darkest,
  minus,
  save,
}: Pick<Props, 'snapshot' | 'elements' | 'peaked' | 'darkest' | 'minus'> & {
  page: BuiltPage
  setMissing: (clicks: number) => void
  save: (page: BuiltPage, map: HTMLCanvasElement) => Promise<void>
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const [raster, setRaster] = useState<Float32Array | null>(null)
  const width = Math.ceil(snapshot.width / CELL_PX)
  const height = Math.ceil(page.height / CELL_PX)
  useEffect(() => {
    const { points: own, lost } = placeClicks(page.document, elements)
    setMissing(lost)
    // For each who saw the page: what is fewer weighs less than nothing.
    const points = minus
      ? [
          ...own.map((point) => ({ ...point, weight: point.weight / Math.max(1, minus.ownViewers) })),
          ...placeClicks(page.document, minus.elements).points.map((point) => ({
            ...point,
            weight: -point.weight / Math.max(1, minus.viewers),
          })),
        ]
      : own
    const worker = new Worker(new URL('./heat.worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<HeatAnswer>) => {
      setRaster(data.raster)
      peaked(greatest(data.raster) * CLICKS_PER_DENSITY)
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
  }, [page, elements, width, height, setMissing, peaked, minus])
  useEffect(() => {
    if (!canvas.current || raster?.length !== width * height) return
    paint(
      canvas.current,
      raster,
      width,
      height,
      darkest === undefined ? undefined : darkest / CLICKS_PER_DENSITY,
    )
  }, [raster, width, height, darkest])
  return (
    <>
      <canvas ref={canvas} aria-hidden className="absolute inset-0 z-10 h-full w-full" />
      <button
        type="button"
        className="absolute top-2 right-2 z-40 rounded-md border border-line bg-sheet px-2 py-1 text-ink"
        title="Saves the page with this map as a picture; pictures of the site are left out"
        onClick={() => canvas.current && void save(page, canvas.current)}
      >
        PNG
      </button>
    </>
  )
}
