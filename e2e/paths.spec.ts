import { expect, test } from '@playwright/test'
import { readFile } from 'node:fs/promises'
import { ALL } from './all-days.ts'

/* Where did they go instead, what is one page worth, and what did this one person do? */

test('from the leak at a night to where the lost went instead, to detours, to a fix', async ({ page }) => {
  const steps = JSON.stringify(
    ['Observing nights', 'A night', 'Booking: party'].map((name) => ({ type: 'page', page: name })),
  )
  await page.goto(`/funnels?${ALL}&steps=${encodeURIComponent(steps)}`)
  await page.getByRole('link', { name: 'Where the lost went instead' }).nth(1).click()
  await expect(page).toHaveURL(/\/paths/)
  await expect(page.getByText(/^From Dropped off at “A night”/)).toBeVisible()
  const columns = page.getByRole('region', { name: 'Paths from it' })
  await columns.getByRole('button', { name: 'Observing nights', exact: true }).first().click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp).toContainText('from where paths begin')
  await expect(closeUp.getByRole('button', { name: /fix/ })).toBeEnabled()
  await page.goto(`/funnels?${ALL}&steps=${encodeURIComponent(steps)}`)
  await page.getByRole('link', { name: 'Ways and detours to the next step' }).nth(1).click()
  await expect(page.getByText('Until', { exact: false }).first()).toBeVisible()
  await expect(page.getByRole('region', { name: 'Routes' })).toContainText('Booking: party')
})

test('back from Booked: a page in the rest opens, and what goes through it is followed', async ({ page }) => {
  await page.goto(
    `/paths?${ALL}&start=Booked&way=back&depth=7&walk=${encodeURIComponent('{"of":"addresses"}')}`,
  )
  const paths = page.getByRole('region', { name: 'Paths to it' })
  const rest = paths.getByRole('button', { name: /^\d+ other places: / }).first()
  await rest.click()
  await expect(
    paths.getByRole('button', { name: 'Group pages …' }).or(paths.getByText('Fewer')).first(),
  ).toBeVisible()
  await page.goto(`/paths?${ALL}&start=Booked&way=back&depth=7`)
  const place = paths.getByRole('listitem').filter({ hasText: 'Search' }).last()
  await place
    .getByRole('button', { name: /^Follow, and who they are: / })
    .first()
    .click()
  await expect(page.getByText('Who they are, by')).toBeVisible()
  await page.getByRole('button', { name: 'Follow those who were here' }).click()
  await expect(paths).toContainText(/Followed: .* walked by [\d,]+ sessions; the rest fades/)
  await paths.getByRole('button', { name: 'As a table' }).click()
  await expect(paths.getByRole('table', { name: 'Steps' })).toBeVisible()
  const saved = page.waitForEvent('download')
  await paths.getByRole('button', { name: 'As a table' }).click()
  await paths.getByRole('button', { name: 'SVG', exact: true }).click()
  expect(await readFile(await (await saved).path(), 'utf8')).toContain('To Booked')
  const routes = page.waitForEvent('download')
  await paths.getByRole('button', { name: 'Routes as SVG' }).click()
  expect(await readFile(await (await routes).path(), 'utf8')).toContain('Routes to Booked')
})

test('the visits of a visitor are walked as one, and a way opens just the visitors that it counts', async ({
  page,
}) => {
  await page.goto(`/paths?${ALL}&start=A%20night`)
  const paths = page.getByRole('region', { name: 'Paths from it' })
  await expect(paths).toContainText(/% of [\d,]+ went on to/)
  const base = async () => Number(/% of ([\d,]+)/.exec((await paths.textContent())!)![1]!.replaceAll(',', ''))
  const sessions = await base()
  await page.getByRole('button', { name: 'pages', exact: true }).click()
  await page.getByRole('radio', { name: 'Visitors' }).click()
  await page.keyboard.press('Escape')
  await expect(paths).toContainText(/% of [\d,]+ visitors went on to/)
  await expect.poll(base).toBeLessThan(sessions)
  const route = paths.getByRole('region', { name: 'Routes' }).getByRole('listitem').first()
  const walked = /% ([\d,]+)/.exec((await route.textContent())!)![1]!
  await route.getByTitle('Open the sessions that walked this route').click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText(walked)
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText('each by one session')
})

