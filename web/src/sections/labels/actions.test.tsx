// @vitest-environment happy-dom
import type { Action } from '@dust-trail/api'
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, show, visit } from '../../test-screen.tsx'
import { Actions } from './actions.tsx'

clearAfterEach()

const SESSIONS = [
  visit(1, ['/', '#buy', '#buy', '#buy']),
  visit(2, ['/', '#buy', '#later']),
  visit(3, ['/help', '#later']),
]
const BUY: Action = {
  ...{
    id: 1,
    name: 'Buy',
    description: 'The green one',
    owner: 'Ada',
    isSignal: false,
    usedBy: ['funnel “Book”'],
  },
  rule: { kinds: ['click'], element: { is: 'equal', to: '#buy' } },
}
const actions = (known: Action[] = [], query = '', answers = {}) =>
  show(<Actions />, { sessions: SESSIONS, actions: known }, { query, answers })
const saved = (asked: ReturnType<typeof actions>['asked'], method: string) =>
  asked.find((one) => one.method === method && one.path.includes('/actions'))

describe('actions', () => {
  it('say what they are, how many did them, and who needs them; the number opens', async () => {
    const { user, inAddress } = actions([BUY])
    const row = within(await screen.findByRole('row', { name: /Buy · Ada/ }))
    expect(row.getByText('funnel “Book”')).toBeDefined()
    await user.click(await row.findByRole('button', { name: '2 sessions' }))
    expect(inAddress('close')).toEqual({
      type: 'where',
      condition: { type: 'event', event: { action: 'Buy' } },
    })
  })
  it('begin with what is clicked most and has no name yet', async () => {
    const { user } = actions()
    expect(await screen.findByText('No action has a name yet')).toBeDefined()
    await user.click(await screen.findByRole('button', { name: /“buy”/ }))
    expect(screen.getByRole('textbox', { name: 'Name' })).toHaveProperty('value', 'buy')
    expect(await screen.findByText(/Matches 4 times in 2 sessions, 66.7 % of 3 in the lens/)).toBeDefined()
  })
  it('tell while they are written what they would match, and that they match nothing', async () => {
    const { user, asked } = actions()
    await user.click(screen.getByRole('button', { name: 'Name an action' }))
    const dialog = within(screen.getByRole('dialog', { name: 'Name an action' }))
    expect(await dialog.findByText(/Matches 6 times in 3 sessions, 100.0 % of 3 in the lens/)).toBeDefined()
    await user.selectOptions(
      dialog.getByRole('combobox', { name: 'On which page' }),
      await dialog.findByRole('option', { name: '/help' }),
    )
    expect(await dialog.findByText(/Matches 1 time in 1 session, 33.3 % of 3 in the lens/)).toBeDefined()
    await user.type(dialog.getByRole('textbox', { name: 'Whose text contains' }), 'buy')
    expect(await dialog.findByText(/Matches nothing in the lens/)).toBeDefined()
    await user.type(dialog.getByRole('textbox', { name: 'Name' }), 'Never')
    await user.click(dialog.getByRole('button', { name: 'Save action' }))
    await waitFor(() =>
      expect(saved(asked, 'POST')?.body).toMatchObject({
        name: 'Never',
        rule: {
          kinds: ['click'],
          page: { is: 'equal', to: '/help' },
          text: { is: 'containing', to: 'buy' },
        },
      }),
    )
  })
  it('are changed where they are, their rule as it was', async () => {
    const { user, asked } = actions([BUY])
    await user.click(await screen.findByRole('button', { name: 'Change' }))
    const dialog = within(screen.getByRole('dialog', { name: 'Change an action' }))
    await user.clear(dialog.getByRole('textbox', { name: 'Name' }))
    await user.type(dialog.getByRole('textbox', { name: 'Name' }), 'Order')
    await user.click(dialog.getByRole('button', { name: 'Save action' }))
    await waitFor(() =>
      expect(saved(asked, 'PUT')).toMatchObject({
        path: '/sites/made-up/actions/1',
        body: { name: 'Order', description: 'The green one', owner: 'Ada', rule: BUY.rule },
      }),
    )
  })
  it('take over the element that was picked on a recorded page', async () => {
    actions([], 'name=Buy%20it&on=%2F&element=%23buy')
    const dialog = within(await screen.findByRole('dialog', { name: 'Name an action' }))
    expect(dialog.getByRole('textbox', { name: 'Name' })).toHaveProperty('value', 'Buy it')
    expect(await dialog.findByText(/Matches 4 times in 2 sessions/)).toBeDefined()
  })
  it('stay where something needs them, and say what', async () => {
    const refused = Response.json(
      { detail: '“Buy” is used by funnel “Book”.', hint: 'Take it out there first.' },
      { status: 409 },
    )
    const { user } = actions([BUY], '', { '/sites/made-up/actions/1': () => refused })
    await user.click(await screen.findByRole('button', { name: 'Delete' }))
    expect((await screen.findByRole('alert')).textContent).toContain('is used by funnel “Book”')
    expect(screen.getByRole('row', { name: /Buy/ })).toBeDefined()
  })
})
