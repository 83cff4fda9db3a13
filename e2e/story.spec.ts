import type { Frame, Locator, Page } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { textOf } from './sent.ts'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'

/** The recorded page inside the player or the heat map. */
async function recordedFrame(page: Page): Promise<Frame> {
  const handle = await page.locator('iframe[title="Recorded page"]').elementHandle()
  return (await handle.contentFrame())!
}

async function boxesInside(
  frame: Frame,
  selector: string,
): Promise<{ x: number; y: number; w: number; h: number; text: string }[]> {
  return frame.evaluate(
    (wanted) =>
      [...document.querySelectorAll(wanted)].map((element) => {
        const { x, y, width, height } = element.getBoundingClientRect()
        return { x, y, w: width, h: height, text: element.textContent ?? '' }
      }),
    selector,
  )
}

async function clickFast(target: Locator, times: number) {
  for (let i = 0; i < times; i++)
    await target.click({ delay: 10, position: { x: 120, y: 90 }, timeout: 2000 })
}

test('a visitor’s struggle leads the specialist from the funnel to the replay', async ({
  browser,
  baseURL,
}) => {
  const visitorContext = await browser.newContext({ viewport: { width: 1100, height: 700 } })
  const visitor = await visitorContext.newPage()
  await visitor.goto(`${SITE}/`)
  await visitor.getByRole('link', { name: 'See observing nights' }).click()
  await expect(visitor.getByRole('heading', { name: 'Observing nights' })).toBeVisible()
  await visitor.waitForTimeout(600)
  const titles = await boxesInside(visitor.mainFrame(), 'li.night h2 a')
  const picture = visitor.locator('.night-picture').nth(1)
  const [, pictureBox] = await boxesInside(visitor.mainFrame(), '.night-picture')
  await clickFast(picture, 4)
  await visitor.waitForTimeout(1500)
  const visitorId = await visitor.evaluate(() => localStorage.getItem('dust-trail-visitor'))
  await visitorContext.close()

  const page = await (
    await browser.newContext({ viewport: { width: 1440, height: 900 }, baseURL: baseURL! })
  ).newPage()
  await page.goto('/funnels')
  await page
    .getByRole('button', { name: /left after rage or dead clicks/ })
    .first()
    .click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp.getByRole('heading', { name: /Dropped off at “Observing nights”/ })).toBeVisible()
  await closeUp.getByRole('tab', { name: /Watch/ }).click()
  await closeUp.getByRole('radio', { name: 'Newest' }).click()
  // Found among those who dropped off within three seconds of the visitor's leaving.
  const row = closeUp.locator('tr[data-row]').first()
  await expect(row).toContainText('1 rage')
  const session = await row.getAttribute('data-session')
  const found = await page.request.get(`/api/v1/sites/quillmoor/sessions/${session}`)
  expect(((await found.json()) as { summary: { visitor: string } }).summary.visitor).toBe(visitorId)
  await row.getByRole('link').first().click()

  await expect(page.getByRole('button', { name: /rage click/ })).toBeVisible()
  await page.getByRole('button', { name: /rage click/ }).click()
  const frame = await recordedFrame(page)
  await expect.poll(async () => (await boxesInside(frame, 'li.night h2 a')).length).toBe(titles.length)

  // The rebuilt page shows the same titles at the same places, at the visitor's viewport.
  const rebuilt = await boxesInside(frame, 'li.night h2 a')
  rebuilt.forEach((box, i) => {
    expect(box.text).toBe(titles[i]!.text)
    for (const side of ['x', 'y', 'w', 'h'] as const)
      expect(Math.abs(box[side] - titles[i]![side])).toBeLessThanOrEqual(2)
  })
  expect(await frame.evaluate(() => [innerWidth, innerHeight])).toEqual([1100, 700])

  // The rage click is on that picture: the signal names it, and the click lies inside its box.
  const recording = (await (
    await page.request.get(`/api/v1/sites/quillmoor/sessions/${session}/recording`)
  ).json()) as {
    documents: { items: { k: string; x: number; y: number }[] }[]
  }
  const clicks = recording.documents[1]!.items.filter((item) => item.k === 'click')
  expect(clicks).toHaveLength(4)
  for (const { x, y } of clicks) {
    expect(Math.abs(x - (pictureBox!.x + 120))).toBeLessThanOrEqual(2)
    expect(Math.abs(y - (pictureBox!.y + 90))).toBeLessThanOrEqual(2)
  }
  const hit = await frame.evaluate(
    ([x, y]) => document.elementFromPoint(x!, y!)?.closest('li')?.querySelector('h2')?.textContent,
    [clicks[0]!.x, clicks[0]!.y],
  )
  expect(hit).toBe(titles[1]!.text)
})

