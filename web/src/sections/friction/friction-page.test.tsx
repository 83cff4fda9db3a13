// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, DAY, show, visit } from '../../test-screen.tsx'
import { FrictionPage } from './friction-page.tsx'

clearAfterEach()

const DAY_MS = 86_400_000
/** The same visit on the day before. */
const earlier = (id: number, steps: readonly string[]) => {
  const row = visit(id, steps)
  return { ...row, lines: row.lines.map((line) => ({ ...line, t: line.t - DAY_MS })) }
}
const day = (ms: number) => new Date(ms).toISOString().slice(0, 10)
const query = `from=${day(DAY)}&to=${day(DAY)}`
const calm = (from: number, n: number) => Array.from({ length: n }, (_, k) => visit(from + k, ['/', '/item']))
const page = (sessions: ReturnType<typeof visit>[]) => show(<FrictionPage />, { sessions }, { query })

describe('the friction of the lens', () => {
  it('says first what is new or worse than in the days before, and opens whom it met', async () => {
    const { user, inAddress } = page([
      ...Array.from({ length: 12 }, (_, k) => visit(k + 1, ['/', '#buy', '/item'])),
      ...calm(20, 8),
      ...Array.from({ length: 20 }, (_, k) => earlier(100 + k, ['/', '/item'])),
    ])
    const worse = await screen.findByRole('region', { name: 'New or worse' })
    await waitFor(() => expect(within(worse).getByText('1 spot', { exact: false })).toBeDefined())
    expect(within(worse).getByText('12 of 20, 60.0 %')).toBeDefined()
    expect(within(worse).getByText(/^new since/)).toBeDefined()
    await user.click(within(worse).getByRole('button', { name: /dead click/ }))
    expect(inAddress('close')).toMatchObject({
      type: 'signal',
      kind: 'dead click',
      page: '/',
      selector: '#buy',
    })
  })

  it('lists every spot with its base, by kind, and names what is not measured', async () => {
    const { user } = page([visit(1, ['/', '#buy', '!']), visit(2, ['/', '!']), ...calm(10, 2)])
    const spots = await screen.findByRole('region', { name: 'Hot spots' })
    const rows = () => within(within(spots).getByRole('table')).getAllByRole('row').slice(1)
    expect(rows()).toHaveLength(2)
    expect(rows()[0]!.textContent).toContain('script error')
    expect(rows()[0]!.textContent).toContain('50.0 %')
    expect(spots.textContent).toMatch(/Not measured.*slow page/)
    await user.selectOptions(within(spots).getByRole('combobox', { name: 'Kind of signal' }), 'dead click')
    expect(rows()).toHaveLength(1)
    expect(spots.textContent).toContain('nothing happened that a person could see or hear')
  })

  it('says where there is nothing to compare with, and where nothing went wrong', async () => {
    page(calm(1, 2))
    expect(await screen.findByText(/no sessions in these days/)).toBeDefined()
    expect(screen.getByText('Nothing that we detect went wrong')).toBeDefined()
  })
})
