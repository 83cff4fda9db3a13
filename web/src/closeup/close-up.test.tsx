// @vitest-environment happy-dom
import type { Segment } from '@dust-trail/api'
import type { Selection } from '@dust-trail/core'
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { clearAfterEach, isMobile, show, visit } from '../test-screen.tsx'
import { CloseUp } from './close-up.tsx'

clearAfterEach()

const mobile = { device: { class: 'mobile' as const } }
const SESSIONS = [
  ...[1, 2, 3].map((id) => visit(id, ['/', '/item', '/done'])),
  visit(4, ['/', '/item', '#buy', '#buy', '!'], mobile),
  visit(5, ['/help', '/item', '/'], mobile),
  visit(6, ['/help'], mobile),
]
const PHONES: Segment = {
  ...{ id: 1, parentId: null, name: 'Phones', note: '', owner: '', createdMs: 0 },
  cut: { condition: isMobile, clean: [] },
}
const ITEM: Selection = { type: 'page', page: '/item' }

function closeUp(selection: Selection = ITEM, query = '') {
  const [close, mark] = [vi.fn(), vi.fn()]
  const shown = show(
    <CloseUp selection={selection} close={close} mark={mark} />,
    { sessions: SESSIONS, segments: [PHONES] },
    {
      query,
      answers: { '/sites/made-up/sessions': () => ({ total: 0, sessions: [], next: null }) },
    },
  )
  const facet = (name: RegExp) => shown.user.click(screen.getByRole('tab', { name }))
  const cells = (row: RegExp) =>
    within(screen.getByRole('row', { name: row }))
      .getAllByRole('cell')
      .map((cell) => cell.textContent)
  return { ...shown, close, mark, facet, cells }
}

describe('the close-up', () => {
  it('says what it is about, and of what it is a share', async () => {
    closeUp()
    expect(screen.getByRole('heading', { name: 'Saw /item' })).toBeDefined()
    expect(await screen.findByText('5 sessions · 83.3 % of 6 in the lens')).toBeDefined()
  })
  it('who: holds each attribute against everyone, and says what cannot be told', async () => {
    const { facet, cells } = closeUp()
    await facet(/Who/)
    expect(await screen.findByText('Of these 5')).toBeDefined()
    const row = cells(/Device mobile/)
    expect(row).toEqual(expect.arrayContaining(['Device', 'mobile', '40.0 % · 2', '50.0 % · 3']))
    expect(row).toContainEqual(expect.stringMatching(/^cannot tell: .* to .* pp$/))
  })
  it('where: comes from and goes to, leaving and entering included, each open to a press', async () => {
    const { facet, user, inAddress } = closeUp()
    await facet(/Went where/)
    const came = within((await screen.findByText('Came from')).parentElement!)
    expect(came.getAllByRole('listitem').map((one) => one.textContent)).toEqual([
      '/80.0 % · 4',
      '/help20.0 % · 1',
    ])
    const next = within(screen.getByText('Went to next').parentElement!)
    expect(next.getAllByRole('listitem').map((one) => one.textContent)).toEqual([
      '/done60.0 % · 3',
      'left the site20.0 % · 1',
      '/20.0 % · 1',
    ])
    await user.click(next.getByRole('button', { name: '/done' }))
    expect(inAddress('close')).toEqual({ type: 'page', page: '/done' })
  })
  it('wrong: tells technical faults from usability, each open to a press', async () => {
    const { cells, user, inAddress } = closeUp()
    await waitFor(() =>
      expect(cells(/script error/)).toEqual(expect.arrayContaining(['technical', '20.0 % · 1'])),
    )
    expect(cells(/dead click/)).toEqual(expect.arrayContaining(['“buy”', '/item', 'usability']))
    await user.click(screen.getByRole('button', { name: 'dead click' }))
    expect(inAddress('close')).toMatchObject({ type: 'signal', kind: 'dead click', selector: '#buy' })
  })
  it('holds these against a segment as well as against everyone, and says which', async () => {
    const { facet, user } = closeUp({ type: 'page', page: '/help' })
    await facet(/Who/)
    expect(await screen.findByText('Of everyone, 6')).toBeDefined()
    await user.selectOptions(await screen.findByRole('combobox', { name: 'Held against' }), 'Phones')
    expect(await screen.findByText('Of Phones and these, 3')).toBeDefined()
    await facet(/Went wrong/)
    expect(screen.queryByText('Of everyone')).toBeNull()
  })
  it('says that nothing went wrong where nothing did', async () => {
    closeUp({ type: 'page', page: '/done' })
    expect(await screen.findByText('Nothing that we detect went wrong')).toBeDefined()
  })
  it('narrows the lens down, and keeps these as a segment with what the lens says', async () => {
    const { user, inAddress, asked } = closeUp(
      ITEM,
      `device=mobile&where=${encodeURIComponent(JSON.stringify({ type: 'visit', is: 'first' }))}`,
    )
    await screen.findByText(/2 sessions/)
    await user.click(screen.getByRole('button', { name: 'Save segment' }))
    const dialog = within(screen.getByRole('dialog', { name: 'Save segment' }))
    await user.click(dialog.getByRole('button', { name: 'Save segment' }))
    await waitFor(() =>
      expect(
        asked.find(({ path, method }) => method === 'POST' && path.endsWith('/segments'))?.body,
      ).toMatchObject({
        name: 'Saw /item',
        cut: {
          condition: {
            type: 'all',
            of: [
              { type: 'text', of: 'device', test: { is: 'one of', to: ['mobile'] } },
              { type: 'visit', is: 'first' },
              { type: 'selected', selection: ITEM },
            ],
          },
        },
      }),
    )
    await user.click(screen.getByRole('button', { name: 'Look through' }))
    expect(inAddress('where')).toEqual({
      type: 'all',
      of: [
        { type: 'visit', is: 'first' },
        { type: 'selected', selection: ITEM },
      ],
    })
  })
  it('takes these sessions along', async () => {
    closeUp()
    const link = await screen.findByRole('link', { name: 'Export' })
    const question = new URL(link.getAttribute('href')!, 'http://x').searchParams.get('question')!
    expect(JSON.parse(question)).toMatchObject({ selection: ITEM, lens: { from: '2026-06-01' } })
  })
})
