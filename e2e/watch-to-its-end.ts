import type { FrameLocator, Locator, Page } from '@playwright/test'
import { expect } from '@playwright/test'
import { ALL } from './all-days.ts'

/** Opens the replay of a visitor's session and puts it to its end. */
export async function watchToItsEnd(
  page: Page,
  visitor: string,
): Promise<{ time: Locator; recorded: FrameLocator }> {
  await page.goto(`/visitors/${visitor}?${ALL}`)
  await page.getByRole('main').getByRole('link', { name: 'Watch' }).first().click()
  const time = page.getByRole('slider', { name: 'Time in the session' })
  await expect(time).toBeVisible()
  await time.focus()
  await page.keyboard.press('End')
  return { time, recorded: page.frameLocator('iframe[title="Recorded page"]') }
}
