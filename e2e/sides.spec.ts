import type { PriceAnswer } from '@dust-trail/core'
import type { Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { ALL } from './all-days.ts'

const NAME = `Visitors on a phone ${Date.now() % 100_000}`

/** The first number in a text such as "1,204 sessions". */
function numberIn(text: string | null): number {
  return Number(/[\d,]+/.exec(text ?? '')![0].replaceAll(',', ''))
}

const row = (page: Page, name: string) =>
  page.getByRole('row').filter({ has: page.getByRole('button', { name, exact: true }) })

const MOBILE = { type: 'text', of: 'device', test: { is: 'equal', to: 'mobile' } }
const LENS = { from: '2020-01-01', to: '2035-12-31', devices: [] }

test('a segment set beside the lens stands on every screen, with its base', async ({ page, request }) => {
  const made = await request.post('/api/v1/sites/quillmoor/segments', {
    data: { name: NAME, note: '', owner: '', parentId: null, cut: { condition: MOBILE, clean: [] } },
  })
  expect(made.ok()).toBe(true)
  const title = `Show what the photo is for ${NAME}`
  const proposed = await request.post('/api/v1/sites/quillmoor/fixes', {
    data: {
      title,
      hypothesis: 'They take the photo for a button.',
      change: 'A caption under the photo.',
      effort: 'hours',
      status: 'idea',
      lens: LENS,
      selection: { type: 'clicks', page: 'A night', which: 'rage' },
      sessionId: null,
    },
  })
  expect(proposed.ok()).toBe(true)
  await page.goto(`/pages?${ALL}`)
  await page.getByRole('button', { name: 'Beside' }).click()
  await page.getByRole('button', { name: NAME, exact: true }).click()
  const lens = page.getByRole('banner', { name: 'Lens' })
  await expect(lens.getByText(/^[\d,]+$/)).toHaveCount(2)
  const [all, phones] = (await lens.getByText(/^[\d,]+$/).allTextContents()).map(numberIn)
  expect(phones).toBeLessThan(all!)

  // Pages: the share of the segment opens exactly these sessions.
  const share = row(page, 'Booking: details').getByRole('button', { name: /% · [\d,]+$/ })
  const seen = numberIn((await share.textContent())!.split('·')[1]!)
  await share.click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp.getByText(`${seen.toLocaleString('en-GB')} sessions`)).toBeVisible()
  await expect(closeUp.getByTitle(NAME)).toBeVisible()
  await closeUp.getByRole('button', { name: 'Close the close-up' }).click()

  // Heat map, funnel, replays: it is there without being chosen again.
  await row(page, 'Booking: details').getByRole('button', { name: 'Booking: details' }).click()
  await expect(page.getByRole('complementary', { name: 'Elements' }).getByText(NAME)).toBeVisible()
  await expect(
    page
      .getByRole('complementary', { name: 'Elements' })
      .getByRole('button', { name: /% · [\d,]+$/ })
      .first(),
  ).toBeVisible()
  const navigation = page.getByRole('navigation')
  await navigation.getByRole('link', { name: 'Funnels' }).click()
  await expect(page.getByRole('region', { name: 'Side by side' })).toContainText(NAME)
  await navigation.getByRole('link', { name: 'Replays' }).click()
  await page.getByLabel('Whose sessions').getByText(NAME).click()
  await expect(page.getByText(`of ${phones!.toLocaleString('en-GB')} sessions`)).toBeVisible()

  // Fixes: what it costs the segment, as it is told when the segment itself is the lens.
  const within = await request.post('/api/v1/sites/quillmoor/fixes/list', {
    data: { lens: { ...LENS, where: MOBILE } },
  })
  const { price } = ((await within.json()) as { fix: { title: string }; price: PriceAnswer }[]).find(
    ({ fix }) => fix.title === title,
  )!
  await navigation.getByRole('link', { name: 'Fixes' }).click()
  await page.getByRole('radio', { name: 'Ranked table' }).click()
  await expect(page.getByRole('columnheader', { name: NAME })).toBeVisible()
  const lost = price.lost!.toFixed(1).replace('-', '−')
  const cell = row(page, title)
    .getByRole('cell')
    .filter({ hasText: `of ${price.met.base.toLocaleString('en-GB')} who met it` })
    .filter({ hasText: lost })
    .first()
  await expect(cell).toContainText(`of ${price.met.base.toLocaleString('en-GB')} who met it`)
  await expect(cell).toContainText(lost)
  await navigation.getByRole('link', { name: 'Replays' }).click()
  await lens.getByRole('button', { name: `No longer beside: ${NAME}` }).click()
  await expect(lens.getByText(NAME)).toBeHidden()
  await expect(page.getByText(`of ${all!.toLocaleString('en-GB')} sessions`)).toBeVisible()
})

test('a step is renamed by keyboard; the counts stay and so does the name', async ({ page }) => {
  await page.goto(`/funnels?${ALL}`)
  const steps = page.getByRole('list', { name: 'Steps' })
  const second = steps.getByRole('listitem').nth(1)
  await expect(second).toContainText('sessions')
  const before = await second.getByText(/^[\d,]+ sessions$/).textContent()
  await second.hover()
  await second.getByRole('button', { name: 'Rename step 2' }).click()
  await page.keyboard.type('Looks closely at one night')
  await page.keyboard.press('Enter')
  await expect(second).toContainText('2. Looks closely at one night')
  await expect(second.getByText(before!)).toBeVisible()
  await page.reload()
  await expect(second).toContainText('2. Looks closely at one night')
  await page.getByRole('button', { name: 'Undo edits' }).click()
  await expect(second).toContainText('2. A night')
})

