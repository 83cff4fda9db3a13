import type { Locator } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { ALL } from './all-days.ts'

test('tiny arrows are found through the clicks that missed them, and those who missed are watched', async ({
  page,
}) => {
  await page.goto(`/friction?${ALL}`)
  const spots = page.getByRole('region', { name: 'Hot spots' })
  await spots.getByRole('combobox', { name: 'Kind of signal' }).selectOption('near miss')
  await expect(spots).toContainText('a few pixels beside a control')
  const row = spots.getByRole('row', { name: /near miss/ }).first()
  await expect(row).toContainText('Observing nights')
  await row.getByRole('button', { name: 'near miss' }).click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp).toContainText(/[\d,]+ sessions/)
  await closeUp.getByRole('tab', { name: /Watch/ }).click()
  await expect(closeUp.locator('tr[data-row]').first()).toBeVisible()
})

test('a slow page from one date on is what is new since the days before', async ({ page, request }) => {
  // The release in the middle of the period: whenever the demo was loaded, its two halves lie side by side.
  const site = (
    (await (await request.get('/api/v1/sites')).json()) as { days: { from: string; to: string } }[]
  )[0]!
  const middle = new Date((Date.parse(site.days.from) + Date.parse(site.days.to)) / 2)
    .toISOString()
    .slice(0, 10)
  await page.goto(`/friction?from=${middle}&to=${site.days.to}&vs=before`)
  const worse = page.getByRole('region', { name: 'New or worse' })
  await expect(worse.getByRole('row', { name: /slow page.*A night/ })).toBeVisible()
  await worse.getByRole('button', { name: 'slow page' }).first().click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText('A night')
})

test('a threshold is changed, and the numbers follow everywhere, the past included', async ({ page }) => {
  await page.goto(`/friction/slow page?${ALL}`)
  const met = page.getByRole('region', { name: 'Where it is met' })
  /** how many sessions met the first spot of a list */
  const sessionsIn = async (list: Locator) => {
    const head = await list.getByRole('columnheader').allTextContents()
    const cell = list.getByRole('row').nth(1).getByRole('cell').nth(head.indexOf('Sessions'))
    return Number((await cell.textContent())!.replace(/\D/g, ''))
  }
  const sessions = () => sessionsIn(met)
  await expect(met.getByRole('row').nth(1)).toBeVisible()
  const before = await sessions()
  const form = page.getByRole('region', { name: 'From where on it counts' })
  await form.getByRole('spinbutton', { name: /longer than/i }).fill('1')
  const preview = form.getByRole('status')
  await expect(preview).toContainText(/With this setting [\d,]+ instead of [\d,]+/)
  await expect(preview.getByRole('listitem').first()).toContainText('now a slow page')
  await form.getByRole('button', { name: /^Save for/ }).click()
  await expect(page.getByText('Thresholds saved.')).toBeVisible()
  await expect.poll(sessions).toBeGreaterThan(before)
  // The same in the list of all friction, and in the close-up.
  await page.getByRole('link', { name: 'All friction' }).click()
  const spots = page.getByRole('region', { name: 'Hot spots' })
  await spots.getByRole('combobox', { name: 'Kind of signal' }).selectOption('slow page')
  await expect.poll(() => sessionsIn(spots)).toBeGreaterThan(before)
  const listed = await sessionsIn(spots)
  await spots.getByRole('row').nth(1).getByRole('button', { name: 'slow page' }).click()
  await expect(
    page.getByRole('region', { name: 'Close-up' }).getByText(`${listed.toLocaleString('en')} sessions`),
  ).toBeVisible()
  await spots.getByRole('link', { name: 'what counts as one' }).click()
  await form.getByRole('button', { name: 'Back to default' }).click()
  await expect.poll(sessions).toBe(before)
})

test('a call to action that most phones never see is found and proposed as a fix', async ({ page }) => {
  await page.goto(`/friction?${ALL}&device=mobile`)
  const few = page.getByRole('region', { name: 'Calls to action that few see' })
  const worst = few.getByRole('row').nth(1)
  await expect(worst).toContainText('“Reserve it”')
  await expect(worst).toContainText(/[\d,]+ of [\d,]+ views/)
  await few.getByRole('button', { name: '“Reserve it”' }).click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp).toContainText(/[\d,]+ sessions/)
  await closeUp.getByRole('button', { name: 'Propose a fix' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Title').fill('Put the button where phones show it')
  await dialog.getByLabel('Because we saw').fill('Whoever does not see the button does not reserve.')
  await dialog.getByRole('button', { name: 'Propose fix' }).click()
  await expect(page.getByRole('heading', { name: 'Put the button where phones show it' })).toBeVisible()
})

test('how far down a page people come stands on the page itself, and who never saw its button opens', async ({
  page,
}) => {
  await page.goto(`/pages?page=An+instrument&${ALL}&device=mobile`)
  await page.getByRole('radio', { name: 'Reach' }).click()
  await expect(page.getByText(/Half of [\d,]+ views come as far as [\d.]+ % of the page/)).toBeVisible()
  const map = page.getByRole('region', { name: /^Reach on / })
  await expect(map.getByText(/50.0 % of [\d,]+ views come as far as here/)).toBeAttached()
  const elements = page.getByRole('complementary', { name: 'Elements' })
  await elements.getByRole('button', { name: '“Reserve it”' }).click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText(/[\d,]+ sessions/)
  await page.getByRole('radio', { name: 'Attention' }).click()
  await expect(page.getByText(/Half of the attention of [\d,]+ views/)).toBeVisible()
})
