/** Measures every page of the stand-in site at three widths in a real browser and keeps the result with the project. */
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import { build } from 'esbuild'
import { DEVICE_CLASSES } from '@dust-trail/core'
import type { Layouts, MeasuredPage } from '../layout.ts'
import { LAYOUTS_FILE, VIEWPORTS } from '../layout.ts'
import { createSite } from '../site/main.ts'
import { ALL_PAGES } from '../site/pages.ts'
import { fingerprint } from './fingerprint.ts'
import type { Move } from './moves.ts'
import { movesOf } from './moves.ts'

/** Address that recorded pages carry, whatever port they were measured on. */
const ORIGIN = 'http://127.0.0.1:4181'

const server = createServer(createSite(undefined)).listen(0, '127.0.0.1')
await new Promise((resolve) => server.once('listening', resolve))
const { port } = server.address() as AddressInfo
const bundle = await build({
  entryPoints: ['demo/src/measure/in-page.ts'],
  bundle: true,
  write: false,
  format: 'iife',
  target: 'es2022',
})
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
})
const layouts: Layouts = { fingerprint: fingerprint(), pages: {} }
for (const device of DEVICE_CLASSES) {
  const context = await browser.newContext({
    viewport: VIEWPORTS[device],
    hasTouch: device !== 'desktop',
    isMobile: device === 'mobile',
  })
  const page = await context.newPage()
  for (const path of ALL_PAGES) {
    await page.goto(`http://127.0.0.1:${port}${path}`)
    await page.addScriptTag({ content: bundle.outputFiles[0]!.text })
    const measured = await page.evaluate(
      (moves) =>
        (window as unknown as { measurePage(moves: Move[]): Promise<MeasuredPage> }).measurePage(moves),
      movesOf(new URL(path, ORIGIN).pathname),
    )
    measured.snapshot.url = ORIGIN + path.replace(/\?party=.*/, '')
    layouts.pages[`${device} ${path}`] = measured
  }
  await context.close()
}
await browser.close()
server.close()
writeFileSync(LAYOUTS_FILE, gzipSync(JSON.stringify(layouts), { level: 9 }))
console.log(`${Object.keys(layouts.pages).length} pages measured, written to ${LAYOUTS_FILE}`)
