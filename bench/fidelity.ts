/** How near a replay comes to the page: pixels, boxes and single features, over pages that are used for a while. */
import { mkdirSync, writeFileSync } from 'node:fs'
import { pathToFileURL } from 'node:url'
import { gzipSync } from 'node:zlib'
import type { Browser, BrowserContext } from '@playwright/test'
import { chromium } from '@playwright/test'
import { build } from 'esbuild'
import { comparison } from './fidelity/compare.ts'
import type { Box, Compare } from './fidelity/compare.ts'
import type { Feature } from './fidelity/feature.ts'
import { FEATURES } from './fidelity/features.ts'
import { placesOf } from './fidelity/places.ts'
import type { Place } from './fidelity/places.ts'
import { USED_PAGES } from './fidelity/used-pages.ts'
import type { UsedPage } from './fidelity/used-pages.ts'
import { bundleUsed, perform, wholePage } from './fidelity/use.ts'
import { serve } from './fidelity/site.ts'
import type { Report } from './report.ts'
import { captureScripts } from './scripts.ts'
import { quantile } from '../core/src/index.ts'

export const about =
  'a replay against the page: pixels, boxes, single features (BENCH_FIDELITY = part of a name; BENCH_PICTURES = folder; BENCH_PHONES=1: all pages as phones, too; BENCH_EARLY=1: the script at the head of each page; BENCH_WAY=play, fold: played, or from a key frame; BENCH_OWN = a module with `pages` and `features` to be looked at, too)'

const AT_ONCE = 6
const DESK = { width: 1000, height: 700 }
const PHONE = { width: 390, height: 700 }
/** A feature works where no more pixels than this differ: a letter smoothed otherwise is no fault. */
const FEW_PIXELS = 12
/** A drawing is kept as a picture that is not exact to the last dot. */
const FEW_DRAWN = 120
/** The script sends once a second. */
const SENT_MS = 1700

/** As text, without what the loader of this program adds to names. */
const PLACES = `((page) => { const __name = (f) => f; return (${placesOf.toString()})(page) })`

interface Case {
  name: string
  kind: 'feature' | 'page'
  path: string
  phone: boolean
  later?: string | undefined
  acts: readonly string[]
}

interface Seen extends Case {
  pixels: number
  share: number
  boxes: number
  boxesRight: number
  skipped: number
  errors: string[]
  bytes: number
  failed?: string
}

export async function run(): Promise<Report> {
  const wanted = process.env['BENCH_FIDELITY'] ?? ''
  const html = new Map<string, string>()
  const cases: Case[] = []
  const own = await ownCases()
  for (const [k, { name, html: inside, style = '', script = '', later, acts = [], phone = false }] of [
    ...FEATURES,
    ...own.features,
  ].entries()) {
    if (!`feature ${name}`.includes(wanted)) continue
    const path = `/p/${k}/`
    html.set(path, wholePage(inside, style, script))
    cases.push({ name, kind: 'feature', path, phone, later, acts })
  }
  for (const { name, path, acts, phones } of await bundleUsed([...USED_PAGES, ...own.pages], html, wanted))
    for (const phone of phones ? [false, true] : [false])
      cases.push({ name: phone ? `${name}, phone` : name, kind: 'page', path, phone, acts })
  const compare = await comparison()
  const scripts = await captureScripts()
  const site = await serve(html, scripts, compare)
  const player = await serve(new Map([['/', await playerPage()]]), new Map(), compare)
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--use-gl=swiftshader',
      '--enable-unsafe-swiftshader',
    ],
  })
  const seen: Seen[] = []
  const left = [...cases]
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      for (let one = left.shift(); one; one = left.shift())
        seen.push(tell(await Promise.race([look(browser, site, player.origin, compare, one), tooLate(one)])))
    }),
  )
  await browser.close()
  site.close()
  player.close()
  return report(seen)
}

const works = (one: Seen) =>
  !one.failed && one.pixels <= (/canvas|blob/.test(one.name) ? FEW_DRAWN : FEW_PIXELS) && !one.errors.length

/** Says at once what became of a page, and of a feature that is not right: looking at all takes long. */
function tell(one: Seen): Seen {
  if (one.kind === 'page')
    console.log(
      `page ${one.name}: ${one.failed ?? `${(one.share * 100).toFixed(2)} % of pixels, ${one.boxesRight} of ${one.boxes} boxes, ${one.skipped} skipped, ${(one.bytes / 1000).toFixed(1)} kB`} ${one.errors.join(' | ').slice(0, 300)}`,
    )
  else if (!works(one))
    console.log(
      `feature ${one.name}: ${one.failed ?? `${one.pixels} px`} ${one.errors.join(' | ').slice(0, 200)}`,
    )
  return one
}

