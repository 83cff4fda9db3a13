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
  await page.locator('tr[data-row]').first().getByRole('link').first().click()
  await page
    .getByRole('button', { name: /rage click/ })
    .first()
    .click()
}

const settled = (name) => (page) => page.getByRole('region', { name }).waitFor({ timeout: 120_000 })
await picture('aim', '/', (page) =>
  page.getByText('Conversions lost in 30 days').waitFor({ timeout: 120_000 }),
)
await picture('paths', '/paths?start=Observing+nights', settled('Routes'))
await picture('funnel', '/funnels')
await picture('funnel-dark', '/funnels', undefined, 'dark')
await picture('close-up', '/funnels', openLeak)
await picture('replay', '/funnels?device=desktop', watchFirst)
await picture('pages', '/pages')
await picture('heat-map', '/pages?page=Observing+nights&device=mobile')
await picture('friction', '/friction')
await picture('visitors', '/visitors?order=value')
await picture('strain', '/friction/strain')
await picture('reach', '/pages?page=An+instrument&map=reach&device=mobile')
const allDays = 'from=2020-01-01&to=2035-12-31'
await picture('fixes', `/fixes?${allDays}`, (page) =>
  page.getByRole('table', { name: 'Problems found in the data' }).waitFor({ timeout: 120_000 }),
)
await picture('setup', '/setup')
await picture('labels', '/labels')
// A segment to show: phones that dropped off at the details form.
const cut = {
  condition: {
    type: 'all',
    of: [
      { type: 'text', of: 'device', test: { is: 'equal', to: 'mobile' } },
      { type: 'event', event: { kinds: ['page'], page: { is: 'equal', to: 'Booking: details' } } },
    ],
  },
}
const api = `${base}/api/v1/sites/quillmoor/segments`
const known = await (await fetch(api)).json()
const segment =
  known.find(({ name }) => name === 'Phones at the details') ??
  (await (
    await fetch(api, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'Phones at the details', note: 'They lose most here.', cut }),
    })
  ).json())
await picture('segments', `/segments?segment=${segment.id}`)
await picture('sequences', '/segments?facet=sequences', async (page) => {
  const line = page
    .getByRole('list', { name: 'Sequences' })
    .getByRole('listitem')
    .filter({ has: page.getByRole('button', { name: /^Booking: party/ }) })
    .first()
  const marks = line.getByRole('button')
  await marks.nth(0).click()
  await marks.nth(2).click({ modifiers: ['Shift'] })
})
const options = encodeURIComponent(JSON.stringify({ by: 'device', trend: 'day' }))
await picture('side-by-side', `/funnels?options=${options}&segments=${segment.id}&vs=weekdays`, (page) =>
  page.getByRole('region', { name: 'Side by side' }).scrollIntoViewIfNeeded(),
)
await picture('propose-fix', '/funnels', async (page) => {
  await openLeak(page)
  await page.getByRole('button', { name: 'Propose a fix' }).click()
})
await browser.close()
