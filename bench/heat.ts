/** A click map of a million clicks: from the engine to the pixels of its layer. */
import { pathToFileURL } from 'node:url'
import type { Line } from '../core/src/index.ts'
import { clickHeat } from '../core/src/index.ts'
import { density } from '../core/src/stats/density.ts'
import { SiteEngine } from '../server/src/engine/site-engine.ts'
import { startThreads } from '../server/src/engine/threads.ts'
import { colour, greatest, placeClicks, SIGMA_PX } from '../web/src/sections/pages/place-clicks.ts'
import { SOURCE } from './child/engine-data.ts'
import { LENS, makeSession, rowOf } from './child/sessions.ts'
import type { Report } from './report.ts'

export const about = 'a click map of a million clicks, from the engine to pixels'

const CLICKS = 1_000_000
const EACH = 10
const ELEMENTS = 150
const RUNS = 7
const TOGETHER = 4096
/** The recorded page, and the raster of its map, px. */
const [WIDTH, HEIGHT, CELL] = [1280, 6000, 4]

/** One view of the page, with clicks on its elements: few get most, and most lie near the middle. */
function linesOf(id: number): Line[] {
  const { t, visitor } = rowOf(id, makeSession(id)).lines[0]!
  const near = (n: number) => (((id * 7919 + n * 104_729) % 1000) / 1000) ** 0.5
  return [
    { visitor, t, kind: 'page', url: '/p' },
    ...Array.from({ length: EACH }, (_, k): Line => {
      const at = Math.floor(ELEMENTS * near(k) ** 4)
      return {
        ...{ visitor, t: t + 1000 * (k + 1), kind: 'click', effect: 'change' },
        target: { selector: `#e${at}`, text: `Element ${at}`, tag: 'button' },
        ...{ rx: (near(k + 31) + near(k + 17)) / 2, ry: (near(k + 5) + near(k + 77)) / 2 },
      }
    }),
  ]
}

/** Stands for the rebuilt page: where its elements lie. */
const page = {
  querySelector: (selector: string) => {
    const at = Number(selector.slice(2))
    const box = { left: (at % 5) * 250, top: Math.floor(at / 5) * 190, width: 220, height: 150 }
    return { getBoundingClientRect: () => box }
  },
} as unknown as Document

export async function run(): Promise<Report> {
  const threads = startThreads(pathToFileURL('dist/engine-worker.mjs'), 2)
  const running = setInterval(() => undefined, 1000)
  try {
    const engine = new SiteEngine({ key: 'bench', ...SOURCE, answers: 0 }, threads)
    for (let from = 0; from < CLICKS / EACH; from += TOGETHER)
      engine.addBlock(
        Array.from({ length: Math.min(TOGETHER, CLICKS / EACH - from) }, (_, k) => ({
          ...rowOf(from + k, makeSession(from + k)),
          lines: linesOf(from + k),
        })),
      )
    const [asked, drawn, whole]: [number[], number[], number[]] = [[], [], []]
    const [width, height] = [WIDTH / CELL, HEIGHT / CELL]
    let clicks = 0
    for (let round = 0; round <= RUNS; round++) {
      const start = performance.now()
      // Another lens each time, so that no answer is kept from before.
      const lens = {
        ...LENS,
        devices: [],
        where: { type: 'number', of: 'pages', test: { is: 'at least', to: -round } },
      }
      const heat = await engine.ask(clickHeat, lens as never, { page: '/p', which: 'all', version: null })
      const answered = performance.now()
      const { points } = placeClicks(page, heat.elements)
      const cells = points.map(({ x, y, weight }) => ({ x: x / CELL, y: y / CELL, weight }))
      const raster = density(cells, width, height, SIGMA_PX / CELL)
      colour(raster, greatest(raster), new Uint8ClampedArray(4 * raster.length))
      const end = performance.now()
      clicks = heat.clicks
      if (round === 0) continue
      asked.push(answered - start)
      drawn.push(end - answered)
      whole.push(end - start)
    }
    return {
      name: 'heat',
      data: `${clicks} clicks on ${ELEMENTS} elements of a page of ${WIDTH} × ${HEIGHT} px`,
      figures: [
        { what: 'clicks counted by the engine', unit: 'ms', values: asked, goal: null },
        { what: 'placed, blurred and coloured', unit: 'ms', values: drawn, goal: null },
        { what: 'from engine to pixels', unit: 'ms', values: whole, goal: { atMost: 700 } },
      ],
    }
  } finally {
    clearInterval(running)
    await threads.close()
  }
}
