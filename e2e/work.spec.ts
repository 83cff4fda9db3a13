import { expect, test } from '@playwright/test'
import { readFile } from 'node:fs/promises'
import { ALL } from './all-days.ts'

/* From the first look in the morning to a fix that is checked. */

test('the application opens with how far visitors are from the goal, and each figure opens', async ({
  page,
}) => {
  await page.goto('/')
  await expect(page.getByRole('heading', { name: 'Aim' })).toBeVisible()
  // The last full days, four weeks of them.
  await expect(page).toHaveURL(/from=\d{4}-\d\d-\d\d&to=/)
  const [, from, to] = /from=([\d-]+)&to=([\d-]+)/.exec(page.url())!
  expect((Date.parse(to!) - Date.parse(from!)) / 86_400_000).toBe(27)
  const result = page.getByRole('region', { name: 'Main result' })
  await expect(result).toContainText(/[\d.]+ % of [\d,]+ sessions: [\d,]+/)
  await expect(result).toContainText(/(more than noise|may be noise)/)
  await expect(page.getByRole('region', { name: 'What feeds it' })).toContainText('Instrument reserved')
  // To price everything takes a while where much else is asked.
  await expect(page.getByRole('region', { name: 'What costs most' })).toContainText(
    'Given up at this field',
    {
      timeout: 90_000,
    },
  )
  await result.getByRole('button').first().click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText('Reached “Booked”')
})

test('what was found is taken up at one press, moved on the board by keyboard, commented, and kept in its history', async ({
  page,
}) => {
  await page.goto(`/fixes?${ALL}`)
  const found = page.getByRole('region', { name: 'Found in the data' })
  const row = found.getByRole('row').filter({ hasText: 'A script fails: “Continue”' })
  await row.getByRole('button', { name: 'Take up' }).click()
  const title = 'A script fails: “Continue”, Booking: party'
  await expect(page.getByRole('heading', { name: title })).toBeVisible()
  await expect(page.getByText(/sessions met it; [\d.]+ % of them carried on/)).toBeVisible()
  await page.getByLabel('Comment').fill('Firefox alone.')
  await page.getByRole('button', { name: 'Comment', exact: true }).click()
  const history = page.getByRole('region', { name: 'History' })
  await expect(history).toContainText('Firefox alone.')

  await page.getByRole('link', { name: 'All fixes' }).click()
  const ready = page.getByRole('region', { name: /^ready: / })
  await page.getByRole('button', { name: `Move “${title}”` }).focus()
  // A card grows when its price comes: only then is there something steady to move.
  await expect(page.getByText(/about \d+ lost in 30 days/).first()).toBeVisible({ timeout: 90_000 })
  await page.keyboard.press('Space')
  await page.waitForTimeout(300)
  await page.keyboard.press('ArrowRight')
  await page.waitForTimeout(300)
  await page.keyboard.press('Space')
  await expect(ready.getByRole('link', { name: title })).toBeVisible()
  await ready.getByRole('link', { name: title }).click()
  await expect(history).toContainText('idea → ready')

  await page.getByRole('link', { name: 'All fixes' }).click()
  const download = page.waitForEvent('download')
  await page.getByRole('combobox', { name: 'Save as a report' }).selectOption('html')
  const text = await readFile(await (await download).path(), 'utf8')
  expect(text).toContain('What to repair first: Quillmoor Observatory')
  expect(text).toContain('A script fails')
})

test('a problem that is not worth it is dismissed with a reason, and taken back', async ({ page }) => {
  await page.goto(`/fixes?${ALL}`)
  const found = page.getByRole('region', { name: 'Found in the data' })
  const row = found.getByRole('row').filter({ hasText: 'Leads to a page that is not there' })
  await row.getByRole('button', { name: 'Dismiss …' }).click()
  await page.getByLabel('Why not?').fill('The campaign is over.')
  await page.getByRole('button', { name: 'Dismiss', exact: true }).click()
  await expect(row).toHaveCount(0)
  await found.getByRole('button', { name: '1 dismissed' }).click()
  await found.getByRole('button', { name: 'Take back: The campaign is over.' }).click()
  await expect(row).toHaveCount(1)
})

test('a fix that was shipped is held against the days before, in words first', async ({ page, request }) => {
  const day = (back: number) => new Date(Date.now() - back * 86_400_000).toISOString().slice(0, 10)
  const made = await request.post('/api/v1/sites/quillmoor/fixes', {
    data: {
      ...{ title: 'Load the night sooner', hypothesis: 'It is slow.', change: '', effort: 'days' },
      ...{ status: 'shipped', shippedDay: day(40), sessionId: null },
      lens: { from: day(60), to: day(1), devices: [] },
      selection: { type: 'signal', kind: 'slow page', page: 'A night', selector: '' },
    },
  })
  const { id } = (await made.json()) as { id: number }
  await page.goto(`/fixes/${id}?${ALL}`)
  const verify = page.getByRole('region', { name: 'Did it work?' })
  await expect(verify).toContainText(/\d+ days after .* against as many before it, on the same weekdays/)
  // From one date on the page became slow, whatever was shipped.
  await expect(verify).toContainText('Worse. The problem is met by a larger share than before, beyond noise.')
  await verify.getByRole('button', { name: 'Keep as verified' }).click()
  await expect(verify).toContainText(/Verified .*: worse\./)
  await request.delete(`/api/v1/sites/quillmoor/fixes/${id}`)
})

