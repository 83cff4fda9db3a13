import { AxeBuilder } from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { expect, test } from '@playwright/test'

/** Faults of serious or critical weight, named so that a failure can be read; of some rules alone where they are given. The recorded pages are not ours. */
async function faults(page: Page, rules?: string[]): Promise<string[]> {
  const axe = new AxeBuilder({ page }).exclude('iframe[title="Recorded page"]')
  if (rules) axe.withRules(rules)
  const { violations } = await axe.analyze()
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .flatMap(({ id, nodes }) => nodes.map((node) => `${id}: ${node.target.join(' ')}`))
}

const VIEWS: [name: string, path: string, ready: (page: Page) => Promise<void>][] = [
  ['funnel', '/funnels', (page) => expect(page.getByText('went all the way')).toBeVisible()],
  [
    'close-up',
    '/funnels',
    async (page) => {
      await page.getByRole('button', { name: /lost$/ }).nth(1).click()
      await expect(page.getByRole('region', { name: 'Close-up' }).getByRole('table')).toBeVisible()
    },
  ],
  ['pages', '/pages', (page) => expect(page.locator('tr[data-row]').first()).toBeVisible()],
  [
    'heat map',
    '/pages?page=Observing+nights',
    async (page) => {
      await expect(page.locator('iframe[title="Recorded page"]')).toBeVisible()
      await page.waitForTimeout(500)
    },
  ],
  ['paths', '/paths?start=Home', (page) => expect(page.getByText(/^From Home /)).toBeVisible()],
  ['visitors', '/visitors', (page) => expect(page.locator('tr[data-row]').first()).toBeVisible()],
  ['replays', '/replays', (page) => expect(page.locator('tr[data-row]').first()).toBeVisible()],
  [
    'player',
    '/replays',
    async (page) => {
      await page.locator('tr[data-row]').first().getByRole('link').first().click()
      await expect(page.getByRole('slider', { name: 'Time in the session' })).toBeVisible({ timeout: 20_000 })
    },
  ],
  ['friction', '/friction', (page) => expect(page.locator('tr[data-row]').first()).toBeVisible()],
  ['fixes', '/fixes', (page) => expect(page.getByRole('heading', { name: 'Fixes' })).toBeVisible()],
  [
    'funnel side by side',
    `/funnels?vs=before&options=${encodeURIComponent(JSON.stringify({ by: 'device', trend: 'day' }))}`,
    async (page) => {
      await expect(page.getByRole('region', { name: 'Side by side' })).toContainText('cannot tell')
      await expect(page.locator('.recharts-surface').first()).toBeVisible()
    },
  ],
  [
    'filters',
    '/funnels',
    async (page) => {
      await page.getByRole('button', { name: 'Filter' }).click()
      await expect(page.getByRole('checkbox').first()).toBeVisible()
    },
  ],
  ['segments', '/segments', (page) => expect(page.getByRole('cell', { name: 'Chrome' })).toBeVisible()],
  [
    'sequences',
    '/segments?facet=sequences',
    (page) =>
      expect(page.getByRole('list', { name: 'Sequences' }).getByRole('listitem').first()).toBeVisible(),
  ],
  [
    'labels',
    '/labels',
    (page) => expect(page.getByRole('textbox', { name: 'Name of rule 1', exact: true })).toBeVisible(),
  ],
  ['setup', '/setup', (page) => expect(page.getByRole('heading', { name: 'Setup' })).toBeVisible()],
  [
    'commands',
    '/funnels',
    async (page) => {
      await expect(page.getByText('went all the way')).toBeVisible()
      await page.keyboard.press('/')
      await expect(page.getByPlaceholder('Go to a page')).toBeVisible()
    },
  ],
]

// Every rule on every element takes its time, much of it where the machine has other things to do.
test.describe.configure({ timeout: 300_000 })

for (const [name, path, ready] of VIEWS)
  test(`${name} has no serious accessibility fault in light and dark colours`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' })
    await page.goto(path)
    await ready(page)
    await page.evaluate(() => document.fonts.ready)
    await page.waitForTimeout(250)
    expect(await faults(page)).toEqual([])
    await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' })
    await page.waitForTimeout(250)
    // Nothing but the colours has changed.
    expect(await faults(page, ['color-contrast', 'link-in-text-block'])).toEqual([])
  })

test('nothing is cut off at 1024 px width', async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 700 })
  for (const path of ['/funnels', '/pages', '/replays', '/fixes', '/segments', '/labels', '/setup']) {
    await page.goto(path)
    await page.waitForTimeout(500)
    const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)
    expect(over).toBeLessThanOrEqual(0)
  }
})

test('an empty range says so and offers the way out', async ({ page }) => {
  await page.goto('/funnels?from=2020-01-01&to=2020-01-02')
  await expect(page.getByText('No sessions in the lens')).toBeVisible()
  await page.goto('/pages?from=2020-01-01&to=2020-01-02')
  await expect(page.getByText('No pages in the lens')).toBeVisible()
  await page.goto('/pages?page=Home&from=2020-01-01&to=2020-01-02')
  await expect(page.getByText('Nobody in the lens saw this page')).toBeVisible()
  await page.goto('/nothing-here')
  await expect(page.getByText('There is nothing at this address')).toBeVisible()
})
