import { readFileSync } from 'node:fs'
import { gunzipSync } from 'node:zlib'
import { expect, test } from '@playwright/test'

test('a foreign CSV is dragged in, mapped, imported, and comes out again', async ({ page }) => {
  const rows = Array.from(
    { length: 30 },
    (_, i) => `walker-${i},2026-01-05 10:${String(i).padStart(2, '0')}:00,/trails/${i % 3}`,
  )
  const content = ['who,when,where', ...rows, 'walker-x,never,/'].join('\n')
  const column = (field: string) =>
    page
      .locator('label')
      .filter({ hasText: new RegExp(`^${field}`) })
      .locator('select')
  await page.goto('/setup')
  await page
    .getByLabel('File to import')
    .setInputFiles({ name: 'walks.csv', mimeType: 'text/csv', buffer: Buffer.from(content) })
  await expect(page.getByText('Choose the column for: visitor, time.')).toBeVisible()
  await column('visitor').selectOption('who')
  await column('time').selectOption('when')
  await column('url').selectOption('where')
  await column('every line is a').selectOption('page')
  await page.getByRole('button', { name: 'Import', exact: true }).click()
  const imports = page.getByRole('list', { name: 'Imports' })
  await expect(imports.getByText('walks.csv')).toBeVisible()
  await expect(imports.getByText('30 written, 0 there already, 1 bad')).toBeVisible()
  await expect(imports.getByText(/Line 32: t must be/)).toBeVisible()

  // What came in is looked at like everything else, and goes out as it came.
  await page.goto('/pages?from=2026-01-05&to=2026-01-05')
  await expect(page.getByText(/ views in 30 sessions, /)).toBeVisible()
  await page.goto('/setup')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'quillmoor.ndjson.gz' }).click(),
  ])
  const lines = gunzipSync(readFileSync(await download.path()))
    .toString()
    .split('\n')
    .filter((line) => line.includes('walker-'))
    .map((line) => JSON.parse(line) as object)
  expect(lines).toHaveLength(30)
  expect(lines[0]).toEqual({
    visitor: 'walker-0',
    t: Date.UTC(2026, 0, 5, 10),
    kind: 'page',
    url: '/trails/0',
  })
})
