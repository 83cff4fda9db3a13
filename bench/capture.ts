/** What the capture script costs a page: its size, and the scripting time it adds beside the same page without it. */
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { gzipSync } from 'node:zlib'
import type { Browser } from '@playwright/test'
import { chromium } from '@playwright/test'
import { frame } from '../demo/src/site/page.ts'
import { nightsPage } from '../demo/src/site/sections/nights.ts'
import { SITE_SCRIPT } from '../demo/src/site/script.ts'
import type { Report } from './report.ts'
import { captureScripts } from './scripts.ts'

export const about = 'size of the capture script, and the scripting time it adds to a page'

const RUNS = 9
const BIG_ROWS = 1000
/** A task beyond this is long (W3C Long Tasks): all that we add at load should stay within one. */
const LONG_TASK_MS = 50
/** Clicks, scrolls and pointer moves of one visit: a millisecond each. */
const INTERACTIONS = 100

export async function run(): Promise<Report> {
  const scripts = await captureScripts()
  const script = scripts.get('/capture.js')!
  const server = createServer((request, response) => {
    const url = new URL(request.url!, 'http://x')
    const own = scripts.get(url.pathname)
    if (url.pathname.startsWith('/collect')) response.writeHead(204).end()
    else if (own) response.setHeader('content-type', 'text/javascript').end(own)
    else if (url.pathname === '/site.js')
      response.setHeader('content-type', 'text/javascript').end(SITE_SCRIPT)
    else response.setHeader('content-type', 'text/html').end(page(url))
  }).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  const origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  })
  const times: Record<string, number[]> = {}
  const add = (key: string, ms: number) => (times[key] ??= []).push(ms)
  for (let i = 0; i < RUNS + 1; i++)
    for (const size of ['usual', 'big'])
      for (const which of ['without', 'with']) {
        const measured = await visit(browser, `${origin}/?page=${size}${which === 'with' ? '&capture' : ''}`)
        // The first round warms the browser up.
        if (i === 0) continue
        add(`${size} load ${which}`, measured.loadMs)
        add(`${size} use ${which}`, measured.useMs)
      }
  await browser.close()
  server.close()
  const added = (key: string) => times[`${key} with`]!.map((ms, i) => ms - times[`${key} without`]![i]!)
  return {
    name: 'capture',
    data: `the stand-in list of nights (about 300 elements) and a table of ${BIG_ROWS} rows (about ${BIG_ROWS * 5} elements); use = 20 clicks, 20 scrolls, 60 pointer moves`,
    figures: [
      {
        what: 'script, gzipped',
        unit: 'kB',
        values: [gzipSync(script, { level: 9 }).length / 1000],
        goal: { atMost: 14 },
      },
      { what: 'script, as it is', unit: 'kB', values: [script.length / 1000], goal: null },
      {
        what: 'the part that comes later, gzipped',
        unit: 'kB',
        values: [gzipSync(scripts.get('/capture-more.js')!, { level: 9 }).length / 1000],
        goal: null,
      },
      {
        what: 'usual page, scripting at load without',
        unit: 'ms',
        values: times['usual load without']!,
        goal: null,
      },
      {
        what: 'usual page, scripting at load with',
        unit: 'ms',
        values: times['usual load with']!,
        goal: null,
      },
      {
        what: 'usual page, added at load',
        unit: 'ms',
        values: added('usual load'),
        goal: { atMost: 1.2 * LONG_TASK_MS },
      },
      {
        what: 'usual page, added by use',
        unit: 'ms',
        values: added('usual use'),
        goal: { atMost: 1.2 * INTERACTIONS },
      },
      {
        what: 'big page, added at load',
        unit: 'ms',
        values: added('big load'),
        goal: { atMost: 2.4 * LONG_TASK_MS },
      },
      {
        what: 'big page, added by use',
        unit: 'ms',
        values: added('big use'),
        goal: { atMost: 1.44 * INTERACTIONS },
      },
    ],
  }
}

async function visit(browser: Browser, url: string): Promise<{ loadMs: number; useMs: number }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  const page = await context.newPage()
  const session = await context.newCDPSession(page)
  await session.send('Performance.enable')
  const scripting = async () => {
    const { metrics } = await session.send('Performance.getMetrics')
    return metrics.find(({ name }) => name === 'ScriptDuration')!.value * 1000
  }
  await page.goto(url)
  await page.waitForTimeout(250)
  const loadMs = await scripting()
  for (let i = 0; i < 20; i++) {
    await page.mouse.move(300 + i, 300, { steps: 3 })
    await page.mouse.down()
    await page.mouse.up()
    await page.mouse.wheel(0, i < 10 ? 60 : -60)
  }
  await page.waitForTimeout(300)
  const useMs = (await scripting()) - loadMs
  await context.close()
  return { loadMs, useMs }
}

function page(url: URL): string {
  const capture = url.searchParams.has('capture')
    ? '<script async src="/capture.js" data-site="bench"></script>'
    : ''
  const html = url.searchParams.get('page') === 'big' ? bigPage() : frame(nightsPage(), undefined)
  return html.replace('</head>', `${capture}</head>`)
}

function bigPage(): string {
  const rows = Array.from(
    { length: BIG_ROWS },
    (_, i) =>
      `<tr class="row"><td>${i}</td><td><a href="#">Name ${i}</a></td><td>Some longer text of row ${i}</td></tr>`,
  )
  return `<!doctype html><html><head><title>Big</title><style>td{padding:4px}</style></head><body><table>${rows.join('')}</table></body></html>`
}
