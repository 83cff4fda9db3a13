// @vitest-environment happy-dom
import type { FunnelOptions, Selection, Step } from '@dust-trail/core'
import {
  answer,
  buildBlock,
  DEFAULT_OPTIONS,
  Dictionaries,
  funnel,
  groupPages,
  groupTargets,
  SessionSet,
} from '@dust-trail/core'
import { screen, within } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { clearAfterEach, pageStep, show, visit } from '../../test-screen.tsx'
import { Strata } from './strata.tsx'

clearAfterEach()

const LONG = `/a-page-with-a-very-long-name-${'x'.repeat(80)}`
const steps = ['/list', '/item', '/done'].map(pageStep)
/** Ten see the list, six an item, three are done; of the lost one left after an error, one went back, the others to places of their own. */
const SESSIONS = [
  ...[1, 2, 3].map((id) => visit(id, ['/list', '/item', '/done'])),
  visit(4, ['/list', '/item', '!']),
  visit(5, ['/list', '/item', '/list']),
  visit(6, ['/list', '/item', LONG]),
  visit(7, ['/list']),
  visit(8, ['/list', '/help']),
  visit(9, ['/list', '#buy', '#buy']),
  visit(10, ['/list']),
]

function counted(rows: typeof SESSIONS, of: Step[], options: FunnelOptions = DEFAULT_OPTIONS) {
  const dictionaries = new Dictionaries()
  const block = buildBlock(rows, dictionaries)
  const names = {
    dictionaries,
    groups: groupPages(dictionaries.page, []),
    families: groupTargets(dictionaries.target),
  }
  return answer(funnel, [{ block, sessions: SessionSet.all(rows.length) }], {
    ...{ steps: of, names, options, timeZone: 'UTC', goal: '' },
    lens: { from: '2026-06-01', to: '2026-06-01', devices: [] },
  })
}

function strata(rows = SESSIONS, of: Step[] = steps) {
  const setSteps = vi.fn<(steps: Step[]) => void>()
  const open = vi.fn<(selection: Selection) => void>()
  const shown = show(
    <Strata
      steps={of}
      setSteps={setSteps}
      options={DEFAULT_OPTIONS}
      result={counted(rows, of)}
      open={open}
    />,
    { sessions: rows },
  )
  const row = (k: number) => within(screen.getAllByRole('listitem')[k]!)
  return { ...shown, setSteps, open, row }
}

