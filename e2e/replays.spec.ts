import { expect, test } from '@playwright/test'
import { ALL } from './all-days.ts'
import { batchOf, isBatch } from './sent.ts'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'

test('what one sees in a replay is found, noted, framed, tagged, and shown to somebody without an account', async ({
  page,
  browser,
}, info) => {
  await page.setViewportSize({ width: 1700, height: 900 })
  const problems: string[] = []
  page.on('pageerror', ({ message }) => problems.push(message))
  await page.goto('/replays')
  const row = page.locator('tr[data-row]').first()
  const session = await row.getAttribute('data-session')
  await row.getByRole('link').first().click()
  const about = page.getByRole('complementary', { name: 'About the session' })
  await expect(page.locator('iframe[title="Recorded page"]')).toBeVisible()

  // In words, and each sentence leads to its moment.
  await about.getByRole('tab', { name: 'Who' }).click()
  const story = about.getByRole('region', { name: 'What happened' })
  await expect(story).toContainText(/smooth|mixed|troubled/)
  await expect(story).toContainText(/Viewed .* page/)
  await expect(story).toContainText(/Left at|Reached/)
  await story.getByRole('button', { name: /^Left at|^Reached/ }).click()
  const time = page.getByRole('slider', { name: 'Time in the session' })
  await expect.poll(async () => Number(await time.inputValue())).toBeGreaterThan(0)

  // The moments are searched; what is not there is said.
  await about.getByRole('tab', { name: 'Moments' }).click()
  const find = about.getByRole('textbox', { name: 'Find among the moments' })
  const all = await about.locator('li').count()
  await find.fill('page')
  await expect.poll(() => about.locator('li').count()).toBeLessThan(all)
  await find.fill('no such thing')
  await expect(about.getByText('Nothing of that')).toBeVisible()

  // A frame around a part of the page, with a note.
  await page.getByRole('button', { name: 'Frame', exact: true }).click()
  const box = (await page.getByRole('img', { name: 'Draw a frame over the page' }).boundingBox())!
  await page.mouse.move(box.x + 20, box.y + 20)
  await page.mouse.down()
  await page.mouse.move(box.x + 80, box.y + 90, { steps: 4 })
  await page.mouse.up()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Note' }).fill('Looks for the next month here')
  await dialog.getByRole('button', { name: 'Keep the note' }).click()
  await about.getByRole('tab', { name: /Notes/ }).click()
  await expect(about.getByRole('button', { name: /Looks for the next month here/ })).toBeVisible()

  // Tagged and watched, and the list says so.
  await page.getByRole('button', { name: 'Add a tag' }).click()
  await page.getByRole('textbox', { name: 'Tag' }).fill('for the team')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Take the tag for the team away' })).toBeVisible()
  await page.getByRole('button', { name: 'Watched' }).click()
  await expect(page.getByRole('button', { name: 'Watched' })).toHaveAttribute('aria-pressed', 'true')

  // The page at this moment, and events as they came.
  await about.getByRole('tab', { name: 'Code' }).click()
  await about.getByRole('button', { name: /^Show as of/ }).click()
  await expect(about.getByLabel('HTML of the page')).toContainText('<body')
  await about.getByRole('radio', { name: 'Events as they came' }).click()
  await about.locator('summary').first().click()
  await expect(about.locator('pre').first()).toContainText('"kind": "page"')

  // A link for somebody without an account.
  await page.getByRole('button', { name: 'Share' }).click()
  const share = page.getByRole('dialog')
  await share.getByRole('button', { name: 'Make a link' }).click()
  const link = await share.getByRole('textbox', { name: 'Link' }).inputValue()
  const stranger = await browser.newContext()
  const seen = await stranger.newPage()
  const said: string[] = []
  seen.on('pageerror', ({ message }) => said.push(message))
  seen.on('console', (message) => message.type() === 'error' && said.push(message.text()))
  await seen.goto(link)
  const recorded = seen.frameLocator('iframe[title="Recorded page"]')
  await expect(recorded.locator('h1').first()).toBeVisible()
  await expect(seen.getByText(/^Moments \d+/)).toBeVisible()
  await seen.getByRole('button', { name: 'Play' }).click()
  await expect(seen.getByRole('button', { name: 'Pause' })).toBeVisible()
  expect(said).toEqual([])
  // A report may have links to clips of the same session: this one was made last.
  const takeBack = share.getByRole('button', { name: 'Take back' })
  const links = await takeBack.count()
  await takeBack.last().click()
  await expect(takeBack).toHaveCount(links - 1)
  const gone = await seen.goto(link)
  expect(gone!.status()).toBe(404)
  // That there is nothing is what was asked.
  said.length = 0
  await stranger.close()
  await page.keyboard.press('Escape')

  // One file that replays from a disk, with no network.
  const download = page.waitForEvent('download')
  await page.getByRole('link', { name: 'File' }).click()
  const file = info.outputPath('session.html')
  await (await download).saveAs(file)
  const offline = await browser.newContext({ offline: true })
  const opened = await offline.newPage()
  const asked: string[] = []
  opened.on('pageerror', ({ message }) => said.push(message))
  opened.on('request', (request) => asked.push(request.url()))
  await opened.goto(`file://${file}`)
  await expect(opened.frameLocator('iframe[title="Recorded page"]').locator('h1').first()).toBeVisible()
  await opened.getByRole('button', { name: 'Play' }).click()
  await expect(opened.getByRole('button', { name: 'Pause' })).toBeVisible()
  expect(said).toEqual([])
  expect(asked.filter((url) => !/^(file|data|about):/.test(url))).toEqual([])
  await offline.close()

  // On along the list, without going back to it.
  await page.getByRole('link', { name: 'Next session of the list' }).click()
  await expect(page.getByText(/^2 of \d+ in the list$/)).toBeVisible()
  await page.getByRole('link', { name: 'All sessions' }).click()
  await expect(page.locator(`tr[data-session="${session}"]`)).toContainText('watched, notes, for the team')

  // Found again by its tag; what one has watched is left out where one wants to go on.
  await page.getByRole('combobox', { name: 'Tag' }).selectOption('for the team')
  await expect(page.locator(`tr[data-session="${session}"]`)).toBeVisible()
  await page.getByRole('checkbox', { name: 'Not watched by me yet' }).check()
  await expect(page.locator(`tr[data-session="${session}"]`)).toHaveCount(0)
  await page.getByRole('button', { name: 'All again' }).click()
  const pages = page.getByRole('textbox', { name: 'Text or element on the page' })
  await pages.fill('such words are on no page')
  await pages.press('Enter')
  await expect(page.getByText(/was on no recorded page of/)).toBeVisible()
  await pages.fill('h1.no-such-class')
  await pages.press('Enter')
  await expect(page.getByText(/“h1.no-such-class” was on no recorded page/)).toBeVisible()
  await pages.fill('li.night')
  await pages.press('Enter')
  await expect(page.getByText(/“li.night” was on pages of [\d,]+ sessions/)).toBeVisible()
  await expect(page.locator('tr[data-session]').first()).toBeVisible()
  expect(problems).toEqual([])
})

