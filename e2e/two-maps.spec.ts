import { expect, test } from '@playwright/test'
import { ALL } from './all-days.ts'

const variant = (name: string) => ({
  type: 'event',
  event: { kinds: ['variant'], text: { is: 'equal', to: name } },
})

test('two variants of the party step lie side by side as heat maps, and what differs is told', async ({
  page,
  request,
}) => {
  const ids: number[] = []
  for (const name of ['map', 'steps']) {
    const made = await request.post('/api/v1/sites/quillmoor/segments', {
      data: {
        ...{ name: `Party step: ${name}`, note: '', owner: '', parentId: null },
        cut: { condition: variant(name), clean: [] },
      },
    })
    expect(made.ok()).toBe(true)
    ids.push(((await made.json()) as { id: number }).id)
  }
  await page.goto(`/pages?page=Booking%3A+party&${ALL}&device=mobile&segments=${ids.join(',')}`)
  await page
    .getByRole('combobox', { name: 'Maps' })
    .selectOption({ label: 'Party step: map beside Party step: steps' })
  const first = page.getByRole('region', { name: 'Party step: map' })
  const second = page.getByRole('region', { name: 'Party step: steps' })
  for (const side of [first, second]) {
    await expect(side.getByText(/of [\d,]+, [\d,]+ clicks/)).toBeVisible()
    await expect(side.getByRole('region', { name: /^Click heat map of/ })).toBeVisible()
  }
  const differs = page.getByRole('complementary', { name: 'What differs' })
  await expect(differs.getByText(/[\d,]+ of [\d,]+ elements are clicked more or less often/)).toBeVisible()
  // They scroll together.
  const maps = page.getByRole('region', { name: /^Click heat map of/ })
  await maps.first().hover()
  await page.mouse.wheel(0, 300)
  await expect.poll(() => maps.nth(1).evaluate((pane) => pane.scrollTop)).toBeGreaterThan(50)
  await differs.getByRole('row').nth(1).getByRole('button').click()
  await expect(page.getByRole('region', { name: 'Close-up' })).toBeVisible()
  for (const id of ids) await request.delete(`/api/v1/sites/quillmoor/segments/${id}`)
})
