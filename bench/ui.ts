/** What the interface costs the browser's main thread, an interaction at a time, on a site of a million sessions. */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
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

/** What somebody does, and how one sees that it is done. */
const INTERACTIONS: {
  name: string
  path: string
  /** what must come before, and is not measured */
  ready?: (page: Page, run: number) => Promise<void>
  act: (page: Page, run: number) => Promise<void>
}[] = [
  {
    name: 'a filter is added to the funnel and taken away',
    path: `/funnels?${DATES}&steps=${encodeURIComponent(STEPS)}`,
    act: async (page, run) => {
      if (run % 2 === 0) {
        await page.getByRole('button', { name: 'Device', exact: true }).click()
        await page.getByRole('checkbox', { name: 'mobile' }).click()
        await page.keyboard.press('Escape')
      } else await page.getByRole('button', { name: 'Remove: device is mobile' }).click()
      await settled(page)
    },
  },
  {
    name: 'the choice of a step is opened and closed',
    path: `/funnels?${DATES}&steps=${encodeURIComponent(STEPS)}`,
    act: async (page, run) => {
      if (run % 2 === 0) await page.getByRole('button', { name: 'Add step' }).click()
      else await page.keyboard.press('Escape')
      await settled(page)
    },
  },
  {
    name: 'a step is chosen, and taken back',
    path: `/funnels?${DATES}&steps=${encodeURIComponent(STEPS)}`,
    ready: async (page, run) => {
      if (run % 2 === 0) await page.getByRole('button', { name: 'Add step' }).click()
      await settled(page)
    },
    act: async (page, run) => {
      if (run % 2 === 0) await page.getByRole('dialog').getByRole('button', { name: /^\/p3/ }).first().click()
      else await page.goBack()
      await settled(page)
    },
  },
  {
    name: 'a leak is opened and closed',
    path: `/funnels?${DATES}&steps=${encodeURIComponent(STEPS)}`,
    act: async (page, run) => {
      if (run % 2 === 0) await page.getByRole('button', { name: /lost$/ }).first().click()
      else await page.getByRole('button', { name: 'Close the close-up' }).click()
      await settled(page)
    },
  },
  {
    name: 'raw sequences are scrolled',
    path: `/segments?${DATES}&facet=sequences`,
    act: async (page, run) => {
      await page.getByRole('list', { name: 'Sequences' }).hover()
      await page.mouse.wheel(0, run % 2 === 0 ? 3000 : -3000)
      await page.waitForTimeout(200)
    },
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
      for (const { name, path, ready, act } of INTERACTIONS) {
        const page = await browser.newPage({
          viewport: { width: 1280, height: 800 },
          baseURL: `http://127.0.0.1:${port}`,
        })
        await page.goto(path)
        await settled(page)
        const devtools = await page.context().newCDPSession(page)
        await devtools.send('Performance.enable')
        const scriptMs = async () => {
          const { metrics } = await devtools.send('Performance.getMetrics')
          return metrics.find((metric) => metric.name === 'ScriptDuration')!.value * 1000
        }
        const script: number[] = []
        const whole: number[] = []
        for (let i = 0; i < RUNS * 2; i++) {
          await ready?.(page, i)
          const [before, start] = [await scriptMs(), performance.now()]
          await act(page, i)
          script.push((await scriptMs()) - before)
          whole.push(performance.now() - start)
        }
        // The first two are compiled on the way.
        figures.push(
          { what: `${name}: script`, unit: 'ms', values: script.slice(2), goal: { atMost: 50 } },
          { what: `${name}: until it stands there`, unit: 'ms', values: whole.slice(2), goal: null },
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

/** Nothing on the page says that it waits for an answer. */
async function settled(page: Page): Promise<void> {
  await page.waitForTimeout(60)
  await page.waitForFunction(
    () =>
      !document.querySelector('[aria-busy="true"], .skeleton') &&
      !document.body.innerText.includes('Counting …'),
    undefined,
    { polling: 50, timeout: 60_000 },
  )
}
