// @vitest-environment happy-dom
import type { SavedFunnel } from '@dust-trail/api'
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, pageStep, show, visit } from '../../test-screen.tsx'
import { FunnelsPage } from './funnels-page.tsx'

clearAfterEach()

const SESSIONS = [
  ...[1, 2, 3, 4].map((id) => visit(id, ['/list', '/party', '/done'])),
  ...[5, 6, 7].map((id) => visit(id, ['/list'], { device: { class: 'mobile' } })),
  visit(8, ['/list', '!'], { device: { class: 'mobile' } }),
  visit(9, ['/elsewhere']),
]
const funnel = (more: Partial<SavedFunnel> = {}): SavedFunnel => ({
  ...{ id: 1, name: 'Book', note: 'Ask Ada', owner: 'Ada', isDefault: true, options: null },
  steps: ['/list', '/done'].map(pageStep),
  ...more,
})
const page = (funnels = [funnel()], query = '', sessions = SESSIONS) =>
  show(<FunnelsPage />, { sessions, funnels }, { query })

describe('the funnels page', () => {
  it('answers first: how many went all the way, where most are lost, and of how many', async () => {
    page()
    expect(await screen.findByRole('button', { name: '50.0 % of 8 sessions' })).toBeDefined()
    expect(screen.getByRole('button', { name: '/list: 4 of 8' })).toBeDefined()
    expect(screen.getByText(/of 9 in the lens. Counts sessions that did these steps/)).toBeDefined()
    expect(screen.getByText(/Ask Ada \(Ada\)/)).toBeDefined()
  })
  it('proposes the step that is missing, and puts it where it belongs', async () => {
    const { user, inAddress } = page()
    expect(await screen.findByText(/100.0 % of 4 who went on saw/)).toBeDefined()
    await user.click(screen.getByRole('button', { name: 'Add it as a step' }))
    expect(inAddress('steps')).toEqual(['/list', '/party', '/done'].map(pageStep))
    expect(screen.getByText('edited, not saved')).toBeDefined()
    await user.click(screen.getByRole('button', { name: 'Undo edits' }))
    expect(inAddress('steps')).toBeNull()
  })
  it('says whether a leak looks technical, and against whom', async () => {
    page()
    expect(
      await screen.findByText(
        /25.0 % of 4 lost met something technical here, 0.0 % of 4 who went on, no more/,
      ),
    ).toBeDefined()
  })
  it('opens what is pressed, in the address', async () => {
    const { user, inAddress } = page()
    await user.click(await screen.findByRole('button', { name: '/list: 4 of 8' }))
    expect(inAddress('close')).toMatchObject({ type: 'funnel', step: 0, side: 'dropped' })
  })
  it('explains itself where it comes to nothing', async () => {
    page([funnel({ steps: ['/done', '/list'].map(pageStep) })])
    expect((await screen.findByRole('alert')).textContent).toMatch(/\/list/)
  })
  it('says so where the lens holds nothing', async () => {
    page([funnel()], '', [])
    expect(await screen.findByText('No sessions in the lens')).toBeDefined()
  })
  it('counts in other ways, which the sentence says, and takes them back', async () => {
    const { user, inAddress } = page()
    await user.click(await screen.findByRole('button', { name: 'Change how it counts' }))
    const dialog = within(screen.getByRole('dialog', { name: 'How this funnel counts' }))
    await user.click(dialog.getByRole('radio', { name: 'Visitors' }))
    await user.click(dialog.getByRole('radio', { name: 'With their first page' }))
    await user.click(dialog.getByRole('radio', { name: 'At most' }))
    await user.clear(dialog.getByRole('spinbutton', { name: 'How long' }))
    await user.type(dialog.getByRole('spinbutton', { name: 'How long' }), '2')
    await user.selectOptions(dialog.getByRole('combobox', { name: 'Unit of time' }), 'days')
    expect(inAddress('options')).toMatchObject({ per: 'visitor', entry: 'first', withinMs: 2 * 86_400_000 })
    expect(dialog.getByText(/Counts visitors.*within 2 days/)).toBeDefined()
    await user.selectOptions(
      dialog.getByRole('combobox', { name: 'What may not lie in between' }),
      await dialog.findByRole('option', { name: '/party' }),
    )
    await user.click(dialog.getByRole('button', { name: 'Add' }))
    expect(inAddress('options')).toMatchObject({ without: [{ after: 0 }] })
    await user.click(dialog.getByRole('button', { name: 'Allow /party again' }))
    expect(inAddress('options')).toMatchObject({ without: [] })
  })
  it('sets the values of an attribute side by side, with a test whether they differ', async () => {
    page([
      funnel({
        options: {
          per: 'session',
          between: 'anything',
          entry: 'anywhere',
          withinMs: null,
          without: [],
          by: 'device',
          trend: null,
        },
      }),
    ])
    const parts = within(await screen.findByRole('region', { name: 'For each value' }))
    expect(parts.getByText('4 of 4 who entered')).toBeDefined()
    expect(parts.getByText('0 of 4 who entered')).toBeDefined()
    expect(
      parts.getByText(/Chi-square 8.0 with 1 degree of freedom, p 0.005: more than chance/),
    ).toBeDefined()
  })
  it('holds a segment against the lens step by step, with what can be told of the difference', async () => {
    const segment = {
      ...{ id: 7, parentId: null, name: 'Phones', note: '', owner: '', createdMs: 0 },
      cut: {
        condition: { type: 'text', of: 'device', test: { is: 'equal', to: 'mobile' } } as const,
        clean: [],
      },
    }
    show(
      <FunnelsPage />,
      { sessions: SESSIONS, funnels: [funnel()], segments: [segment] },
      { query: 'segments=7' },
    )
    const ledger = within(await screen.findByRole('region', { name: 'Side by side' }))
    await waitFor(() => expect(ledger.getByText('0.0 % of 4')).toBeDefined())
    expect(ledger.getByText('50.0 % of 8')).toBeDefined()
    expect(ledger.getByText('−50.0 pp')).toBeDefined()
  })
  it('changes what is said about it without touching what is edited, and shows it first where asked', async () => {
    const { user, asked, inAddress } = page(
      [funnel(), funnel({ id: 2, name: 'Other', isDefault: false })],
      'funnel=2',
    )
    await user.click(await screen.findByRole('button', { name: 'Add it as a step' }))
    await user.click(screen.getByRole('button', { name: 'Name, note, owner' }))
    const dialog = within(screen.getByRole('dialog', { name: 'What is said about this funnel' }))
    await user.clear(dialog.getByRole('textbox', { name: 'Name' }))
    await user.type(dialog.getByRole('textbox', { name: 'Name' }), 'Another')
    await user.click(dialog.getByRole('checkbox', { name: 'Show this one first' }))
    await user.click(dialog.getByRole('button', { name: 'Save funnel' }))
    await waitFor(() =>
      expect(asked.find(({ method }) => method === 'PUT')).toMatchObject({
        path: '/sites/made-up/funnels/2',
        body: { name: 'Another', note: 'Ask Ada', isDefault: true, steps: ['/list', '/done'].map(pageStep) },
      }),
    )
    expect(inAddress('steps')).toHaveLength(3)
  })
  it('keeps what was typed where saving fails, and says why', async () => {
    const refused = () =>
      Response.json(
        {
          detail: 'There is a funnel of that name.',
          hint: 'Choose another.',
          code: 'taken',
          title: '',
          status: 409,
          type: '',
        },
        { status: 409 },
      )
    const shown = show(
      <FunnelsPage />,
      { sessions: SESSIONS, funnels: [funnel()] },
      { answers: { '/sites/made-up/funnels': (one) => (one.method === 'POST' ? refused() : [funnel()]) } },
    )
    await shown.user.click(await screen.findByRole('button', { name: 'Save as new' }))
    const name = screen.getByRole('textbox', { name: /Name/ })
    await shown.user.type(name, 'Book')
    await shown.user.click(screen.getByRole('button', { name: 'Save funnel' }))
    expect((await screen.findByRole('alert')).textContent).toBe('There is a funnel of that name.')
    expect(screen.getByRole('textbox', { name: /Name/ })).toHaveProperty('value', 'Book')
  })
})
