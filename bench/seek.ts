/** How long it takes to show any moment of a long replay, beside doing each of its steps from the beginning. */
import { fileURLToPath } from 'node:url'
import { chromium } from '@playwright/test'
import { build } from 'esbuild'
import type { Report } from './report.ts'

export const about = 'showing any moment of a three-hour replay in Chromium'

const ROOT = fileURLToPath(new URL('..', import.meta.url))
const HOURS = 3
const ROWS = 1000
const CHANGE_EVERY_MS = 100
const MOMENTS = 25
/** What a person takes for at once: RAIL names 100 ms for the answer; twice that for a jump. */
const GOAL_MS = 200

/** Runs in the page: a table of 5,000 elements in which a value changes, a row goes and another comes, ten times a second. */
const PAGE = `
import { createFrame, Rebuilt, Stage } from './replay/src/index.ts'
const HOURS = ${HOURS}, ROWS = ${ROWS}, EVERY = ${CHANGE_EVERY_MS}
let id = 10
const row = (n) => ({ id: ++id, tag: 'tr', a: { class: 'row' }, c: [0, 1, 2].map((k) => ({ id: ++id, tag: 'td', c: [{ id: ++id, text: 'cell ' + n + '.' + k }] })) })
const rows = Array.from({ length: ROWS }, (_, n) => row(n))
const live = rows.map((one) => one.id)
const texts = rows.map((one) => one.c[0].c[0].id)
const snapshot = { url: '/', title: 'Long', width: 1000, height: 700, root: { id: 1, tag: 'html', c: [{ id: 2, tag: 'head', c: [{ id: 6, tag: 'style', c: [{ id: 7, text: 'td{padding:4px;border:1px solid #ccc}' }] }] }, { id: 3, tag: 'body', c: [{ id: 4, tag: 'table', c: [{ id: 5, tag: 'tbody', c: rows }] }] }] } }
const items = []
for (let at = EVERY; at < HOURS * 3600000; at += EVERY) {
  const n = at / EVERY
  const item = { at, k: 'change', text: [[texts[n % ROWS], 'value ' + n]] }
  if (n % 5 === 0) {
    const k = (n * 7919) % ROWS
    const fresh = row(n)
    item.gone = [live[k]]
    item.add = [[5, 0, fresh]]
    live[k] = fresh.id
    texts[k] = fresh.c[0].c[0].id
  }
  items.push(item)
}
const recording = { document: 'd', startMs: 0, snapshot, items }
window.run = async (moments) => {
  const open = () => createFrame(document.body, { pictureOrigins: [], ownOrigin: location.origin, title: 'x' })
  const timed = (frame, work) => { const t = performance.now(); work(); frame.contentDocument.body.offsetHeight; return performance.now() - t }
  const frame = await open()
  const stage = new Stage(frame.contentDocument, [recording], [{ index: 0, fromMs: 0 }])
  stage.seek(0)
  const began = performance.now()
  let steps = 0
  while (stage.prepare(() => ++steps % 2 !== 0));
  const prepareMs = performance.now() - began
  const jumps = []
  let text = ''
  for (const at of moments) {
    jumps.push(timed(frame, () => stage.seek(at)))
    text += frame.contentDocument.body.textContent.length + ' '
  }
  const whole = await open()
  const page = new Rebuilt(whole.contentDocument)
  const peers = []
  let other = ''
  for (const at of moments) {
    peers.push(timed(whole, () => { page.show(snapshot); for (const item of items) { if (item.at > at) break; page.apply(item) } }))
    other += whole.contentDocument.body.textContent.length + ' '
  }
  return { jumps, peers, prepareMs, same: text === other, items: items.length }
}
`

export async function run(): Promise<Report> {
  const { outputFiles } = await build({
    stdin: { contents: PAGE, resolveDir: ROOT, loader: 'js' },
    ...{ bundle: true, write: false, format: 'iife', target: 'es2022' },
    alias: { '@dust-trail/core/recording': `${ROOT}core/src/recording/index.ts` },
  })
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.setContent('<!doctype html><body></body>')
  await page.addScriptTag({ content: outputFiles[0]!.text })
  const lengthMs = HOURS * 3_600_000
  // Here and there, forwards and backwards.
  const moments = Array.from({ length: MOMENTS }, (_, k) => Math.floor(((k * 0.618034) % 1) * lengthMs))
  const measured = await page.evaluate(
    (at) =>
      (
        window as unknown as {
          run: (
            at: number[],
          ) => Promise<
            Record<'jumps' | 'peers', number[]> & { prepareMs: number; same: boolean; items: number }
          >
        }
      ).run(at),
    moments,
  )
  await browser.close()
  if (!measured.same) throw new Error('The two ways do not show the same.')
  return {
    name: 'seek',
    data: `${HOURS} hours of a page of ${ROWS * 4} elements, ${measured.items} steps; ${MOMENTS} moments here and there; with layout`,
    figures: [
      { what: 'a moment, by key frames', unit: 'ms', values: measured.jumps, goal: { atMost: GOAL_MS } },
      {
        what: 'the slowest of them',
        unit: 'ms',
        values: [Math.max(...measured.jumps)],
        goal: { atMost: GOAL_MS },
      },
      { what: 'the same step by step from the beginning', unit: 'ms', values: measured.peers, goal: null },
      { what: 'finding the key frames, in idle time', unit: 'ms', values: [measured.prepareMs], goal: null },
    ],
  }
}
