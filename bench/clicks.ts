/** The effect of a click: how often "nothing happened" is said rightly, over places of which it is known. */
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Browser, Page } from '@playwright/test'
import { chromium } from '@playwright/test'
import { bundlePage } from './pages/bundle.ts'
import { NOTHING } from './pages/nothing.ts'
import { PACKAGE_PAGES } from './pages/packages.ts'
import type { Place } from './pages/place.ts'
import { SOMETHING } from './pages/something.ts'
import type { Report } from './report.ts'
import { captureScripts, textOf } from './scripts.ts'

export const about =
  'precision and recall of “nothing happened” over known places (BENCH_CLICKS = part of a name)'

const AT_ONCE = 4
/** A page that is left alone so long shows itself at rest; a click is judged within a second, or later after a request. */
const WATCH_MS = 1900
const JUDGED_MS = 6000
/** A page that stops the browser tells nothing. */
const LATEST_MS = 60_000

interface Case extends Omit<Place, 'html'> {
  page: string
  at: string
}

interface Told extends Case {
  /** what the script said; undefined = it could not be told; null = no click arrived */
  effect: string | null | undefined
}

export async function run(): Promise<Report> {
  const wanted = process.env['BENCH_CLICKS'] ?? ''
  const html = new Map<string, string>()
  const cases: Case[] = []
  const wants = (name: string) => name.includes(wanted)
  for (const [k, { html: inside, ...place }] of [...NOTHING, ...SOMETHING].entries()) {
    if (!wants(`minimal ${place.name}`)) continue
    html.set(`/p/minimal-${k}`, document(inside, place))
    cases.push({ at: '#it', ...place, page: `/p/minimal-${k}`, name: `minimal ${place.name}` })
  }
  for (const { name, packages, entry, places } of PACKAGE_PAGES) {
    const own = places.filter((place) => wants(`${name} ${place.name}`))
    if (!own.length) continue
    const path = `/p/${name.replaceAll(/\W+/g, '-')}`
    html.set(path, document('', await bundlePage(name, packages, entry)))
    for (const place of own) cases.push({ ...place, page: path, name: `${name} ${place.name}` })
  }
  const site = await serve(html, await captureScripts())
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  })
  const told: Told[] = []
  const left = [...cases]
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (let one = left.shift(); one; one = left.shift())
        told.push({ ...one, effect: await inTime(one.name, click(browser, site, one)) })
    }),
  )
  await browser.close()
  site.close()
  for (const { name, does, effect } of told)
    if ((effect === 'none') !== (does === 'nothing'))
      console.log(
        `${does.padEnd(9)} told ${String(effect === null ? 'no click' : (effect ?? 'unknown')).padEnd(8)} ${name}`,
      )
  const none = told.filter(({ effect }) => effect === 'none')
  const right = none.filter(({ does }) => does === 'nothing').length
  const dead = told.filter(({ does }) => does === 'nothing').length
  return {
    name: 'clicks',
    data: `${told.length} places, at ${dead} of which nothing happens; ${told.filter(({ effect }) => effect === undefined).length} of which it could not be told`,
    figures: [
      {
        what: 'precision of “nothing happened”',
        unit: '',
        values: [right / none.length],
        goal: { atLeast: 0.95 },
      },
      { what: 'recall of “nothing happened”', unit: '', values: [right / dead], goal: { atLeast: 0.95 } },
    ],
  }
}

function document(inside: string, { script = '', style = '' }: { script?: string; style?: string }): string {
  return `<!doctype html><html><head><title>Places</title><style>body{font:16px sans-serif;padding:30px}${style}</style></head>
    <body>${inside}<script>${script}</script><script async src="/capture.js" data-site="bench"></script></body></html>`
}

/** Batches by the page that sent them. */
async function serve(html: ReadonlyMap<string, string>, scripts: ReadonlyMap<string, string>) {
  const lines = new Map<string, { kind: string; effect?: string; url?: string }[]>()
  const server = createServer((request, response) => {
    const url = new URL(request.url!, 'http://x')
    const send = (type: string, body: string, status = 200) =>
      response.writeHead(status, { 'content-type': type }).end(body)
    if (url.pathname === '/collect') {
      void textOf(request).then((text) => {
        const batch = JSON.parse(text) as { visitor: string; lines: { kind: string }[] }
        lines.set(batch.visitor, [...(lines.get(batch.visitor) ?? []), ...batch.lines])
        response.writeHead(204).end()
      })
    } else if (url.pathname === '/collect/settings') send('application/json', '{}')
    else if (scripts.has(url.pathname)) send('text/javascript', scripts.get(url.pathname)!)
    else if (/^\/(answer|fails|poll)$/.test(url.pathname))
      setTimeout(
        () => send('application/json', '{}', url.pathname === '/fails' ? 500 : 200),
        Number(url.searchParams.get('ms') ?? 0),
      )
    else if (url.pathname === '/picture.svg')
      send(
        'image/svg+xml',
        `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100"><rect width="200" height="100" fill="${url.search ? 'teal' : 'gray'}"/></svg>`,
      )
    else if (url.pathname.endsWith('.js')) send('text/javascript', '')
    else send('text/html', html.get(url.pathname) ?? '<!doctype html><title>Other</title><p>Another page</p>')
  }).listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  return {
    origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    clicks: (visitor: string) => (lines.get(visitor) ?? []).filter(({ kind }) => kind === 'click'),
    close: () => server.close(),
  }
}

/** What work comes to; undefined where it takes too long, and it is said of what. */
async function inTime<T>(name: string, work: Promise<T>): Promise<T | undefined> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<undefined>((resolve) => {
    timer = setTimeout(() => {
      console.log(`${name}: took too long`)
      resolve(undefined)
    }, LATEST_MS)
  })
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
  }
}

async function click(
  browser: Browser,
  site: Awaited<ReturnType<typeof serve>>,
  { page: path, at, point, first, watchMs = WATCH_MS }: Case,
): Promise<string | null | undefined> {
  const visitor = Math.random().toString(36).slice(2).padEnd(12, '0')
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
  await context.addInitScript((name) => localStorage.setItem('dust-trail-visitor', name), visitor)
  const page = await context.newPage()
  if (process.env['BENCH_SHOW']) page.on('console', (m) => console.log('>>', m.text().slice(0, 900)))
  page.on('dialog', (dialog) => void dialog.dismiss())
  try {
    await page.goto(site.origin + path)
    await page.waitForTimeout(watchMs)
    let before = 0
    if (first) {
      await page.locator(first).click()
      await page.waitForTimeout(1800)
      before = site.clicks(visitor).length
    }
    const { x, y } = await placeOf(page, at, point)
    await page.mouse.move(x - 30, y - 10)
    await page.mouse.move(x, y, { steps: 4 })
    await page.waitForTimeout(250)
    await page.mouse.down()
    await page.waitForTimeout(70)
    await page.mouse.up()
    const untilMs = Date.now() + JUDGED_MS
    while (Date.now() < untilMs && site.clicks(visitor).length <= before)
      await new Promise((done) => setTimeout(done, 50))
    const line = site.clicks(visitor)[before]
    return line ? line.effect : null
  } finally {
    await context.close()
  }
}

async function placeOf(page: Page, at: string, point: Place['point']) {
  const locator = page.locator(at).first()
  await locator.scrollIntoViewIfNeeded().catch(() => undefined)
  const box = (await locator.boundingBox())!
  return { x: box.x + (point?.x ?? box.width / 2), y: box.y + (point?.y ?? box.height / 2) }
}
