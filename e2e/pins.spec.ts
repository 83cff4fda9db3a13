import { readFile } from 'node:fs/promises'
import type { Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { ALL } from './all-days.ts'

/** A name of its own for each run, so that runs on the same database do not meet. */
const RUN = String(Date.now())
const SEGMENT = `phones ${RUN}`
const [HURTS, GOES] = [`Where it hurts ${RUN}`, `How it goes ${RUN}`]

const dialog = (page: Page) => page.getByRole('dialog', { name: 'Add to trail' })

async function keep(page: Page, where: string | RegExp, kept: string | RegExp, sentence: string) {
  await page.keyboard.press('m')
  const form = dialog(page)
  const pick = async (label: string, words: string | RegExp) => {
    const option = form.getByLabel(label).locator('option').filter({ hasText: words })
    await form.getByLabel(label).selectOption({ label: (await option.textContent())! })
  }
  await pick('Where to', where)
  await pick('What is kept', kept)
  await form.getByLabel('What this shows').fill(sentence)
  return form
}

test('a table and a trend are pinned, arranged by keyboard and looked at through a segment', async ({
  page,
  request,
}) => {
  const condition = { type: 'text', of: 'device', test: { is: 'equal', to: 'mobile' } }
  const made = await request.post('/api/v1/sites/quillmoor/segments', {
    data: { name: SEGMENT, note: '', owner: '', parentId: null, cut: { condition, clean: [] } },
  })
  expect(made.ok()).toBe(true)
  await page.goto(`/friction?${ALL}`)
  await expect(page.getByRole('region', { name: 'Hot spots' })).toBeVisible()
  await (
    await keep(page, 'for all', 'Hot spots', HURTS)
  )
    .getByRole('button', { name: 'Add to trail' })
    .click()
  await expect(dialog(page)).toHaveCount(0)
  await page.goto(`/funnels?${ALL}`)
  await expect(page.getByText(/% of [\d,]+/).first()).toBeVisible()
  await (
    await keep(page, 'for all', 'over the days', GOES)
  )
    .getByRole('button', { name: 'Add to trail' })
    .click()
  await expect(dialog(page)).toHaveCount(0)

  await page.goto(`/aim?${ALL}`)
  const pins = page.getByRole('region', { name: 'Pinned' })
  const cards = pins.getByRole('listitem')
  const table = cards.filter({ hasText: HURTS })
  await expect(table.getByRole('columnheader', { name: 'Met it' })).toBeVisible()
  await expect(table.getByRole('row')).toHaveCount(11)
  const trend = cards.filter({ hasText: GOES })
  await expect(trend.getByRole('img', { name: /: [\d.]+ % of/ })).toBeVisible()
  const titles = () => cards.getByRole('link').allTextContents()
  const before = await titles()
  const at = before.indexOf(GOES)
  await trend.getByRole('button', { name: 'Move this pin' }).focus()
  await page.keyboard.press('Space')
  await page.waitForTimeout(300)
  await page.keyboard.press(at > 0 ? 'ArrowLeft' : 'ArrowRight')
  await page.waitForTimeout(300)
  await page.keyboard.press('Space')
  await expect.poll(titles).not.toEqual(before)
  await page.reload()
  await expect(table).toBeVisible()
  expect(await titles()).not.toEqual(before)

  // Through a segment the table and the number are those of the segment, with what they are without it.
  await pins.getByLabel('Looked at through').selectOption({ label: `through ${SEGMENT}` })
  await expect(table).toContainText('without the segment')
  await expect(trend).toContainText(/[\d.]+ % of [\d,]+ sessions · without the segment [\d.]+ %/)
  for (const card of [table, trend]) {
    await card.hover()
    await card.getByRole('button', { name: 'Unpin' }).click()
    await expect(card).toHaveCount(0)
  }
})

const TABLES = [
  ['/friction/strain?', 'Strain by device', 'For whom'],
  ['/friction?', 'Calls to action that few see', 'Clicked where seen'],
  ['/paths?', 'Step by step', 'Were here'],
  ['/paths/patterns?', 'Patterns', 'In this order'],
  ['/replays?', 'Most telling sessions', 'Why watch it'],
  ['/pages?page=%2Fnights&map=reach&', 'What was seen', 'Views that came here'],
  ['/segments?facet=happens&', 'What happens', 'Of these'],
] as const

test('tables of every section can be pinned, those of a part of a screen as well', async ({ page }) => {
  for (const [k, [address, , head]] of TABLES.entries()) {
    await page.goto(`${address}${ALL}`)
    // The table is registered with the screen, its number once it is answered.
    await expect(
      page
        .getByRole('main')
        .getByText(/[\d,]+ (session|view)/)
        .first(),
    ).toBeVisible()
    const form = await keep(page, 'for all', TABLES[k]![1], `${head} ${RUN}`)
    await form.getByRole('button', { name: 'Add to trail' }).click()
    await expect(dialog(page)).toHaveCount(0)
  }
  await page.goto(`/aim?${ALL}`)
  const cards = page.getByRole('region', { name: 'Pinned' }).getByRole('listitem')
  for (const [, , head] of TABLES) {
    const card = cards.filter({ hasText: `${head} ${RUN}` })
    await expect(card.getByRole('columnheader', { name: head })).toBeVisible()
    expect(await card.getByRole('row').count()).toBeGreaterThan(2)
    await card.hover()
    await card.getByRole('button', { name: 'Unpin' }).click()
    await expect(card).toHaveCount(0)
  }
})

test('marks stand under headings, and the report shows them with their tables and replays', async ({
  page,
  request,
}) => {
  await page.goto(`/friction?${ALL}`)
  await expect(page.getByRole('region', { name: 'Hot spots' })).toBeVisible()
  await page.keyboard.press('t')
  const dock = page.getByRole('complementary', { name: 'Trail' })
  await dock.getByRole('button', { name: 'New trail' }).click()
  await dock.getByLabel('Name of the new trail').fill('Two headings')
  await dock.getByRole('button', { name: 'Start trail' }).click()
  await expect(dock).toContainText('No marks yet')
  for (const sentence of ['The spots', 'Everybody']) {
    const form = await keep(
      page,
      'Two headings',
      sentence === 'The spots' ? 'Hot spots' : /^The number$/,
      sentence,
    )
    await form.getByRole('button', { name: 'Add to trail' }).click()
    await expect(dock.getByText(sentence)).toBeVisible()
  }
  const mark = dock.getByRole('listitem').filter({ hasText: 'The spots' })
  await expect(mark.getByRole('table')).toBeVisible()
  await mark.hover()
  await mark.getByRole('button', { name: 'Put this mark under a heading' }).click()
  await mark.getByLabel('Heading of this mark').fill('Where it hurts')
  await mark.getByRole('button', { name: 'Set' }).click()
  await expect(dock.getByRole('region', { name: 'Where it hurts' })).toContainText('The spots')

  await dock.getByRole('checkbox', { name: 'replays open without an account' }).check()
  const download = page.waitForEvent('download')
  await dock.getByRole('combobox', { name: 'Save as a report' }).selectOption('html')
  const text = await readFile(await (await download).path(), 'utf8')
  expect(text).toContain('<h1>Where it hurts</h1>')
  expect(text).toContain('Hot spots, as it was then')
  const link = /<a href="([^"]+)">Replay, [^<]*opens without an account for 30 days/.exec(text)?.[1]
  expect(link).toBeDefined()
  // Whoever has the report sees that session, and nothing else.
  await page.goto(link!.replaceAll('&#38;', '&'))
  await expect(page.getByRole('button', { name: /^(Play|Pause)/ })).toBeVisible({ timeout: 30_000 })
  const trails = (await (await request.get('/api/v1/sites/quillmoor/trails')).json()) as {
    id: number
    name: string
  }[]
  for (const { id, name } of trails)
    if (name === 'Two headings') await request.delete(`/api/v1/sites/quillmoor/trails/${id}`)
})