test('what was done in which order is a filter', async ({ page }) => {
  await page.goto(`/pages?${ALL}`)
  await page.getByRole('button', { name: 'Filter', exact: true }).click()
  await page.getByRole('option', { name: 'did in order' }).click()
  const form = page.getByRole('form', { name: 'In order' })
  await form.getByRole('combobox', { name: 'Step 1' }).selectOption({ label: 'Observing nights' })
  await form
    .getByRole('combobox', { name: 'Step 2', exact: true })
    .selectOption({ label: 'Booking: payment' })
  await expect(form.getByText('Sessions that did Observing nights then Booking: payment')).toBeVisible()
  await form.getByRole('button', { name: 'Add filter' }).click()
  await expect(page.getByText('did Observing nights then Booking: payment')).toBeVisible()
  // Everyone who did has seen both pages.
  await expect(row(page, 'Observing nights')).toContainText(/[\d,]+ · 100\.0 %/)
  await expect(row(page, 'Booking: payment')).toContainText(/[\d,]+ · 100\.0 %/)
})

test('anything that happened is a filter, with how often, and a step', async ({ page }) => {
  await page.goto(`/pages?${ALL}`)
  await page.getByRole('button', { name: 'Filter', exact: true }).click()
  await page.getByRole('option', { name: 'any event' }).click()
  const form = page.getByRole('form', { name: 'Something that happened' })
  await form.getByRole('combobox', { name: 'What happened' }).selectOption({ label: 'page view' })
  await form.getByRole('button', { name: 'of which' }).click()
  await form.getByRole('combobox', { name: 'Value' }).fill('A night')
  const all = numberIn(await form.getByText(/sessions?, [\d.]+ % of/).textContent())
  await form.getByRole('combobox', { name: 'How often' }).selectOption({ label: 'at least so often' })
  await expect(form.getByText('Something is still missing.')).toBeVisible()
  await form.getByRole('spinbutton', { name: 'Times' }).fill('3')
  await expect(form.getByRole('status')).toContainText('in the lens')
  const often = numberIn(await form.getByRole('status').textContent())
  expect(often).toBeLessThan(all)
  await form.getByRole('button', { name: 'Add filter' }).click()
  await expect(page.getByText('saw A night at least 3 times')).toBeVisible()
  await expect(page.getByText(`${often.toLocaleString('en-GB')} sessions`).first()).toBeVisible()

  // The same form makes a step: a click on a button by its text, wherever it is.
  await page.goto(`/funnels?${ALL}`)
  await page.getByRole('button', { name: 'Add step' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('checkbox', { name: 'By a condition' }).check()
  await dialog.getByRole('button', { name: 'of which' }).click()
  await dialog.getByRole('combobox', { name: 'Of it' }).selectOption({ label: 'text of the element' })
  await dialog.getByRole('combobox', { name: 'How', exact: true }).selectOption({ label: 'contains' })
  await dialog.getByRole('combobox', { name: 'Value' }).fill('night')
  await expect(dialog.getByRole('status')).toContainText('in the lens')
  await dialog.getByRole('button', { name: 'Use this' }).click()
  await expect(page.getByText('6. click whose text contains “night”')).toBeVisible()
})

test('what was typed into a dialog is there after a reload, and gone once it is saved', async ({ page }) => {
  await page.goto(`/funnels?${ALL}`)
  await page.getByRole('button', { name: 'Save as new' }).click()
  const dialog = page.getByRole('dialog', { name: 'Save as a new funnel' })
  await dialog.getByRole('textbox', { name: 'Name' }).fill('A funnel half written down')
  await dialog.getByRole('textbox', { name: 'Note' }).fill('Because of the reload')
  await page.reload()
  await expect(dialog.getByRole('textbox', { name: 'Name' })).toHaveValue('A funnel half written down')
  await expect(dialog.getByRole('textbox', { name: 'Note' })).toHaveValue('Because of the reload')
  await dialog.getByRole('button', { name: 'Save funnel' }).click()
  await expect(dialog).toBeHidden()
  await page.getByRole('button', { name: 'Save as new' }).click()
  await expect(dialog.getByRole('textbox', { name: 'Name' })).toHaveValue('')
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
  // What is said about it can be changed; deleted by mistake it comes back.
  const about = page.getByRole('dialog', { name: 'What is said about this funnel' })
  await page.getByRole('button', { name: 'Name, note, owner' }).click()
  await expect(about.getByRole('textbox', { name: 'Note' })).toHaveValue('Because of the reload')
  await about.getByRole('textbox', { name: 'Name' }).fill('A funnel wholly written down')
  await about.getByRole('button', { name: 'Save funnel' }).click()
  await expect(about).toBeHidden()
  const chosen = page.getByRole('combobox', { name: 'Funnel' }).locator('option:checked')
  await expect(chosen).toHaveText('A funnel wholly written down')
  const remove = async () => {
    await page.getByRole('button', { name: 'Name, note, owner' }).click()
    await about.getByRole('button', { name: 'Delete this funnel' }).click()
    await expect(about).toBeHidden()
  }
  await remove()
  await page.getByRole('button', { name: 'Undo', exact: true }).last().click()
  await expect(chosen).toHaveText('A funnel wholly written down')
  await remove()
  await expect(page.getByText('A funnel wholly written down', { exact: true })).toBeHidden()
})
