// @vitest-environment happy-dom
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, show, visit } from '../../test-screen.tsx'
import { PageGroups } from './page-groups.tsx'

clearAfterEach()

const SESSIONS = [
  visit(1, ['/', '/nights/mars', '/nights/moon', '/nights']),
  visit(2, ['/nights/mars', '/nights/sun', '/nights/venus', '/help']),
]
const GROUPS = [
  { name: 'A night', pattern: '/nights/:night' },
  { name: 'Nights', pattern: '/nights' },
]

function groups(pageGroups = GROUPS, uses: Record<string, string[]> = {}) {
  const shown = show(
    <PageGroups />,
    { sessions: SESSIONS, pageGroups },
    { answers: { '/sites/made-up/page-groups/uses': () => uses } },
  )
  const rule = (k: number) =>
    within(screen.getByRole('textbox', { name: `Pattern of rule ${k}` }).closest('tr')!)
  /** addresses and views of a rule */
  const caught = (k: number) =>
    rule(k)
      .getAllByRole('cell')
      .slice(3, 5)
      .map((cell) => cell.textContent)
  const rest = () =>
    within(screen.getByText('No rule: each a page of its own').closest('tr')!)
      .getAllByRole('cell')
      .slice(3, 5)
      .map((cell) => cell.textContent)
  return { ...shown, rule, caught, rest }
}

describe('page groups', () => {
  it('say at once what each rule catches of all known addresses, and what none does', async () => {
    const { caught, rest, user } = groups()
    await waitFor(() =>
      expect([caught(1), caught(2), rest()]).toEqual([
        ['4', '5'],
        ['1', '1'],
        ['2', '2'],
      ]),
    )
    const pattern = screen.getByRole('textbox', { name: 'Pattern of rule 2' })
    await user.clear(pattern)
    await user.type(pattern, '/*')
    await waitFor(() =>
      expect([caught(2), rest()]).toEqual([
        ['3', '3'],
        ['0', '0'],
      ]),
    )
  })
  it('are tried in order: the first rule that matches wins', async () => {
    const { caught, user } = groups([GROUPS[0]!, { name: 'All', pattern: '/*' }])
    await waitFor(() =>
      expect([caught(1), caught(2)]).toEqual([
        ['4', '5'],
        ['3', '3'],
      ]),
    )
    await user.click(screen.getByRole('button', { name: 'Move All up' }))
    await waitFor(() =>
      expect([caught(1), caught(2)]).toEqual([
        ['7', '8'],
        ['0', '0'],
      ]),
    )
  })
  it('name the addresses behind a number', async () => {
    const { rule, user } = groups()
    await user.click(await rule(1).findByRole('button', { name: '4' }))
    const addresses = within(screen.getByRole('list', { name: 'Addresses' }))
    expect(addresses.getAllByRole('listitem').map((one) => one.textContent)).toContain(
      '/nights/mars2 sessions',
    )
  })
  it('suggest rules from the shape of addresses', async () => {
    const many = Array.from({ length: 12 }, (_, k) => visit(k + 1, [`/nights/night-${k}`]))
    const { user } = show(<PageGroups />, { sessions: many })
    await user.click(await screen.findByRole('button', { name: /12 addresses/ }))
    expect(screen.getByRole('textbox', { name: 'Name of rule 1' })).toHaveProperty('value', 'nights')
    expect(screen.getByRole('textbox', { name: 'Pattern of rule 1' })).toHaveProperty(
      'value',
      expect.stringMatching(/^\/nights\/:\w+$/),
    )
  })
  it('are saved whole, and only where each has a name and a pattern', async () => {
    const { user, asked } = groups()
    const save = screen.getByRole('button', { name: 'Save page groups' })
    expect(save).toHaveProperty('disabled', true)
    await user.click(screen.getByRole('button', { name: 'Add a rule' }))
    expect(screen.getByText(/Each rule needs a name/)).toBeDefined()
    expect(save).toHaveProperty('disabled', true)
    await user.type(screen.getByRole('textbox', { name: 'Name of rule 3' }), 'Help')
    await user.type(screen.getByRole('textbox', { name: 'Pattern of rule 3' }), 'help')
    await user.click(save)
    await waitFor(() =>
      expect(asked.find(({ method }) => method === 'PUT')?.body).toEqual({
        pageGroups: [...GROUPS, { name: 'Help', pattern: '/help' }],
      }),
    )
  })
  it('stay where something needs them, and say what', async () => {
    const { user } = groups(GROUPS, { Nights: ['funnel “Book”', 'segment “Lookers”'] })
    expect(await screen.findByText('funnel “Book” and 1 more')).toBeDefined()
    await user.click(screen.getByRole('button', { name: 'Remove rule Nights' }))
    expect(screen.getByRole('alert').textContent).toContain('used by funnel “Book”, segment “Lookers”')
    await user.click(screen.getByRole('button', { name: 'Remove rule A night' }))
    expect(screen.queryByRole('alert')).toBeNull()
    expect(screen.queryByRole('textbox', { name: 'Name of rule 2' })).toBeNull()
  })
})