test('a page of nine million characters has its replay, what is sent is packed, and what a page says is told', async ({
  page,
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const visitor = await context.newPage()
  let id = ''
  let packed = 0
  visitor.on('request', (request) => {
    if (!isBatch(request)) return
    const batch = batchOf<{ visitor?: string }>(request)
    id = batch.visitor ?? id
    if (request.postDataBuffer()?.[0] === 0x1f) packed++
  })
  await visitor.addInitScript(() =>
    document.addEventListener('DOMContentLoaded', () => {
      const words = 'Nights under the stars, one after the other. '.repeat(20)
      document.querySelector('main')!.innerHTML = Array.from(
        { length: 10_000 },
        (_, k) => `<p id="p${k}">${k}: ${words}</p>`,
      ).join('')
    }),
  )
  await visitor.goto(`${SITE}/help`)
  await expect.poll(() => packed, { timeout: 30_000 }).toBeGreaterThan(3)
  await visitor.evaluate(() => {
    console.error('The calendar of %s is empty', 'May')
    console.log('not for others')
  })
  await visitor.mouse.wheel(0, 400)
  await visitor.waitForTimeout(3000)
  await context.close()

  await page.goto(`/visitors/${id}?${ALL}`)
  await page.getByRole('main').getByRole('link', { name: 'Watch' }).first().click()
  const recorded = page.frameLocator('iframe[title="Recorded page"]')
  await expect(recorded.locator('#p9999')).toHaveText(/^9999: Nights/, { timeout: 30_000 })
  await expect(recorded.locator('main > p')).toHaveCount(10_000)
  await expect(page.getByText(/never arrived/)).toHaveCount(0)
  const about = page.getByRole('complementary', { name: 'About the session' })
  await about.getByRole('tab', { name: 'Console' }).click()
  await expect(about.getByRole('button', { name: /error The calendar of May is empty/ })).toBeVisible()
  await expect(about.getByText('not for others')).toHaveCount(0)
})

test('what could not be sent before the page was left is sent by the next one', async ({ page, browser }) => {
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const visitor = await context.newPage()
  let id = ''
  let isCut = true
  await visitor.route(
    (url) => url.pathname === '/collect' && url.searchParams.has('site'),
    (route) => {
      if (route.request().method() === 'POST') id = batchOf<{ visitor: string }>(route.request()).visitor
      return isCut ? route.abort() : route.continue()
    },
  )
  // Beacons are no more than a try: here they never are.
  await visitor.addInitScript(() => (navigator.sendBeacon = () => false))
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(2500)
  await visitor.evaluate(
    () => (document.querySelector('main')!.innerHTML = '<h1>Only seen on the first page</h1>'),
  )
  await visitor.waitForTimeout(500)
  await visitor.goto(`${SITE}/articles`)
  isCut = false
  await visitor.waitForTimeout(4000)
  expect(await visitor.evaluate(() => sessionStorage.getItem('dust-trail-left'))).toBeNull()
  await context.close()
  await page.goto(`/visitors/${id}?${ALL}`)
  await page.getByRole('main').getByRole('link', { name: 'Watch' }).first().click()
  await page
    .getByRole('button', { name: /page Help/ })
    .first()
    .click()
  const time = page.getByRole('slider', { name: 'Time in the session' })
  await time.focus()
  for (let i = 0; i < 15; i++) await page.keyboard.press('ArrowRight')
  const recorded = page.frameLocator('iframe[title="Recorded page"]')
  await expect
    .poll(
      async () => {
        await page.keyboard.press('ArrowRight')
        return recorded.getByText('Only seen on the first page').count()
      },
      { timeout: 30_000 },
    )
    .toBe(1)
})

test('what the sessions of a list have in common is held against all others of the same days', async ({
  page,
}) => {
  await page.goto('/replays')
  await expect(page.locator('tr[data-row]').first()).toBeVisible()
  await expect(page.getByRole('link', { name: 'What they have in common' })).toHaveCount(0)
  await page.goto('/replays?device=mobile')
  await page.getByRole('link', { name: 'What they have in common' }).click()
  const closeUp = page.getByRole('region', { name: 'Close-up' })
  await expect(closeUp.getByRole('heading', { name: /device is mobile/ })).toBeVisible()
  await expect(closeUp.getByRole('tab', { name: 'Who' })).toHaveAttribute('aria-selected', 'true')
  // All of them have a phone, and hardly anybody else.
  const phones = closeUp.getByRole('row', { name: /Device\s*mobile/ })
  await expect(phones).toContainText('100')
})
