// @vitest-environment happy-dom
import type { Step } from '@dust-trail/core'
import { screen, waitFor } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { clearAfterEach, show, visit } from '../../test-screen.tsx'
import { StepDialog } from './step-dialog.tsx'

clearAfterEach()

const SESSIONS = [
  visit(1, ['/', '/item', '#buy']),
  visit(2, ['/', '#buy']),
  ...Array.from({ length: 40 }, (_, k) => visit(k + 3, [`/page-${String(k).padStart(2, '0')}`])),
]
const ACTION = {
  ...{ id: 1, name: 'Buy', description: 'The green one', owner: '', isSignal: false, usedBy: [] },
  rule: { kinds: ['click' as const], element: { is: 'equal' as const, to: '#buy' } },
}

function dialog() {
  const [choose, close] = [vi.fn<(step: Step) => void>(), vi.fn()]
  const shown = show(<StepDialog title="Add a step" choose={choose} close={close} />, {
    sessions: SESSIONS,
    actions: [ACTION],
    pageGroups: [{ name: 'Home', pattern: '/' }],
  })
  const press = async (name: string | RegExp) => shown.user.click(await screen.findByRole('button', { name }))
  const search = (words: string) => shown.user.type(screen.getByRole('searchbox'), words)
  return { ...shown, choose, press, search }
}

describe('the choice of a step', () => {
  it('takes a page, a click or an action, each with how many sessions have it', async () => {
    const { choose, press } = dialog()
    await press(/^Home.*2 sessions$/)
    expect(choose).toHaveBeenLastCalledWith({ type: 'page', page: 'Home' })
    await press(/^“buy”.*Home.*1 session$/)
    expect(choose).toHaveBeenLastCalledWith({ type: 'click', page: 'Home', selector: '#buy', text: 'buy' })
    await press(/^Buy.*The green one$/)
    expect(choose).toHaveBeenLastCalledWith({ type: 'event', name: 'Buy', event: { action: 'Buy' } })
  })
  it('finds by name, address and text, and says where there is nothing', async () => {
    const { search } = dialog()
    await search('page-39')
    expect(await screen.findByRole('button', { name: /page-39/ })).toBeDefined()
    expect(screen.queryByRole('button', { name: /Home/ })).toBeNull()
    await search('x')
    expect(screen.getByText('Nothing by that name')).toBeDefined()
  })
  it('shows the most used ones, and all on asking', async () => {
    const { press } = dialog()
    await screen.findByRole('button', { name: /^Home/ })
    expect(screen.queryByRole('button', { name: /page-39/ })).toBeNull()
    await press('12 more pages')
    expect(screen.getByRole('button', { name: /page-39/ })).toBeDefined()
  })
  it('takes any of several, named after all of them', async () => {
    const { choose, press, user } = dialog()
    await user.click(screen.getByRole('checkbox', { name: 'Any of several' }))
    await press(/^Home.*sessions$/)
    await press(/^“buy”.*\/item/)
    expect(choose).not.toHaveBeenCalled()
    await press('Use any of these 2')
    expect(choose).toHaveBeenCalledWith({
      type: 'event',
      name: expect.stringMatching(/^Home or .*buy/) as string,
      event: {
        any: [
          { kinds: ['page'], page: { is: 'equal', to: 'Home' } },
          {
            kinds: ['click'],
            page: { is: 'equal', to: '/item' },
            element: { is: 'equal', to: '#buy' },
          },
        ],
      },
    })
  })
  it('takes a condition on anything that happens, counted while it is written', async () => {
    const { choose, press, user } = dialog()
    await user.click(screen.getByRole('checkbox', { name: 'By a condition' }))
    expect(await screen.findByText(/^2 sessions, 4.8 % of 42 in the lens/)).toBeDefined()
    await press(/of which/)
    await user.selectOptions(screen.getByRole('combobox', { name: 'Of it' }), 'text')
    expect(screen.getByText('Something is still missing.')).toBeDefined()
    await user.type(screen.getByRole('combobox', { name: 'Value' }), 'nothing')
    await waitFor(() => expect(screen.getByText(/^0 sessions, 0.0 % of 42/)).toBeDefined())
    await press('Use this')
    expect(choose).toHaveBeenCalledWith({
      type: 'event',
      name: 'click “nothing”',
      event: { kinds: ['click'], text: { is: 'equal', to: 'nothing' } },
    })
  })
})