test('two periods are held against each other step by step, and one row is followed', async ({ page }) => {
  await page.goto(`/paths/ledger?${ALL}&start=Observing+nights`)
  const table = page.getByRole('table', { name: 'What changed' })
  await expect(table.getByRole('row').nth(1)).toBeVisible()
  await page.getByRole('radio', { name: 'Links' }).click()
  await expect(table.getByRole('columnheader', { name: 'From' })).toBeVisible()
  await table.getByRole('row').nth(1).getByRole('button').first().click()
  await expect(page.getByText(/^Traffic through /)).toBeVisible()
})

test('who goes to and fro between two pages, and what patterns tell those who book from the others', async ({
  page,
}) => {
  await page.goto(`/paths/loops?${ALL}`)
  const table = page.getByRole('table', { name: 'Shuttles and rounds' })
  const row = table
    .getByRole('row')
    .filter({ hasText: 'Membership' })
    .or(table.getByRole('row').nth(1))
    .first()
  const sessions = /([\d,]+) ·/.exec((await row.textContent())!)?.[1]
  await row.getByRole('button').first().click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText(/(To and fro|Round and round)/)
  if (sessions) await expect(page.getByRole('region', { name: 'Close-up' })).toContainText('session')
  await page.goto(`/paths/patterns?${ALL}`)
  await page.getByRole('combobox', { name: 'Told apart from' }).selectOption('goal')
  const patterns = page.getByRole('table', { name: 'Patterns' })
  await expect(patterns.getByRole('columnheader', { name: 'Difference' })).toBeVisible()
  await patterns.getByRole('row').nth(1).getByRole('button').first().click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText('Did in this order')
})

test('a visitor with many visits: what they did, in order, and all of it deleted with a proof', async ({
  page,
}) => {
  await page.goto(`/visitors?${ALL}&order=sessions`)
  const table = page.getByRole('table', { name: 'Visitors' })
  const first = table.getByRole('row').nth(1)
  await expect(first).toBeVisible()
  const name = (await first.getByRole('button').first().textContent())!
  await first.getByRole('button').first().click()
  await expect(page.getByRole('heading', { name })).toBeVisible()
  const visits = page.getByRole('region', { name: `Visits of ${name}` })
  await visits.locator('button[aria-expanded]').first().click()
  await expect(visits.getByRole('list', { name: 'Pages in order' }).first()).toBeVisible()
  await expect(visits.getByText('page', { exact: true }).first()).toBeVisible()
  // One who has come once is deleted, so that the other tasks find the data as they were.
  await page.goto(
    `/visitors?${ALL}&having=${encodeURIComponent('[{"of":"pages","is":{"is":"equal","to":1}}]')}`,
  )
  await table.getByRole('row').nth(1).getByRole('button').first().click()
  await page.getByRole('button', { name: 'Delete this visitor …' }).click()
  await page.getByRole('button', { name: 'Delete for good' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'deleted on' })).toContainText(
    '0 sessions, 0 recordings left',
  )
})

test('a paid campaign that lands on a slow page is named, with what it cost', async ({ page }) => {
  await page.goto(`/pages/landings?${ALL}`)
  await expect(page.getByText(/^Most trouble: /)).toBeVisible()
  const days = new URLSearchParams(ALL)
  await page.getByLabel('CSV with what campaigns cost').setInputFiles({
    name: 'costs.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`campaign,day,cost\ngeminids,${days.get('to')!},120.50\n`),
  })
  await expect(page.getByText('1 line taken, of 1 day.')).toBeVisible()
  const row = page
    .getByRole('table', { name: 'Landing pages' })
    .getByRole('row')
    .filter({ hasText: 'geminids' })
  await expect(row.first()).toContainText('€')
  await row.first().getByRole('button').first().click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toContainText('campaign')
})

test('pages are ranked, drawn against each other, and one opens as a sheet', async ({ page }) => {
  await page.goto(`/pages?${ALL}`)
  await page.getByRole('button', { name: 'Ranking and scatter' }).click()
  await expect(page.getByRole('region', { name: 'Two measures' }).locator('.recharts-surface')).toBeVisible()
  await page.getByRole('radio', { name: 'Titles' }).click()
  await expect(page.getByRole('table', { name: 'Pages' }).getByRole('row').nth(1)).toBeVisible()
  await page.goto(`/pages?${ALL}&page=A+night`)
  const sheet = page.getByRole('region', { name: 'What is known of A night' })
  await sheet.getByRole('button', { name: 'All numbers' }).click()
  await expect(sheet).toContainText('What its readers reach')
  await sheet.getByRole('link', { name: 'Where they went next' }).click()
  await expect(page.getByText(/^From A night /)).toBeVisible()
})