const SECRETS = ['Zebedee', 'Quince', 'zebedee@', 'afraid']

test('what visitors type never leaves the page; the replay shows that they typed', async ({
  browser,
  page,
}) => {
  const context = await browser.newContext()
  const visitor = await context.newPage()
  const sent: string[] = []
  visitor.on('request', (request) => request.url().includes('/collect') && sent.push(textOf(request)))
  await visitor.goto(`${SITE}/book/rings-of-saturn/details`)
  await visitor.waitForTimeout(400)
  await visitor.getByLabel('Name').pressSequentially('Zebedee Quince')
  await visitor.getByLabel('E-mail').pressSequentially('zebedee@quince.example')
  await visitor.getByLabel('Anything we should know').fill('I am afraid of the dark')
  // Long enough for a batch to go out the ordinary way; what is left goes as a beacon, which the test cannot see leave.
  await visitor.waitForTimeout(1500)
  for (const label of ['Street', 'Town', 'Postcode', 'Car registration'])
    await visitor.getByLabel(label).fill('Quince Lane 4')
  await visitor.getByRole('button', { name: 'Continue' }).click()
  await expect(visitor.getByRole('heading', { name: 'Payment' })).toBeVisible()
  await visitor.waitForTimeout(1500)
  const id = await visitor.evaluate(() => localStorage.getItem('dust-trail-visitor'))
  await context.close()
  expect(sent.length).toBeGreaterThan(1)
  for (const secret of SECRETS) expect(sent.join('\n')).not.toContain(secret)

  await expect.poll(async () => (await newest(page)).visitor).toBe(id)
  const session = await newest(page)
  const stored = await (
    await page.request.get(`/api/v1/sites/quillmoor/sessions/${session.id}/recording`)
  ).text()
  for (const secret of SECRETS) expect(stored).not.toContain(secret)
  const recording = JSON.parse(stored) as { documents: { items: { k: string; length?: number }[] }[] }
  const lengths = recording.documents[0]!.items.filter((item) => item.k === 'input').map(
    (item) => item.length,
  )
  expect(lengths).toContain('Zebedee Quince'.length)
})

async function newest(page: Page): Promise<{ id: string; visitor: string }> {
  const day = new Date().toISOString().slice(0, 10)
  const answer = await page.request.post('/api/v1/sites/quillmoor/sessions', {
    data: { lens: { from: day, to: day }, selection: { type: 'everyone' }, order: 'newest', limit: 1 },
  })
  return ((await answer.json()) as { sessions: { id: string; visitor: string }[] }).sessions[0]!
}

test('steps are added, ordered by keyboard, removed; back undoes; saving keeps them', async ({ page }) => {
  await page.goto('/funnels')
  const steps = page.getByRole('list', { name: 'Steps' }).getByRole('listitem')
  await expect(steps).toHaveCount(5)
  await page.getByRole('button', { name: 'Add step' }).click()
  await page.getByRole('searchbox').fill('book this')
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Book this night/ })
    .first()
    .click()
  await expect(steps).toHaveCount(6)
  await expect(page.getByText('edited, not saved')).toBeVisible()
  // A row grows when its answer comes: only then is there something steady to drag.
  await expect(steps.nth(5)).toContainText('sessions')
  await expect(steps.nth(4)).toContainText('it seems')
  const handle = page.getByRole('button', { name: /Move step 6/ })
  await handle.focus()
  await page.keyboard.press('Space')
  for (let i = 0; i < 3; i++) {
    await page.waitForTimeout(150)
    await page.keyboard.press('ArrowUp')
  }
  await page.waitForTimeout(150)
  await page.keyboard.press('Space')
  await expect(steps.nth(2)).toContainText('Book this night')
  const sessions = async (k: number) =>
    Number(/([\d,]+) sessions/.exec(await steps.nth(k).innerText())![1]!.replace(',', ''))
  await expect.poll(() => sessions(2)).toBeGreaterThan(0)
  expect(await sessions(2)).toBeLessThanOrEqual(await sessions(1))
  await steps.nth(3).hover()
  await page.getByRole('button', { name: 'Remove step 4' }).click()
  await expect(steps).toHaveCount(5)
  await page.goBack()
  await expect(steps).toHaveCount(6)
  await page.getByRole('button', { name: 'Save as new' }).click()
  await page.getByRole('dialog').getByRole('textbox', { name: 'Name' }).fill('With the button')
  await page.getByRole('button', { name: 'Save funnel' }).last().click()
  await expect(page.getByRole('combobox', { name: 'Funnel' })).toContainText('With the button')
  await page.reload()
  await expect(steps).toHaveCount(6)
})

