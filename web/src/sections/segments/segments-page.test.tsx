// @vitest-environment happy-dom
import type { Segment } from '@dust-trail/api'
import type { Condition } from '@dust-trail/core'
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, isMobile, show, visit } from '../../test-screen.tsx'
import { SegmentsPage } from './segments-page.tsx'

clearAfterEach()

const mobile = { device: { class: 'mobile' as const, width: 390 } }
const SESSIONS = [
  visit(1, ['/', '/item', '/item', '/done']),
  visit(2, ['/', '/item'], mobile),
  visit(3, ['/', '/item', '/item', '/item', '/item', '/item'], mobile),
  visit(4, ['/help', '!']),
]
const segment = (id: number, parentId: number | null, condition: Condition | null): Segment => ({
  ...{
    id,
    parentId,
    name: `Node ${id}`,
    note: id === 2 ? 'Because they struggle' : '',
    owner: 'Ada',
    createdMs: 0,
  },
  cut: { condition, clean: condition ? [] : [{ type: 'repeats', withinMs: null }] },
})
const saw = (to: string): Condition => ({
  type: 'event',
  event: { kinds: ['page'], page: { is: 'equal', to } },
})
const SEGMENTS = [segment(1, null, saw('/item')), segment(2, 1, isMobile), segment(3, 1, null)]

const page = (query = '', segments = SEGMENTS) =>
  show(<SegmentsPage />, { sessions: SESSIONS, segments }, { query })
type Page = ReturnType<typeof page>
const tree = () =>
  screen.getAllByRole('treeitem').map((one) => [Number(one.getAttribute('aria-level')), one.textContent])
/** What was sent to be saved, in order. */
const saved = ({ asked }: Page) =>
  asked.filter(({ path, method }) => path.endsWith('/segments') && method === 'POST').map(({ body }) => body)

describe('the tree of segments', () => {
  it('hangs each below the one it was cut from, with what of it there is in the lens', async () => {
    page()
    await waitFor(() =>
      expect(tree()).toEqual([
        [1, 'Everyone in the lens4'],
        [2, 'Node 13'],
        [3, 'Node 22'],
        [3, 'Node 33'],
      ]),
    )
  })
  it('opens a node with its share of its parent, its condition in words, and why it was cut', async () => {
    const { user, inAddress } = page()
    await user.click(await screen.findByRole('treeitem', { name: /Node 2/ }))
    expect(inAddress('segment')).toBe('2')
    expect(await screen.findByText('· 66.7 % of 3 in Node 1')).toBeDefined()
    expect(screen.getByText('Sessions: device is mobile')).toBeDefined()
    expect(screen.getByText(/Because they struggle.*Ada/)).toBeDefined()
    await user.click(screen.getByRole('button', { name: 'Look through it' }))
    expect(inAddress('where')).toEqual({ type: 'all', of: [saw('/item'), isMobile] })
  })
  it('takes every node along in three forms, all about the node itself', async () => {
    page('segment=3')
    await screen.findByRole('heading', { name: 'Node 3' })
    const asks = ['clickstream', 'CSV', 'visitor ids'].map((name) => {
      const address = new URL(screen.getByRole('link', { name }).getAttribute('href')!, 'http://x')
      return [address.pathname.split('/').pop(), JSON.parse(address.searchParams.get('question')!) as object]
    })
    const lens = { where: { type: 'all', of: [saw('/item')] }, clean: [{ type: 'repeats', withinMs: null }] }
    for (const [, question] of asks) expect(question).toMatchObject({ lens, selection: { type: 'everyone' } })
    expect(asks.map(([file]) => file)).toEqual(['export.ndjson', 'sessions.csv', 'visitors.txt'])
  })
})

