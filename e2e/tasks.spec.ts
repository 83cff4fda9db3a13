import type { Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { ALL } from './all-days.ts'

/** The first number in a text such as "1,204 sessions". */
function numberIn(text: string | null): number {
  return Number(/[\d,]+/.exec(text ?? '')![0].replaceAll(',', ''))
}

async function saveSegment(page: Page, name: string): Promise<void> {
  const dialog = page.getByRole('dialog', { name: 'Save segment' })
  await dialog.getByRole('textbox', { name: 'Name' }).fill(name)
  await dialog.getByRole('button', { name: 'Save segment' }).click()
  await expect(dialog).toBeHidden()
}

const step = (page: Page, name: string) =>
  page.getByRole('list', { name: 'Steps' }).getByRole('listitem').filter({ hasText: name }).first()

test('phones lose most at the details form; those who dropped off there are kept as a segment', async ({
  page,
}) => {
  await page.goto(`/funnels?${ALL}`)
  await page.getByRole('button', { name: 'Change how it counts' }).click()
  await page.getByRole('combobox', { name: 'Side by side for each' }).selectOption('device')
  await page.getByRole('button', { name: 'Done' }).click()
  const multiples = page.getByRole('region', { name: 'For each value' }).getByRole('figure')
  await expect(multiples).toHaveCount(3)
  // Of those who reached the details form, how many went on to pay: read from each small funnel.
  const goOn = new Map<string, number>()
  for (const figure of await multiples.all()) {
    const at = async (name: string) => {
      const words = await figure.locator(`[title^="${name}:"]`).getAttribute('title')
      return numberIn(words!.slice(name.length + 1))
    }
    const device = (await figure.locator('figcaption span').first().textContent())!
    goOn.set(device, (await at('Booking: payment')) / (await at('Booking: details')))
  }
  expect(goOn.get('mobile')).toBeLessThan(goOn.get('desktop')!)

  await page.getByRole('button', { name: 'Device', exact: true }).click()
  await page.getByRole('checkbox', { name: 'mobile' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByText('device is mobile')).toBeVisible()
  const details = step(page, 'Booking: details')
  await expect(page.getByRole('region', { name: 'For each value' }).getByRole('figure')).toHaveCount(1)
  const lost = details.getByRole('button', { name: /lost$/ })
  const dropped = numberIn(await lost.textContent())
  await lost.click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp.getByText(`${dropped.toLocaleString('en-GB')} sessions`)).toBeVisible()
  await closeUp.getByRole('button', { name: 'Save segment' }).click()
  await saveSegment(page, 'Phones lost at the details')
  await page.goto(`/segments?${ALL}`)
  const node = page.getByRole('treeitem', { name: /Phones lost at the details/ })
  await expect(node).toContainText(dropped.toLocaleString('en-GB'))

  // Beside everyone else it enters a funnel as a side of its own.
  await page.goto(`/funnels?${ALL}`)
  await page.getByRole('button', { name: 'Beside' }).click()
  await page.getByRole('button', { name: 'Phones lost at the details', exact: true }).click()
  const ledger = page.getByRole('region', { name: 'Side by side' })
  await expect(ledger.getByRole('row', { name: /Booking: payment/ })).toContainText('0.0 %')
  await expect(ledger.getByRole('row', { name: /Booking: payment/ })).toContainText(/p (< )?0\.0/)
})

test('the numbers of a funnel are a table to take along, and those who dropped off a heat map', async ({
  page,
}) => {
  await page.goto(`/funnels?${ALL}`)
  await page.getByText('All numbers as a table').click()
  const table = page.getByRole('table', { name: 'Numbers of the funnel' })
  const details = table.getByRole('row', { name: /Booking: details/ })
  const lost = numberIn(await details.getByRole('cell').nth(4).textContent())
  const coming = page.waitForEvent('download')
  await page.getByRole('button', { name: 'Download CSV' }).click()
  const stream = await (await coming).createReadStream()
  let csv = ''
  for await (const chunk of stream) csv += String(chunk)
  const [head, ...rows] = csv.split('\r\n').map((line) => line.split(','))
  const row = rows.find((cells) => cells[head!.indexOf('name')] === 'Booking: details')!
  expect(Number(row[head!.indexOf('lost')])).toBe(lost)
  expect(Number(row[head!.indexOf('sessions')])).toBe(
    numberIn(await details.getByRole('cell').nth(1).textContent()),
  )

  await details.getByRole('cell').nth(4).getByRole('button').click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp.getByText(`${lost.toLocaleString('en-GB')} sessions`)).toBeVisible()
  await closeUp.getByRole('link', { name: 'Heat map' }).click()
  await expect(page).toHaveURL(/page=Booking%3A\+details/)
  await expect(page.getByRole('complementary', { name: 'Elements' })).toBeVisible()
  // Every one of them has seen the page.
  await expect(page.getByText(new RegExp(`${lost.toLocaleString('en-GB')} sessions`)).first()).toBeVisible()
})