test('the lens is the same on every screen and in the address', async ({ page }) => {
  await page.goto('/funnels')
  await page.getByRole('button', { name: 'Device' }).click()
  await page.getByRole('checkbox', { name: 'mobile' }).click()
  await page.keyboard.press('Escape')
  await expect(page.getByText('device is mobile')).toBeVisible()
  await page.keyboard.press('g')
  await page.keyboard.press('p')
  await expect(page.getByRole('heading', { name: 'Pages' })).toBeVisible()
  await expect(page.getByText('device is mobile')).toBeVisible()
  expect(new URL(page.url()).searchParams.get('device')).toBe('mobile')
  const address = page.url()
  const other = await page.context().newPage()
  await other.goto(address)
  await expect(other.getByText('device is mobile')).toBeVisible()
})

test('from the heat map of dead clicks to a fix with evidence, and a mark that tells whether it still holds', async ({
  page,
}) => {
  await page.goto('/pages')
  await page.getByRole('button', { name: 'Observing nights' }).click()
  await page.getByRole('combobox', { name: 'Which clicks' }).selectOption('dead')
  const elements = page.getByRole('complementary', { name: 'Elements' })
  // Other clicks, other rows: what is pressed while they change places is not what was meant.
  await expect(page).toHaveURL(/clicks=dead/)
  await expect(page.locator('[aria-busy="true"]')).toHaveCount(0)
  await elements.getByRole('button', { name: /Drawing of the night sky/ }).click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(
    closeUp.getByRole('heading', { name: /Dead clicks on “Drawing of the night sky”/ }),
  ).toBeVisible()
  await expect(closeUp.getByText(/who saw Observing nights/)).toBeVisible()

  await closeUp.getByRole('button', { name: 'Propose a fix' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText(/reached “Booked”/).first()).toBeVisible()
  await dialog.getByLabel('Title').fill('Make the picture open the night')
  await dialog.getByLabel('Because we saw').fill('The picture looks like a link, and visitors give up on it.')
  await dialog.getByRole('button', { name: 'Propose fix' }).click()
  await expect(page.getByRole('heading', { name: 'Make the picture open the night' })).toBeVisible()
  await expect(page.getByText('On the day it was written down')).toBeVisible()

  await page.keyboard.press('m')
  await page.getByLabel('Name of the trail').fill('Who gives up on the list?')
  await page.getByLabel('What this shows').fill('One in four presses the picture.')
  await page.getByRole('dialog').getByRole('button', { name: 'Add to trail' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await page.keyboard.press('t')
  const dock = page.getByRole('complementary', { name: 'Trail' })
  await expect(dock.getByText('One in four presses the picture.')).toBeVisible()
  await expect(dock.getByText('✓ holds')).toBeVisible()
  await page.keyboard.press('g')
  await page.keyboard.press('x')
  await expect(page.getByRole('heading', { name: 'Fixes' })).toBeVisible()
  await expect(
    page.getByRole('main').getByRole('link', { name: 'Make the picture open the night' }),
  ).toBeVisible()
  await dock.getByRole('link', { name: 'Make the picture open the night' }).click()
  await expect(page.getByText('The picture looks like a link')).toBeVisible()
})

test('the player plays, skips idle time, and is worked by keyboard', async ({ page }) => {
  await page.goto('/replays')
  await page.locator('tr[data-row]').first().getByRole('link').first().click()
  const time = page.getByRole('slider', { name: 'Time in the session' })
  await expect(page.locator('iframe[title="Recorded page"]')).toBeVisible()
  await page.getByRole('combobox', { name: 'Speed' }).selectOption('8')
  await page.locator('main').focus()
  await page.keyboard.press(' ')
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible()
  await expect.poll(async () => Number(await time.inputValue())).toBeGreaterThan(3000)
  await page.keyboard.press(' ')
  const at = Number(await time.inputValue())
  await page.keyboard.press('.')
  expect(Number(await time.inputValue())).toBeGreaterThanOrEqual(at)
  await page.keyboard.press('[')
  await page.keyboard.press(']')
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible()
})
