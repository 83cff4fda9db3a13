// @vitest-environment happy-dom
import { screen, within } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, show, visit } from '../../test-screen.tsx'
import { LoopsPage } from './loops-page.tsx'
import { PathsPage } from './paths-page.tsx'
import { PatternsPage } from './patterns-page.tsx'

clearAfterEach()

const sessions = [
  ...[1, 2, 3, 4].map((id) => visit(id, ['/', '/list', '/item', '/done'])),
  visit(5, ['/', '/list', '/item', '/list', '/item']),
  visit(6, ['/', '/help']),
]
const answers = { '/sites/made-up/saved-paths': () => [] }

describe('paths', () => {
  it('say where people went, as routes and step by step, and each place opens those who were there', async () => {
    const { user, inAddress } = show(<PathsPage />, { sessions }, { query: 'start=/', answers })
    expect(
      await screen.findByText('From / 83.3 % of 6 went on to /list; 0.0 % of 6 went nowhere further.'),
    ).toBeDefined()
    const routes = screen.getByRole('region', { name: 'Routes' })
    expect(within(routes).getAllByRole('listitem')[0]!.textContent).toContain('66.7 % 4')
    await user.click(screen.getAllByRole('button', { name: '/help' }).at(-1)!)
    expect(inAddress('close')).toEqual({ type: 'path', page: '/', direction: 'onward', parts: ['/help'] })
  })
  it('follow those who were at a place, in both directions', async () => {
    const { user, inAddress } = show(<PathsPage />, { sessions }, { query: 'start=/', answers })
    await user.click(await screen.findByRole('button', { name: 'Follow, and who they are: /help' }))
    await user.click(await screen.findByRole('button', { name: 'Follow those who were here' }))
    expect(inAddress('pinned')).toEqual({ direction: 'onward', parts: ['/help'] })
    expect(await screen.findByText(/walked by 1 session; the rest fades/)).toBeDefined()
  })
  it('leave a page out as if it had not been viewed, and say so', async () => {
    const { user, inAddress } = show(<PathsPage />, { sessions }, { query: 'start=/', answers })
    const [first] = await screen.findAllByRole('button', { name: 'Follow, and who they are: /list' })
    await user.click(first!)
    await user.click(await screen.findByRole('button', { name: 'Leave this page out' }))
    expect(inAddress('walk')).toMatchObject({ leftOut: [{ page: { is: 'equal', to: '/list' } }] })
    expect(
      await screen.findByText('From / 83.3 % of 6 went on to /item; 0.0 % of 6 went nowhere further.'),
    ).toBeDefined()
    await user.click(screen.getByRole('button', { name: /^Count again: / }))
    expect(inAddress('walk')).toBeNull()
  })
})

describe('loops', () => {
  it('name who goes to and fro, and open them', async () => {
    const { user, inAddress } = show(<LoopsPage />, { sessions })
    expect(
      await screen.findByText(/^1 of 6 sessions went to and fro between \/list and \/item/),
    ).toBeDefined()
    await user.click(within(screen.getByRole('table')).getByRole('button', { name: /⇄/ }))
    expect(inAddress('close')).toMatchObject({ type: 'loop' })
  })
})

describe('patterns', () => {
  it('list what many do in the same order, and open them', async () => {
    const { user, inAddress } = show(<PatternsPage />, { sessions })
    const table = await screen.findByRole('table', { name: 'Patterns' })
    await user.click(within(table).getByRole('button', { name: '/ → /list → /item' }))
    expect(inAddress('close')).toMatchObject({ type: 'pattern', level: 'page', gap: null })
  })
})