test('a step is missing: it is proposed, added, and takes its part of the leak', async ({ page }) => {
  await page.goto(`/funnels?${ALL}`)
  const night = step(page, 'A night')
  const before = numberIn(await night.getByRole('button', { name: /lost$/ }).textContent())
  await expect(night.getByText(/A step may be missing: 100\.0 % of/)).toContainText('Booking: party')
  await night.getByRole('button', { name: 'Add it as a step' }).click()
  await expect(page.getByText('3. Booking: party')).toBeVisible()
  await expect(page.getByText('4. Booking: details')).toBeVisible()
  const after = step(page, 'A night').getByRole('button', { name: /lost$/ })
  await expect.poll(async () => numberIn(await after.textContent())).toBeLessThan(before)
  // What it lost fewer the new step loses now.
  const party = numberIn(
    await step(page, 'Booking: party').getByRole('button', { name: /lost$/ }).textContent(),
  )
  expect(numberIn(await after.textContent()) + party).toBe(before)
  // Undone with the back button, and kept on reload.
  await page.reload()
  await expect(page.getByText('3. Booking: party')).toBeVisible()
  await page.goBack()
  await expect(page.getByText('3. Booking: details')).toBeVisible()
})

test('where visitors are counted, a step is missing too, on the way through all their sessions', async ({
  page,
}) => {
  await page.goto(`/funnels?${ALL}`)
  const hint = step(page, 'A night').getByText(/A step may be missing/)
  const [sessions] = (await hint.textContent())!.match(/[\d,]+(?= who went on)/)!
  await page.getByRole('button', { name: 'Change how it counts' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Visitors', { exact: true }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByText(/[\d,]+ visitors entered/)).toBeVisible()
  await expect(hint).toContainText('Booking: party')
  const [visitors] = (await hint.textContent())!.match(/[\d,]+(?= who went on)/)!
  expect(numberIn(visitors)).not.toBe(numberIn(sessions))
  // As many as the band says.
  const band = step(page, 'A night').getByRole('button', { name: /went on$/ })
  expect(numberIn(await band.getAttribute('aria-label'))).toBe(numberIn(visitors))
})

test('doubled page views of a tracking defect are cut away, and the shares change', async ({ page }) => {
  await page.goto(`/segments?${ALL}&facet=happens`)
  const table = page.getByRole('table', { name: 'What happens' })
  const home = table.getByRole('row', { name: /^Home/ })
  const times = async () => numberIn(await home.getByRole('cell').nth(3).textContent())
  const sessions = async () => (await home.getByRole('cell').nth(1).textContent())!
  await expect(home).toBeVisible()
  const [timesBefore, sessionsBefore] = [await times(), await sessions()]
  await page.getByRole('button', { name: 'Cut noise away' }).click()
  const dialog = page.getByRole('dialog', { name: 'Cut noise away' })
  await dialog.getByRole('spinbutton', { name: 'Within, seconds' }).fill('1')
  await dialog.getByRole('button', { name: 'Cut' }).click()
  await saveSegment(page, 'Without doubled views')
  await expect(page.getByRole('heading', { name: 'Without doubled views' })).toBeVisible()
  await expect.poll(times).toBeLessThan(timesBefore)
  // Nobody is lost by it: as many sessions saw the page as before.
  expect(await sessions()).toBe(sessionsBefore)

  // Looked through everywhere, it says so in the lens; undo takes it off again.
  await page.getByRole('button', { name: 'Look through it' }).click()
  await expect(page.getByText('repeats of page view within 1.0 s count once').first()).toBeVisible()
  await page.getByRole('button', { name: 'Undo the change of the lens' }).click()
  await expect(page.getByRole('button', { name: /^Remove: repeats/ })).toBeHidden()
  await page.getByRole('button', { name: 'Redo the change of the lens' }).click()
  await expect(page.getByRole('button', { name: /^Remove: repeats/ })).toBeVisible()
})

test('buyers are parted by how many nights they viewed', async ({ page }) => {
  await page.goto(`/segments?${ALL}`)
  await page.getByRole('button', { name: 'Cut by conditions' }).click()
  const builder = page.getByRole('dialog', { name: 'Cut by conditions' })
  await builder.getByRole('option', { name: 'saw a page' }).click()
  await builder.getByRole('checkbox', { name: /^Booked/ }).click()
  await builder.getByRole('button', { name: 'Add filter' }).click()
  await builder.getByRole('button', { name: 'Cut', exact: true }).click()
  await saveSegment(page, 'Buyers')
  const buyers = page.getByRole('treeitem', { name: /^Buyers/ })
  await expect(buyers).toHaveAttribute('aria-selected', 'true')
  await expect(buyers).toContainText(/\d/)
  const all = numberIn((await buyers.textContent())!.replace('Buyers', ''))

  await page.getByRole('button', { name: 'Partition' }).click()
  const dialog = page.getByRole('dialog', { name: 'Partition' })
  await dialog.getByRole('combobox', { name: 'By' }).selectOption('views of a page')
  await dialog.getByRole('combobox', { name: 'Page' }).selectOption('A night')
  await dialog.getByRole('textbox', { name: /Each part begins at/ }).fill('1, 2, 5')
  const parts = dialog.getByRole('table', { name: 'Parts' })
  for (const name of ['none', '1', '2 to 4', '5 or more'])
    await expect(parts.getByRole('row', { name: `views of A night: ${name} ` })).toContainText(
      `of ${all.toLocaleString('en-GB')}`,
    )
  await dialog.getByRole('button', { name: /^Make \d segment/ }).click()
  await expect(dialog).toBeHidden()
  const children = page.getByRole('treeitem', { name: /^views of A night/ })
  await expect(children.first()).toContainText(/night: .+\d/)
  await expect
    .poll(async () => (await children.allTextContents()).some((text) => text.endsWith('…')))
    .toBe(false)
  // Together they hold every buyer once. The name ends where its count begins, so counts are read by role order instead;
  // the tree is drawn anew when the new segments have been counted.
  const sizes = async () => (await children.locator('span:last-child').allTextContents()).map(numberIn)
  await expect.poll(async () => (await sizes()).reduce((sum, n) => sum + n, 0), { timeout: 20_000 }).toBe(all)
  expect((await sizes()).length).toBe(await children.count())
})

test('a segment that was deleted by mistake comes back as it was', async ({ page }) => {
  await page.goto(`/segments?${ALL}`)
  await page.getByRole('button', { name: 'Cut by conditions' }).click()
  await page.getByRole('option', { name: 'visit', exact: true }).click()
  await page.getByRole('radio', { name: /returning/ }).click()
  await page.getByRole('button', { name: 'Add filter' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Cut' }).click()
  await page.getByRole('textbox', { name: 'Name' }).fill('Deleted by mistake')
  await page.getByRole('button', { name: 'Save segment' }).click()
  const node = page.getByRole('treeitem', { name: /Deleted by mistake \d|Deleted by mistake\d/ })
  await expect(node).toBeVisible()
  const held = await node.textContent()
  await page.getByRole('button', { name: 'Rename, delete …' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Delete' }).click()
  await expect(node).toBeHidden()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(node).toHaveText(held!)
})

test('a segment is taken along whole: clickstream, table, visitors', async ({ page, request }) => {
  await page.goto(`/segments?${ALL}`)
  const all = page.getByRole('treeitem', { name: /Everyone in the lens/ })
  await expect(all).toHaveText(/\d$/)
  const sessions = Number((await all.textContent())!.replace(/\D/g, ''))
  const lines = async (name: string) => {
    const link = page.getByRole('link', { name, exact: true })
    const answer = await request.get((await link.getAttribute('href'))!)
    expect(answer.status()).toBe(200)
    return (await answer.text()).trim().split(/\r?\n/)
  }
  // Under its head every session is a row.
  const [head, ...rows] = await lines('CSV')
  expect(head).toMatch(/^id,visitor,started/)
  expect(rows).toHaveLength(sessions)
  const visitors = await lines('visitor ids')
  expect(visitors).toHaveLength(new Set(rows.map((row) => row.split(',')[1])).size)
  expect(Object.keys(JSON.parse((await lines('clickstream'))[0]!) as object)).toEqual(
    expect.arrayContaining(['visitor', 't', 'kind']),
  )
})

test('a stretch of a raw sequence becomes a funnel', async ({ page }) => {
  await page.goto(`/segments?${ALL}&facet=sequences`)
  const line = page
    .getByRole('list', { name: 'Sequences' })
    .getByRole('listitem')
    .filter({
      has: page.getByRole('button', { name: /^Booking: party/ }),
    })
  await expect(line.first()).toBeVisible()
  const marks = line.first().getByRole('button')
  const names = await marks.evaluateAll((all) =>
    all.map((one) => one.getAttribute('aria-label')!.replace(/,.*$/, '')),
  )
  const last = names.indexOf('Booking: party')
  expect(last).toBeGreaterThan(0)
  const [from, to] = [await marks.nth(last - 1).boundingBox(), await marks.nth(last).boundingBox()]
  await page.mouse.move(from!.x + 8, from!.y + 8)
  await page.mouse.down()
  await page.mouse.move(to!.x + 8, to!.y + 8, { steps: 4 })
  await page.mouse.up()
  const stretch = page.getByRole('region', { name: 'Chosen stretch' })
  await expect(stretch).toContainText(`${names[last - 1]} → Booking: party`)
  await stretch.getByRole('radio', { name: 'or later' }).click()
  await stretch.getByRole('button', { name: 'As funnel' }).click()
  await expect(page).toHaveURL(/\/funnels/)
  await expect(page.getByText(`1. ${names[last - 1]}`)).toBeVisible()
  await expect(page.getByText('2. Booking: party')).toBeVisible()
  await expect(page.getByText('edited, not saved')).toBeVisible()
})

test('a funnel in impossible order says what is the matter', async ({ page }) => {
  const steps = ['Booked', 'Campaign: winter'].map((name) => ({ type: 'page', page: name }))
  await page.goto(`/funnels?${ALL}&steps=${encodeURIComponent(JSON.stringify(steps))}`)
  await expect(page.getByRole('alert').filter({ hasText: 'wrong order' })).toContainText(
    'but nobody after “Booked”',
  )
  const unknown = [
    { type: 'page', page: 'Observing nights' },
    { type: 'page', page: 'Never seen' },
  ]
  await page.goto(`/funnels?${ALL}&steps=${encodeURIComponent(JSON.stringify(unknown))}`)
  await expect(
    page.getByRole('alert').filter({ hasText: 'Nobody in the lens did “Never seen”' }),
  ).toBeVisible()
})

test('what comes directly before and after a click adds up to those who clicked', async ({ page }) => {
  await page.goto(`/segments?${ALL}&facet=around`)
  const around = page.getByRole('combobox', { name: 'Around what' })
  await expect(around).toBeVisible()
  const click = around
    .locator('optgroup[label="What is done"] option')
    .filter({ hasText: /^click/ })
    .first()
  await around.selectOption(await click.getAttribute('value'))
  const sessions = numberIn(/\(([\d,]+) session/.exec((await click.textContent())!)![1]!)
  for (const name of ['Directly before', 'Directly after']) {
    const side = page.getByRole('region', { name })
    await expect(side.getByText(`of ${sessions.toLocaleString('en-GB')} sessions that did it`)).toBeVisible()
    const [, ...rows] = await side.getByRole('row').allTextContents()
    const counts = rows.map((text) => numberIn(text.split('·').pop()!))
    const listed = counts.reduce((sum, n) => sum + n, 0)
    // Only the fifteen most frequent ones are listed.
    if (counts.length < 15) expect(listed).toBe(sessions)
    else expect(listed).toBeLessThanOrEqual(sessions)
  }
})

test('a page group says what it is and who uses it; one that is used stays', async ({ page }) => {
  await page.goto(`/labels?${ALL}`)
  const groups = page.getByRole('region', { name: 'Page groups' })
  await groups.getByRole('button', { name: 'Description and owner of A night' }).click()
  await expect(groups.getByText(/^Used by funnel “From the list of nights/)).toBeVisible()
  await groups.getByRole('textbox', { name: 'Description' }).fill('One night with its seats')
  await groups.getByRole('button', { name: 'Remove rule A night' }).click()
  await expect(groups.getByRole('alert')).toContainText(
    '“A night” is used by funnel “From the list of nights',
  )
  await groups.getByRole('button', { name: 'Remove rule Contact: sent' }).click()
  await expect(groups.getByRole('alert')).toBeHidden()
  await groups.getByRole('button', { name: 'Save page groups' }).click()
  await expect(page.getByText('Page groups saved')).toBeVisible()
  await page.reload()
  await groups.getByRole('button', { name: 'Description and owner of A night' }).click()
  await expect(groups.getByRole('textbox', { name: 'Description' })).toHaveValue('One night with its seats')
  // As it was, for whoever looks at these pages next.
  await groups.getByRole('button', { name: 'Add a rule' }).click()
  const last = groups.getByRole('textbox', { name: /^Name of rule/ }).last()
  await last.fill('Contact: sent')
  await groups
    .getByRole('textbox', { name: /^Pattern of rule/ })
    .last()
    .fill('/contact/sent')
  await groups.getByRole('textbox', { name: 'Description' }).fill('')
  await groups.getByRole('button', { name: 'Save page groups' }).click()
  await expect(page.getByText('Page groups saved')).toBeVisible()
})

test('an action is named, counts for the past at once, and cannot be deleted while a funnel needs it', async ({
  page,
}) => {
  await page.goto(`/labels?${ALL}`)
  await page.getByRole('button', { name: 'Name an action' }).click()
  const dialog = page.getByRole('dialog', { name: 'Name an action' })
  await dialog.getByRole('textbox', { name: 'Name', exact: true }).fill('Look at a night')
  await dialog.getByRole('combobox', { name: 'On which page' }).selectOption('Observing nights')
  await expect(dialog.getByRole('status')).toContainText(/Matches [\d,]+ times in [\d,]+ sessions/)
  await dialog.getByRole('button', { name: 'Save action' }).click()
  const row = page.getByRole('row', { name: /Look at a night/ })
  await expect(row).toContainText(/[\d,]+ sessions/)

  await page.goto(`/funnels?${ALL}`)
  await page.getByRole('button', { name: 'Add step' }).click()
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Look at a night/ })
    .click()
  await expect(page.getByText('6. Look at a night')).toBeVisible()
  await page.getByRole('button', { name: 'Save as new' }).click()
  const save = page.getByRole('dialog', { name: 'Save as a new funnel' })
  await save.getByRole('textbox', { name: 'Name' }).fill('With an action')
  await save.getByRole('button', { name: 'Save funnel' }).click()
  await expect(save).toBeHidden()
  await page.goto(`/labels?${ALL}`)
  await expect(row).toContainText('funnel “With an action”')
  await row.getByRole('button', { name: 'Delete' }).click()
  await expect(page.getByRole('alert')).toContainText('is used by funnel “With an action”')
  await expect(row).toBeVisible()
})
