/** What the script costs pages built with general-purpose packages, used for a while: each with it and without it. */
import type { Browser } from '@playwright/test'
import { chromium } from '@playwright/test'
import { quantile } from '../core/src/index.ts'
import { comparison } from './fidelity/compare.ts'
import { serve } from './fidelity/site.ts'
import { USED_PAGES } from './fidelity/used-pages.ts'
import type { Used } from './fidelity/use.ts'
import { bundleUsed, perform } from './fidelity/use.ts'
import type { Report } from './report.ts'
import { captureScripts } from './scripts.ts'

export const about =
  'thread time and delay of interactions that the script adds to pages of packages (BENCH_FIDELITY = part of a name)'

/** One after the other: pages beside each other would measure each other. */
const ROUNDS = 3

interface Cost {
  /** all that the main thread did, ms */
  thread: number
  /** of each interaction from the event to the end of its handling, ms */
  delays: number[]
}

export async function run(): Promise<Report> {
  const html = new Map<string, string>()
  const pages = await bundleUsed(USED_PAGES, html, process.env['BENCH_FIDELITY'])
  const site = await serve(html, await captureScripts(), await comparison())
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  })
  const added: number[] = []
  const shares: number[] = []
  const slower: number[] = []
  for (const page of pages) {
    const costs = { with: [] as Cost[], without: [] as Cost[] }
    for (let round = 0; round < ROUNDS; round++)
      for (const which of ['without', 'with'] as const)
        costs[which].push(await costOf(browser, site.origin, page, which === 'with'))
    const at = (values: number[], share: number) =>
      quantile(
        values.sort((a, b) => a - b),
        share,
      ) ?? 0
    const middle = (which: Cost[]) =>
      at(
        which.map(({ thread }) => thread),
        0.5,
      )
    const delay = (which: Cost[]) =>
      at(
        which.flatMap(({ delays }) => delays),
        0.75,
      )
    const more = middle(costs.with) - middle(costs.without)
    added.push(more)
    shares.push((100 * more) / middle(costs.without))
    slower.push(delay(costs.with) - delay(costs.without))
    console.log(
      `page ${page.name}: ${middle(costs.without).toFixed(0)} ms, ${more.toFixed(0)} added, delay at the 75th percentile ${slower.at(-1)!.toFixed(1)} ms more`,
    )
  }
  await browser.close()
  site.close()
  return {
    name: 'cost',
    data: `${pages.length} pages built with general-purpose packages, loaded and used, ${ROUNDS} times each`,
    figures: [
      { what: 'thread time added to a page', unit: 'ms', values: added, goal: { atMost: 60 } },
      { what: 'of what the page does itself', unit: '%', values: shares, goal: { atMost: 3 } },
      {
        what: 'delay of an interaction added, 75th percentile',
        unit: 'ms',
        values: slower,
        goal: { atMost: 8 },
      },
    ],
  }
}

async function costOf(browser: Browser, origin: string, used: Used, isWatched: boolean): Promise<Cost> {
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const page = await context.newPage()
  if (!isWatched) await page.route('**/capture*.js', (route) => route.abort())
  await page.addInitScript(() => {
    const delays: number[] = []
    Object.assign(window, { delays })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as PerformanceEventTiming[])
        if (/^(pointerdown|click|keydown)$/.test(entry.name))
          delays.push(entry.processingEnd - entry.startTime)
    }).observe({ type: 'event', buffered: true, durationThreshold: 16 } as PerformanceObserverInit)
  })
  page.on('dialog', (dialog) => void dialog.dismiss())
  const session = await context.newCDPSession(page)
  await session.send('Performance.enable')
  await page.goto(origin + used.path)
  await page.waitForTimeout(1000)
  for (const act of used.acts) await perform(page, act).catch(() => undefined)
  await page.waitForTimeout(1500)
  const { metrics } = await session.send('Performance.getMetrics')
  const thread = metrics.find(({ name }) => name === 'TaskDuration')!.value * 1000
  const delays = await page.evaluate(() => (window as unknown as { delays: number[] }).delays)
  await context.close()
  return { thread, delays }
}