test('a goal of another kind is added, made the main one, and followed everywhere', async ({ page }) => {
  await page.goto(`/setup?${ALL}`)
  const goals = page.getByRole('region', { name: 'Goals' })
  await expect(goals).toContainText('Booked · main goal')
  await goals.getByRole('combobox', { name: 'Page that is a goal' }).selectOption('A night')
  await goals.getByLabel('called').fill('Looked at a night')
  await goals.getByRole('button', { name: 'Add goal' }).click()
  await goals.getByRole('button', { name: 'Make “Looked at a night” the main goal' }).click()
  await expect(goals).toContainText('Looked at a night · main goal')
  await page.getByRole('link', { name: 'Aim' }).click()
  await expect(page.getByRole('region', { name: 'Main result' })).toContainText('Looked at a night')
  await page.getByRole('link', { name: 'Setup' }).click()
  await goals.getByRole('button', { name: 'Make “Booked” the main goal' }).click()
  await goals.getByRole('button', { name: 'Remove the goal “Looked at a night”' }).click()
  await expect(goals).toContainText('Booked · main goal')
  await expect(goals).not.toContainText('Looked at a night')
})

test('errors of one fault are one row, and the fields of a form say where it is given up', async ({
  page,
}) => {
  await page.goto(`/friction/errors?${ALL}`)
  const errors = page.getByRole('table', { name: 'Errors' })
  await errors.getByRole('button', { name: /Symbol\.iterator/ }).click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText(/[\d,]+ sessions/)
  await page.getByRole('link', { name: 'Forms' }).click()
  const form = page.getByRole('region', { name: 'Fields of Booking: details' })
  await expect(form).toContainText(/Begun in [\d.]+ % of [\d,]+ views, sent in/)
  await expect(form).toContainText('“Car registration')
})

test('a signal of one’s own counts for the past, and stands among the hot spots', async ({ page }) => {
  await page.goto(`/friction?${ALL}`)
  const own = page.getByRole('region', { name: 'Signals of your own' })
  await own.getByRole('button', { name: 'Add a signal' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Name', { exact: true }).fill('Nothing found')
  await dialog.getByRole('combobox', { name: 'What is done' }).selectOption('page')
  await dialog.getByLabel('With property').fill('results')
  await expect(dialog.getByRole('status')).toContainText(/Matches [\d,]+ times/)
  await expect(dialog.getByRole('status')).toContainText('data reach back to')
  await dialog.getByRole('button', { name: 'Save action' }).click()
  await expect(own.getByRole('button', { name: 'Nothing found' })).toBeVisible()
  const spot = page.getByRole('table', { name: 'Hot spots' }).getByRole('button', { name: 'Nothing found' })
  await spot.first().click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText('Nothing found')
})

test('paths show the common routes from a page, and each opens those who walked it', async ({ page }) => {
  await page.goto(`/paths?${ALL}`)
  await page.getByRole('combobox', { name: 'Page in focus' }).selectOption('Observing nights')
  await expect(page.getByText(/^From Observing nights [\d.]+ % of [\d,]+ went on to A night/)).toBeVisible()
  const routes = page.getByRole('region', { name: 'Routes' })
  const first = routes.getByRole('listitem').first()
  const sessions = /([\d,]+)/.exec((await first.locator('span').first().textContent())!.split('%')[1]!)![1]!
  await first.getByRole('button').first().click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText(`${sessions} sessions`)
  await page.getByRole('radio', { name: 'Back' }).click()
  await page.getByRole('combobox', { name: 'Page in focus' }).selectOption('Booked')
  await expect(page.getByText(/^To Booked: [\d.]+ % of [\d,]+ came from Booking: payment/)).toBeVisible()
})

test('a page is shaded by its regions, and two periods are one map of what differs', async ({ page }) => {
  await page.goto(`/pages?page=Observing+nights&map=regions&${ALL}`)
  const regions = page.getByRole('region', { name: /^Regions of / })
  await expect(regions.getByText(/[\d,]+ clicks in [\d,]+ views/).first()).toBeAttached()
  await page.getByRole('combobox', { name: 'Shaded by' }).selectOption('seen')
  await expect(regions.getByText(/[\d.]+ % of [\d,]+ views/).first()).toBeAttached()
})