describe('the strata of a funnel', () => {
  it('say at each step how many came, of how many, and what became of the others', () => {
    const { row } = strata()
    expect(row(0).getByText('10 sessions')).toBeDefined()
    expect(row(0).getByText('of 10 sessions')).toBeDefined()
    expect(row(1).getByText('6 sessions')).toBeDefined()
    expect(row(1).getAllByText('60.0 %')).toHaveLength(2)
    expect(row(1).getByText('of 10 at step 1')).toBeDefined()
    expect(row(2).getByText('of 6 at step 2')).toBeDefined()
    expect(row(2).getByText('of 10 entered')).toBeDefined()
    expect(row(1).getByText('3 lost')).toBeDefined()
    // One error more among three is no clear difference.
    expect(row(1).getByText('1 left the site')).toBeDefined()
    expect(row(1).getByText('1 went back to /list')).toBeDefined()
    expect(row(0).getByText('2 left the site')).toBeDefined()
    expect(row(0).getByText('1 left after rage or dead clicks')).toBeDefined()
  })
  it('name an error where the lost met it and those who went on did not', () => {
    const many = Array.from({ length: 10 }, (_, k) => [
      visit(2 * k + 1, ['/list', '/item', '!']),
      visit(2 * k + 2, ['/list', '/item', '/done']),
    ]).flat()
    expect(strata(many).row(1).getByText('10 met an error')).toBeDefined()
  })
  it('never leave a part of a band without its number: what lies there adds up to all who came', () => {
    const { row } = strata()
    for (const [k, all] of [10, 6].entries()) {
      const parts = row(k)
        .getByRole('group', { name: `Band of step ${k + 1}` })
        .querySelectorAll('button')
      const sum = [...parts].reduce(
        (total, part) => total + parseInt(part.getAttribute('aria-label')!, 10),
        0,
      )
      expect(sum).toBe(all)
    }
  })
  it('open whatever is pressed', async () => {
    const { row, open, user } = strata()
    await user.click(row(1).getByText('3 lost'))
    expect(open).toHaveBeenLastCalledWith({
      ...{ type: 'funnel', steps, options: DEFAULT_OPTIONS, step: 1, side: 'dropped' },
    })
    await user.click(row(1).getByText('1 went back to /list'))
    expect(open).toHaveBeenLastCalledWith(expect.objectContaining({ leak: 'back', page: '/list' }))
    await user.click(row(0).getByRole('button', { name: '6 sessions went on' }))
    expect(open).toHaveBeenLastCalledWith(expect.objectContaining({ step: 0, side: 'continued' }))
    await user.click(row(2).getByRole('button', { name: '3 sessions reached the last step' }))
    expect(open).toHaveBeenLastCalledWith(expect.objectContaining({ step: 2, side: 'reached' }))
    await user.click(row(0).getByText('1. /list'))
    expect(open).toHaveBeenLastCalledWith(expect.objectContaining({ step: 0, side: 'reached' }))
  })
  it('cut long names short, and say them whole on pointing', () => {
    const { row } = strata()
    const part = row(1).getAllByRole('button', { name: `1 went to ${LONG}` })
    expect(part.map((one) => one.title || one.querySelector('.truncate')?.textContent)).toEqual([
      `1 went to ${LONG}`,
      `1 went to ${LONG}`,
    ])
  })
  it('name the largest reasons, and the others on asking', async () => {
    const many = Array.from({ length: 12 }, (_, k) => visit(k + 1, ['/list', `/other-${k}`]))
    const { row, user } = strata([...many, ...many.map((one) => ({ ...one, id: one.id + 50, visitor: 'w' }))])
    const named = () => row(0).getAllByText(/went to \/other/).length
    expect(named()).toBe(7)
    await user.click(row(0).getByRole('button', { name: '5 more' }))
    expect(named()).toBe(12)
    await user.click(row(0).getByRole('button', { name: 'fewer' }))
    expect(named()).toBe(7)
  })
  it('rename a step by keyboard, or leave it', async () => {
    const { row, user, setSteps } = strata()
    await user.click(row(1).getByRole('button', { name: 'Rename step 2' }))
    await user.keyboard('An item{Enter}')
    expect(setSteps).toHaveBeenLastCalledWith([steps[0], { ...steps[1], name: 'An item' }, steps[2]])
    await user.click(row(0).getByRole('button', { name: 'Rename step 1' }))
    await user.keyboard('Nothing{Escape}')
    expect(setSteps).toHaveBeenCalledTimes(1)
  })
  it('remove a step, but never the last one', async () => {
    const { row, user, setSteps } = strata()
    await user.click(row(1).getByRole('button', { name: 'Remove step 2' }))
    expect(setSteps).toHaveBeenCalledWith([steps[0], steps[2]])
  })
  it('keep a funnel of one step whole', () => {
    const { row } = strata(SESSIONS, steps.slice(0, 1))
    expect(row(0).queryByRole('button', { name: /Remove/ })).toBeNull()
  })
  it('stay calm where nobody is: no band, and no share without a base', () => {
    const { row } = strata([visit(1, ['/elsewhere'])])
    expect(row(0).getByText('0 sessions')).toBeDefined()
    expect(row(0).getByText('0.0 %')).toBeDefined()
    expect(row(1).getByText('of 0 at step 1')).toBeDefined()
    expect(row(1).getAllByText('–').length).toBeGreaterThan(0)
    expect(row(1).getByRole('group', { name: 'Band of step 2' }).querySelectorAll('button')).toHaveLength(0)
  })
})
