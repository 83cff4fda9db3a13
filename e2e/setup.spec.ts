import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { expect, test } from '@playwright/test'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'

/** Another customer's site: one page at every address. */
async function serve(html: () => string): Promise<{ origin: string; close: () => void }> {
  const server = createServer((_, response) => response.setHeader('content-type', 'text/html').end(html()))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () => server.close().closeAllConnections(),
  }
}

test('a second site is taken in, its script receives data, and old data is deleted after a warning', async ({
  page,
  browser,
  baseURL,
}) => {
  let key = ''
  const harbour = await serve(
    () =>
      `<title>Timetable</title><h1>Timetable</h1><script async src="${baseURL}/capture.js" data-site="${key}"></script>`,
  )
  await page.goto('/setup')
  await page.getByRole('button', { name: 'Add a site' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Harbour Ferries')
  await dialog.getByRole('textbox', { name: 'Addresses' }).fill('ferries')
  await dialog.getByRole('button', { name: 'Add site' }).click()
  await expect(dialog.getByText(/such as https:\/\/www.example.org/).last()).toBeVisible()
  await dialog.getByRole('textbox', { name: 'Addresses' }).fill(harbour.origin)
  await dialog.getByRole('combobox', { name: /^Time zone/ }).selectOption('Europe/Stockholm')
  await dialog.getByRole('combobox', { name: /^Currency/ }).selectOption('SEK')
  await dialog.getByRole('spinbutton', { name: /^A session ends/ }).fill('20')
  await dialog.getByRole('button', { name: 'Add site' }).click()
  await expect(page.getByText('0 sessions of Harbour Ferries are loaded')).toBeVisible()
  const script = page.getByText(/data-site="harbour-ferries-[0-9a-f]{12}"/)
  await expect(script).toBeVisible()
  key = /data-site="([^"]+)"/.exec((await script.textContent())!)![1]!
  await expect(page.getByText('No data has arrived yet.')).toBeVisible()

  // A visitor of that site.
  const context = await browser.newContext()
  await (await context.newPage()).goto(`${harbour.origin}/timetable`)
  await expect(page.getByText(/Data arrives: last event/)).toBeVisible()
  await context.close()
  harbour.close()

  // Its goal, once a page is known.
  await page.reload()
  const form = page.getByRole('form', { name: 'The site' })
  await form.getByRole('combobox', { name: /^Goal/ }).selectOption('/timetable')
  await form.getByRole('button', { name: 'Save site' }).click()
  await expect(page.getByText('Site saved.')).toBeVisible()

  const old = `{"visitor":"old-hand","t":"2024-05-01T10:00:00Z","kind":"page","url":"/pier"}`
  await page
    .getByLabel('File to import')
    .setInputFiles({ name: 'old.ndjson', mimeType: 'application/x-ndjson', buffer: Buffer.from(old) })
  await page.getByRole('button', { name: 'Import', exact: true }).click()
  await expect(page.getByText('2 sessions of Harbour Ferries are loaded')).toBeVisible()
  const retention = page.getByRole('form', { name: 'Retention' })
  await retention.getByLabel('Sessions, in days').fill('90')
  await expect(retention.getByText('Saving this deletes 1 session and 0 recordings for good.')).toBeVisible()
  await retention.getByRole('button', { name: 'Save and delete' }).click()
  await expect(page.getByText('1 sessions of Harbour Ferries are loaded')).toBeVisible()

  // The other site is as it was.
  await page.getByRole('combobox', { name: 'Site' }).selectOption('Quillmoor Observatory')
  await expect(page.getByText(/sessions of Quillmoor Observatory are loaded/)).toBeVisible()
})

test('an owner sees word for word what leaves one of their pages, and what is typed is not in it', async ({
  page,
  browser,
}) => {
  await page.goto('/setup')
  const look = page.getByRole('region', { name: 'Look at what leaves a page' })
  await look.getByRole('button', { name: 'Start looking' }).click()
  await expect(look.getByText('Waiting.')).toBeVisible()
  const context = await browser.newContext()
  const visitor = await context.newPage()
  await visitor.goto(`${SITE}/search`)
  await visitor.waitForTimeout(800)
  await visitor.locator('input').first().pressSequentially('andromeda')
  await visitor.locator('h1').first().click()
  await expect(look.getByRole('status')).toContainText(/parts so far/)
  await look.getByText('What happened', { exact: true }).click()
  const events = look.getByRole('region', { name: 'What happened' })
  await expect(events).toContainText('"kind":"click"')
  await expect(events).toContainText(`"url":"${SITE}/search`)
  await look.getByText('The page as a tree', { exact: true }).click()
  await expect(look.getByRole('region', { name: 'The page as a tree' })).toContainText('"tag":"html"')
  await expect(look).not.toContainText('andromeda')
  await context.close()
})

test('a site is deleted once its name is written, and is nowhere after', async ({ page }) => {
  const name = `Gone ${Date.now()}`
  const about = {
    name,
    origins: ['https://gone.example'],
    timeZone: 'UTC',
    currency: 'EUR',
    sessionLimitMin: 30,
  }
  const made = await page.request.post('/api/v1/sites', { data: about })
  const { key } = (await made.json()) as { key: string }
  await page.goto(`/setup?site=${key}`)
  await page.getByRole('button', { name: `Delete ${name} …` }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByRole('button', { name: 'Delete for good' })).toBeDisabled()
  await dialog.getByRole('textbox', { name: 'Its name, once more' }).fill(name)
  await dialog.getByRole('button', { name: 'Delete for good' }).click()
  await expect(page.getByText(`${name} is deleted, with 0 sessions.`)).toBeVisible()
  // What is left of the sites, one or several.
  await expect(page.getByText('Quillmoor Observatory').first()).toBeAttached()
  await expect(page).not.toHaveURL(new RegExp(key))
  const sites = (await (await page.request.get('/api/v1/sites')).json()) as { key: string }[]
  expect(sites.map((site) => site.key)).not.toContain(key)
})