describe('cutting', () => {
  it('by conditions reads as a sentence, counts, and keeps what was chosen', async () => {
    const shown = page('segment=1')
    const { user } = shown
    await user.click(screen.getByRole('button', { name: 'Cut by conditions' }))
    await user.click(screen.getByRole('option', { name: 'device' }))
    await user.click(await screen.findByRole('checkbox', { name: /mobile/ }))
    await user.click(screen.getByRole('button', { name: 'Add filter' }))
    const dialog = screen.getByRole('dialog', { name: 'Cut by conditions' })
    expect(within(dialog).getByText('Out of Node 1: sessions device is mobile')).toBeDefined()
    expect(await within(dialog).findByText('2 sessions, 66.7 % of 3 in Node 1')).toBeDefined()
    await user.click(within(dialog).getByRole('button', { name: 'Cut' }))
    await user.click(screen.getByRole('button', { name: 'Save segment' }))
    await waitFor(() => expect(saved(shown)).toHaveLength(1))
    expect(saved(shown)[0]).toMatchObject({
      ...{ parentId: 1, name: 'device is mobile' },
      cut: { condition: { type: 'text', of: 'device' }, clean: [] },
    })
  })
  it('noise away says what it does before it is done', async () => {
    const shown = page()
    const { user } = shown
    await user.click(screen.getByRole('button', { name: 'Cut noise away' }))
    await user.clear(screen.getByRole('spinbutton', { name: /Within, seconds/ }))
    await user.click(screen.getByRole('button', { name: 'Cut' }))
    await user.click(screen.getByRole('button', { name: 'Save segment' }))
    await waitFor(() => expect(saved(shown)).toHaveLength(1))
    expect(saved(shown)[0]).toMatchObject({
      parentId: null,
      cut: { condition: null, clean: [{ type: 'repeats', withinMs: null, event: { kinds: ['page'] } }] },
    })
  })
  const rows = () =>
    within(screen.getByRole('table', { name: 'Parts' }))
      .getAllByRole('row')
      .slice(1)
      .map((one) => one.textContent)
  it('into parts shows what each would hold, and makes only those with somebody in them', async () => {
    const shown = page()
    const { user } = shown
    await user.click(screen.getByRole('button', { name: 'Partition' }))
    await user.selectOptions(screen.getByRole('combobox', { name: 'By' }), 'views of a page')
    await user.selectOptions(
      await screen.findByRole('combobox', { name: 'Page' }),
      await screen.findByRole('option', { name: '/item' }),
    )
    await waitFor(() =>
      expect(rows()).toEqual([
        'views of /item: none1 · 25.0 % of 4',
        'views of /item: 11 · 25.0 % of 4',
        'views of /item: 2 to 41 · 25.0 % of 4',
        'views of /item: 5 or more1 · 25.0 % of 4',
      ]),
    )
    await user.click(screen.getByRole('button', { name: 'Make 4 segments' }))
    await waitFor(() => expect(saved(shown)).toHaveLength(4))
  })
  it('by a measure of some sessions holds the others as well', async () => {
    const { user } = page()
    await user.click(screen.getByRole('button', { name: 'Partition' }))
    await user.selectOptions(screen.getByRole('combobox', { name: 'By' }), 'viewport width')
    const field = screen.getByRole('textbox')
    await user.clear(field)
    await user.type(field, '400')
    await waitFor(() => expect(rows().at(-1)).toBe('viewport width: not known2 · 50.0 % of 4'))
    expect(rows()[0]).toMatch(/2 · 50.0 % of 4$/)
    await user.type(field, ', many')
    expect(await screen.findByText('Numbers, apart by commas.')).toBeDefined()
  })
})

describe('a node', () => {
  it('changes its name and keeps why it was cut, and whose it is', async () => {
    const shown = page('segment=2')
    const { user, asked } = shown
    await user.click(await screen.findByRole('button', { name: 'Rename, delete …' }))
    const name = screen.getByRole('textbox', { name: 'Name' })
    await user.clear(name)
    await user.type(name, 'Phones')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() =>
      expect(asked.find(({ method }) => method === 'PUT')).toMatchObject({
        path: '/sites/made-up/segments/2',
        body: { name: 'Phones', note: 'Because they struggle', owner: 'Ada' },
      }),
    )
  })
  it('tells what happens in it, how much, and each session event by event', async () => {
    const { user } = page('segment=2&facet=happens')
    expect(await screen.findByText('Of these 2')).toBeDefined()
    const happens = screen.getByRole('table', { name: 'What happens' })
    expect(within(happens).getByText(/Of the other 1 in Node 1/)).toBeDefined()
    await user.click(screen.getByRole('tab', { name: 'How much' }))
    expect(await screen.findByText(/median/)).toBeDefined()
    await user.click(screen.getByRole('tab', { name: 'Who' }))
    expect(await screen.findByText(/Held against the rest of Node 1/)).toBeDefined()
  })
})
