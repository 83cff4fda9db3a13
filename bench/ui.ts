/** What the interface costs the browser's main thread, an interaction at a time, on a site of a million sessions. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Locator, Page } from '@playwright/test'
import { chromium } from '@playwright/test'
import { connect } from '../server/src/store/database.ts'
import { migrate } from '../server/src/store/migrations.ts'
import { defineModels } from '../server/src/store/models.ts'
import { addSite, pack, SESSIONS, starters, startServer } from './child/served.ts'
import type { Report } from './report.ts'

export const about = 'script time and waiting per interaction on a site of a million sessions'

const RUNS = 7
const DATES = 'from=2026-01-01&to=2026-12-31'
const STEPS = JSON.stringify([0, 2, 5, 7, 11].map((page) => ({ type: 'page', page: `/p${page}` })))
const FUNNEL = `/funnels?${DATES}&steps=${encodeURIComponent(STEPS)}`

/** One thing that somebody does. */
interface Press {
  /** none: it must be done, but is not measured */
  name?: string
  /** where the mouse presses, or turns its wheel; else a key, or a page back */
  at?: (page: Page) => Locator
  wheel?: number
  key?: string
  back?: true
}

/** What somebody does on a page, in the end of which all is as it was. */
const ROUNDS: { path: string; presses: Press[] }[] = [
  {
    path: FUNNEL,
    presses: [
      {
        name: 'the choice of devices is opened',
        at: (page) => page.getByRole('button', { name: 'Device', exact: true }),
      },
      { name: 'a device is chosen', at: (page) => page.getByRole('checkbox', { name: 'mobile' }) },
      { key: 'Escape' },
      {
        name: 'a filter is taken away',
        at: (page) => page.getByRole('button', { name: 'Remove: device is mobile' }),
      },
    ],
  },
  {
    path: FUNNEL,
    presses: [
      {
        name: 'the choice of a step is opened',
        at: (page) => page.getByRole('button', { name: 'Add step' }),
      },
      {
        name: 'a step is chosen',
        at: (page) => page.getByRole('dialog').getByRole('button', { name: /^\/p3/ }).first(),
      },
      { name: 'a step is taken back', back: true },
    ],
  },
  {
    path: FUNNEL,
    presses: [
      { name: 'a leak is opened', at: (page) => page.getByRole('button', { name: /lost$/ }).first() },
      {
        name: 'the close-up is closed',
        at: (page) => page.getByRole('button', { name: 'Close the close-up' }),
      },
    ],
  },
  {
    path: `/segments?${DATES}&facet=sequences`,
    presses: [
      {
        name: 'raw sequences are scrolled',
        at: (page) => page.getByRole('list', { name: 'Sequences' }),
        wheel: 3000,
      },
      { at: (page) => page.getByRole('list', { name: 'Sequences' }), wheel: -3000 },
    ],
  },
]

export async function run(): Promise<Report> {
  const { startMariadb, freePort } = await starters()
  const folder = mkdtempSync(join(tmpdir(), 'dust-trail-bench-'))
  const database = await startMariadb(folder)
  const sequelize = connect(database.url)
  try {
    await migrate(sequelize)
    await pack(sequelize, (await addSite(defineModels(sequelize), 'packed')).id)
    const port = await freePort()
    const server = await startServer(database.url, port)
    const browser = await chromium.launch({
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu'],
    })
    const figures: Report['figures'] = []
    try {
      for (const { path, presses } of ROUNDS) {
        const page = await browser.newPage({
          viewport: { width: 1280, height: 800 },
          baseURL: `http://127.0.0.1:${port}`,
        })
        const quiet = watch(page)
        await page.goto(path)
        await quiet()
        const devtools = await page.context().newCDPSession(page)
        await devtools.send('Performance.enable')
        const scriptMs = async () => {
          const { metrics } = await devtools.send('Performance.getMetrics')
          return metrics.find((metric) => metric.name === 'ScriptDuration')!.value * 1000
        }
        const script = presses.map((): number[] => [])
        const whole = presses.map((): number[] => [])
        for (let i = 0; i < RUNS + 1; i++)
          for (const [k, press] of presses.entries()) {
            // To find a place takes script of its own, which is none of the product's.
            const place = await placeOf(page, press)
            const [before, start] = [await scriptMs(), performance.now()]
            await act(page, press, place)
            whole[k]!.push((await quiet()) - start)
            script[k]!.push((await scriptMs()) - before)
          }
        // The first ones are compiled on the way.
        for (const [k, { name }] of presses.entries())
          if (name)
            figures.push(
              { what: `${name}: script`, unit: 'ms', values: script[k]!.slice(1), goal: { atMost: 50 } },
              {
                what: `${name}: until its answer is there`,
                unit: 'ms',
                values: whole[k]!.slice(1),
                goal: null,
              },
            )
        await page.close()
      }
    } finally {
      await browser.close()
      await server.stop()
    }
    return { name: 'ui', data: `${SESSIONS} sessions`, figures }
  } finally {
    await sequelize.close()
    await database.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

interface Place {
  x: number
  y: number
}

/** The middle of what is in view of it. */
async function placeOf(page: Page, { at }: Press): Promise<Place | undefined> {
  if (!at) return undefined
  const element = at(page)
  await element.scrollIntoViewIfNeeded()
  const { x, y, width, height } = (await element.boundingBox())!
  const top = Math.max(0, y)
  const bottom = Math.min(y + height, page.viewportSize()!.height)
  return { x: x + width / 2, y: (top + bottom) / 2 }
}

async function act(page: Page, { key, wheel, back }: Press, place: Place | undefined): Promise<void> {
  if (place) await page.mouse.move(place.x, place.y)
  if (back) await page.goBack()
  else if (key) await page.keyboard.press(key)
  else if (wheel) await page.mouse.wheel(0, wheel)
  else {
    await page.mouse.down()
    await page.mouse.up()
  }
}

const QUIET_MS = 250

/**
 * Watches what a page asks the server, without any script in the page. What is returned waits until nothing has been
 * asked for a while and all is answered, and tells when the last answer came, or, without any, when the waiting began.
 */
function watch(page: Page): () => Promise<number> {
  let open = 0
  let last = 0
  page.on('request', () => {
    open++
    last = performance.now()
  })
  const answered = () => {
    open--
    last = performance.now()
  }
  page.on('requestfinished', answered)
  page.on('requestfailed', answered)
  return async () => {
    const began = performance.now()
    while (open > 0 || performance.now() - Math.max(last, began) < QUIET_MS)
      await new Promise((resolve) => setTimeout(resolve, 20))
    return Math.max(last, began)
  }
}