function report(seen: readonly Seen[]): Report {
  const features = seen.filter(({ kind }) => kind === 'feature')
  const pages = seen.filter(({ kind }) => kind === 'page')
  return {
    name: 'fidelity',
    data: `${features.length} single features, ${pages.length} pages built with general-purpose packages`,
    figures: [
      ...(features.length
        ? [
            {
              what: 'features right',
              unit: '',
              values: [features.filter(works).length / Math.max(1, features.length)],
              goal: { atLeast: 0.95 },
            },
          ]
        : []),
      ...(pages.length ? pageFigures(pages) : []),
      {
        what: 'errors on the console of the replay',
        unit: '',
        values: [seen.reduce((all, { errors }) => all + errors.length, 0)],
        goal: { atMost: 0 },
      },
    ],
  }
}

function pageFigures(pages: readonly Seen[]): Report['figures'] {
  const shares = pages.map(({ share, failed }) => (failed ? 1 : share)).sort((a, b) => a - b)
  const sum = (of: (one: Seen) => number) => pages.reduce((all, one) => all + of(one), 0)
  return [
    {
      what: 'pixels that differ, median page',
      unit: '%',
      values: [100 * (quantile(shares, 0.5) || 0)],
      goal: { atMost: 0.3 },
    },
    {
      what: 'pixels that differ, worst page',
      unit: '%',
      values: [100 * (shares.at(-1) ?? 0)],
      goal: { atMost: 3 },
    },
    {
      what: 'boxes within 1 px',
      unit: '',
      values: [
        sum(({ boxesRight }) => boxesRight) /
          Math.max(
            1,
            sum(({ boxes }) => boxes),
          ),
      ],
      goal: { atLeast: 0.99 },
    },
    {
      what: 'compressed, a page with its use',
      unit: 'kB',
      values: pages.map(({ bytes }) => bytes / 1000),
      goal: null,
    },
  ]
}

/** Cases that are not part of the project. */
async function ownCases(): Promise<{ pages: readonly UsedPage[]; features: readonly Feature[] }> {
  const file = process.env['BENCH_OWN']
  const { pages = [], features = [] } = file
    ? ((await import(pathToFileURL(file).href)) as { pages?: UsedPage[]; features?: Feature[] })
    : {}
  return { pages, features }
}

async function playerPage(): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: ['bench/fidelity/in-page.ts'],
    ...{ bundle: true, write: false, format: 'iife', target: 'es2022' },
    plugins: [
      {
        name: 'workspaces',
        setup: (builder) =>
          builder.onResolve({ filter: /^@dust-trail\/core\/recording$/ }, () => ({
            path: `${process.cwd()}/core/src/recording/index.ts`,
          })),
      },
    ],
  })
  return `<!doctype html><meta charset="utf-8"><title>Player</title><style>body{margin:0}</style><body><script>${outputFiles[0]!.text.replaceAll('</script', '<\\/script')}</script>`
}

const NONE = { pixels: 0, share: 0, boxes: 0, boxesRight: 0, skipped: 0, errors: [], bytes: 0 }
/** A page that stops who looks at it is none that is shown right. */
const LATEST_MS = 60_000
const tooLate = (one: Case) =>
  new Promise<Seen>((resolve) =>
    setTimeout(() => resolve({ ...one, ...NONE, failed: 'took too long' }), LATEST_MS).unref(),
  )

