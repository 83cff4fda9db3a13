import type { FrameLocator } from '@playwright/test'
import { expect, test } from '@playwright/test'
import { ALL } from './all-days.ts'

const SITE = process.env['SITE_URL'] ?? 'http://127.0.0.1:4181'

/** What only the browser itself knows of: rules that scripts write, and what lies above the page. */
function build() {
  document.body.innerHTML = `<style id="sheet">.early { color: rgb(1, 1, 1) }</style><h1>Styles</h1>
    ${['early', 'late', 'gone', 'inner', 'adopted', 'later'].map((name) => `<p class="${name}">${name}</p>`).join('')}
    <dialog id="ask"><h2>Really?</h2><button>Yes</button></dialog><div id="tip" popover><h2>By the way</h2></div>
    <button id="go">Go</button>`
  const { sheet } = document.querySelector<HTMLStyleElement>('#sheet')!
  sheet!.insertRule('.gone { color: rgb(2, 2, 2) }', 1)
  const own = new CSSStyleSheet()
  own.replaceSync('.adopted { color: rgb(3, 3, 3) }')
  document.adoptedStyleSheets = [own]
  document.querySelector<HTMLElement>('#go')!.onclick = () => {
    const rules = sheet!.cssRules
    sheet!.insertRule('.late { color: rgb(4, 4, 4) }', rules.length)
    sheet!.insertRule('@media (min-width: 1px) { b { color: red } }', rules.length)
    ;(rules[3] as CSSMediaRule).insertRule('.inner { color: rgb(5, 5, 5) }', 0)
    sheet!.deleteRule(1)
    own.insertRule('.later { color: rgb(6, 6, 6) }', 0)
    document.querySelector<HTMLDialogElement>('#ask')!.showModal()
    document.querySelector<HTMLElement>('#tip')!.showPopover()
  }
}

test('a replay shows rules that scripts wrote, and what lies above the page', async ({ page, browser }) => {
  const context = await browser.newContext({ viewport: { width: 1000, height: 700 } })
  const visitor = await context.newPage()
  let id = ''
  visitor.on('request', (request) => {
    if (request.url().includes('/collect') && request.method() === 'POST')
      id = (JSON.parse(request.postData() ?? '{}') as { visitor: string }).visitor
  })
  await visitor.goto(`${SITE}/help`)
  await visitor.waitForTimeout(1000)
  await visitor.evaluate(build)
  await visitor.waitForTimeout(500)
  await visitor.locator('#go').click()
  await visitor.waitForTimeout(1500)
  await visitor.mouse.move(500, 500)
  await visitor.waitForTimeout(1500)
  await context.close()

  await page.goto(`/visitors/${id}?${ALL}`)
  await page.getByRole('main').getByRole('link', { name: 'Watch' }).first().click()
  const time = page.getByRole('slider', { name: 'Time in the session' })
  await expect(time).toBeVisible()
  await time.focus()
  await page.keyboard.press('End')
  const recorded = page.frameLocator('iframe[title="Recorded page"]')
  await expect(recorded.locator('#ask')).toBeVisible()
  // The keys go on to work the player.
  await expect(time).toBeFocused()
  const colourOf = (of: FrameLocator, name: string) =>
    of.locator(name).evaluate((element) => getComputedStyle(element).color)
  for (const [name, n] of Object.entries({
    '.early': 1,
    '.adopted': 3,
    '.late': 4,
    '.inner': 5,
    '.later': 6,
  }))
    expect([name, await colourOf(recorded, name)]).toEqual([name, `rgb(${n}, ${n}, ${n})`])
  expect(await colourOf(recorded, '.gone')).not.toBe('rgb(2, 2, 2)')
  expect(await recorded.locator('#ask').evaluate((dialog) => dialog.matches(':modal'))).toBe(true)
  expect(await recorded.locator('#tip').evaluate((tip) => tip.matches(':popover-open'))).toBe(true)
})
