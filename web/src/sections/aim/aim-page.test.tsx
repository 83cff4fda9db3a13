// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { clearAfterEach, DAY, show, visit } from '../../test-screen.tsx'
import { AimPage } from './aim-page.tsx'

clearAfterEach()

// Charts measure themselves, which nothing does here.
vi.stubGlobal(
  'ResizeObserver',
  class {
    observe() {}
    unobserve() {}
    disconnect() {}
  },
)

const DAY_MS = 86_400_000
const earlier = (id: number, steps: readonly string[]) => {
  const row = visit(id, steps)
  return { ...row, lines: row.lines.map((line) => ({ ...line, t: line.t - DAY_MS })) }
}
const day = (ms: number) => new Date(ms).toISOString().slice(0, 10)
const aim = (sessions: ReturnType<typeof visit>[]) =>
  show(
    <AimPage />,
    { sessions },
    {
      query: `from=${day(DAY)}&to=${day(DAY)}`,
      answers: { '/sites/made-up/trails': () => [], '/sites/made-up/fixes/list': () => [] },
    },
  )

describe('aim', () => {
  it('says first how many reach the goal against the days before, with bases, and opens them', async () => {
    const { user, inAddress } = aim([
      ...Array.from({ length: 4 }, (_, k) => visit(k + 1, ['/', '/done'])),
      ...Array.from({ length: 6 }, (_, k) => visit(k + 10, ['/'])),
      ...Array.from({ length: 20 }, (_, k) => earlier(100 + k, ['/'])),
    ])
    const result = await screen.findByRole('region', { name: 'Main result' })
    await waitFor(() => expect(result.textContent).toContain('40.0 % of 10 sessions: 4'))
    expect(result.textContent).toContain('+40.0 pp against')
    expect(result.textContent).toContain('more than noise')
    const measures = screen.getByRole('region', { name: 'What feeds it' })
    expect(measures.textContent).toContain('−50.0 %')
    await user.click(within(result).getByRole('button', { name: '40.0 %' }))
    expect(inAddress('close')).toMatchObject({
      side: 'reached',
      steps: [{ name: '/done', event: { kinds: ['page'], page: { to: '/done' } } }],
    })
  })
  it('names what is new or worse, and where visitors land who no longer reach the goal', async () => {
    const { user, inAddress } = aim([
      ...Array.from({ length: 40 }, (_, k) => visit(k + 1, ['/item', '#buy'])),
      ...Array.from({ length: 40 }, (_, k) => earlier(100 + k, ['/item', '/done'])),
    ])
    const worse = await screen.findByRole('region', { name: 'New or worse' })
    await waitFor(() => expect(worse.textContent).toContain('1 signal and 1 landing page'))
    expect(worse.textContent).toContain('dead click: “buy”, /item')
    await user.click(within(worse).getByRole('button', { name: 'Landing on /item' }))
    expect(inAddress('close')).toMatchObject({
      condition: { type: 'text', of: 'entry page', test: { is: 'equal', to: '/item' } },
    })
  })
  it('leads from the first data to the first fix, step by step, until it is skipped', async () => {
    const { user } = aim([visit(1, ['/'])])
    const guide = await screen.findByRole('region', { name: 'Guided start' })
    // Data has arrived and a goal is named: pages have no names yet.
    expect(guide.textContent).toContain('step 3 of 5')
    expect(within(guide).getByRole('link', { name: '3. Name your pages' })).toBeDefined()
    await user.click(within(guide).getByRole('button', { name: 'Skip' }))
    expect(screen.queryByRole('region', { name: 'Guided start' })).toBeNull()
  })
})