async function look(
  browser: Browser,
  site: Awaited<ReturnType<typeof serve>>,
  player: string,
  compare: Compare,
  one: Case,
): Promise<Seen> {
  const visitor = Math.random().toString(36).slice(2).padEnd(12, '0')
  const viewport = one.phone ? PHONE : DESK
  const context = await browser.newContext({ viewport, ...(one.phone && { isMobile: true, hasTouch: true }) })
  await context.addInitScript((name) => localStorage.setItem('dust-trail-visitor', name), visitor)
  let watching: BrowserContext | undefined
  try {
    const page = await context.newPage()
    page.on('dialog', (dialog) => void dialog.dismiss())
    page.on('pageerror', (error) =>
      console.log(`page ${one.name}: its own error ${String(error).slice(0, 200)}`),
    )
    await page.goto(site.origin + one.path)
    await page.waitForTimeout(1000)
    if (one.later) await page.evaluate(one.later)
    if (one.later) await page.waitForTimeout(700)
    // What cannot be done, a person could not do either: something lies over it.
    for (const act of one.acts) await perform(page, act).catch(() => undefined)
    // Controls that the pointer is over look otherwise, which no page can make them do.
    if (!one.acts.at(-1)?.startsWith('hover')) await page.mouse.move(viewport.width - 2, viewport.height - 2)
    await page.waitForTimeout(SENT_MS)
    const original = await page.screenshot({ animations: 'disabled' })
    // A phone shows a page that is too wide for it smaller.
    const [before, width, smaller] = await page.evaluate<[ReturnType<typeof placesOf>, number, number]>(
      `[${PLACES}(document), document.documentElement.clientWidth, ${one.phone} ? visualViewport.scale : 1]`,
    )
    const seenWidth = smaller < 1 ? Math.round(viewport.width / smaller) : width
    await page.waitForTimeout(300)
    const sent = site.recordingOf(visitor)
    if (!sent) return { ...one, ...NONE, failed: 'nothing was recorded' }
    if (process.env['BENCH_SHOW']) console.log(JSON.stringify(sent.recording).slice(0, 6000))
    const errors: string[] = []
    const watcher = await browser.newContext({
      viewport: { width: DESK.width, height: Math.ceil(DESK.height / Math.min(1, smaller)) },
      deviceScaleFactor: Math.min(1, smaller),
    })
    watching = watcher
    const shown = await watcher.newPage()
    shown.on('console', (message) => {
      if (message.type() === 'error' && !/favicon|none\.png/.test(message.text() + message.location().url))
        errors.push(message.text())
    })
    if (process.env['BENCH_SHOW']) shown.on('console', (m) => console.log('console', m.text()))
    shown.on('pageerror', (error) => errors.push(String(error)))
    await shown.goto(player)
    const view = (await shown.evaluate(
      ([recording, files, way]) =>
        (window as unknown as { showRecording: (...given: unknown[]) => unknown }).showRecording(
          recording,
          files,
          way,
        ),
      [
        JSON.stringify(sent.recording),
        Object.fromEntries(site.kept),
        process.env['BENCH_WAY'] ?? 'jump',
      ] as const,
    )) as { skipped: number; width: number; height: number }
    await shown.waitForTimeout(500)
    const replayed = await shown.screenshot({
      animations: 'disabled',
      clip: { x: 0, y: 0, width: Math.min(view.width, seenWidth), height: view.height },
    })
    const after = await shown.evaluate<ReturnType<typeof placesOf>>(
      `${PLACES}(document.querySelector('iframe').contentDocument)`,
    )
    const { pixels, of, picture } = compare.differing(original, replayed, [
      ...before.fields,
      ...scrollBars(viewport, width),
    ])
    const folder = process.env['BENCH_PICTURES']
    if (folder) {
      mkdirSync(folder, { recursive: true })
      const name = one.name.replaceAll(/[^\w]+/g, '-')
      for (const [what, data] of [
        ['page', original],
        ['replay', replayed],
        ['difference', picture],
      ] as const)
        writeFileSync(`${folder}/${name}.${what}.png`, data)
    }
    return {
      ...one,
      ...{ pixels, share: pixels / of, skipped: view.skipped, errors },
      ...boxesOf(before.places, after.places, viewport),
      bytes: sent.batches.reduce((sum, batch) => sum + gzipSync(JSON.stringify(batch)).length, 0),
    }
  } catch (error) {
    return { ...one, ...NONE, failed: String(error).slice(0, 300) }
  } finally {
    await context.close()
    await watching?.close()
  }
}

const scrollBars = (viewport: { width: number; height: number }, width: number): Box[] =>
  width < viewport.width ? [{ x: width, y: 0, width: viewport.width - width, height: viewport.height }] : []

/** Of what can be seen on the page, how much lies within 1 px of where it lies in the replay. */
function boxesOf(
  before: readonly Place[],
  after: readonly Place[],
  viewport: { width: number; height: number },
) {
  const places = new Map(after.map((place) => [place.key, place]))
  const visible = before.filter(
    ({ x, y, width, height }) => x + width > 0 && y + height > 0 && x < viewport.width && y < viewport.height,
  )
  const right = visible.filter((place) => {
    const other = places.get(place.key)
    return (
      other &&
      (['x', 'y', 'width', 'height'] as const).every((side) => Math.abs(place[side] - other[side]) <= 1)
    )
  })
  if (process.env['BENCH_PICTURES'])
    for (const place of visible)
      if (!right.includes(place))
        console.log('box', JSON.stringify(place), JSON.stringify(places.get(place.key)))
  return { boxes: visible.length, boxesRight: right.length }
}
