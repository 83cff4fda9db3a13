// Takes the pictures in docs/screenshots from a running instance with the demo (npm start first).
import { chromium } from '@playwright/test'

const base = process.env.BASE_URL ?? 'http://127.0.0.1:4180'
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
})

async function picture(name, path, prepare = async () => undefined, colorScheme = 'light') {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme })
  await page.goto(base + path)
  await page.evaluate(() => document.fonts.ready)
  await page.waitForTimeout(900)
  await prepare(page)
  await page.waitForTimeout(900)
  await page.screenshot({ path: `docs/screenshots/${name}.png` })
  await page.close()
  console.log(name)
}

const openLeak = (page) =>
  page
    .getByRole('button', { name: /left after rage or dead clicks/ })
    .first()
    .click()
const watchFirst = async (page) => {
  await openLeak(page)
  await page.getByRole('tab', { name: /Watch/ }).click()
  await page.locator('tr[data-row]').first().getByRole('link').click()
  await page
    .getByRole('button', { name: /rage click/ })
    .first()
    .click()
}

await picture('funnel', '/funnels')
await picture('funnel-dark', '/funnels', undefined, 'dark')
await picture('close-up', '/funnels', openLeak)
await picture('replay', '/funnels?device=desktop', watchFirst)
await picture('pages', '/pages')
await picture('heat-map', '/pages?page=Observing+nights&device=mobile')
await picture('setup', '/setup')
await picture('propose-fix', '/funnels', async (page) => {
  await openLeak(page)
  await page.getByRole('button', { name: 'Propose a fix' }).click()
})
await browser.close()
