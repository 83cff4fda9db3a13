// @vitest-environment happy-dom
import type { Condition } from '@dust-trail/core'
import { conditionSchema, SIGNAL_KINDS } from '@dust-trail/core'
import { screen, waitFor } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import { clearAfterEach, isMobile, show, visit } from '../test-screen.tsx'
import { conditionWords } from '../words/sentences.ts'
import { FilterMenu } from './filter-menu.tsx'
import { testFrom } from './number-choice.tsx'

clearAfterEach()

const mobile = { device: { class: 'mobile' as const }, channel: 'Email' as const, returning: true }
const WORLD = {
  sessions: [
    visit(1, ['/', '/item', '/done']),
    visit(2, ['/', '#buy', '#buy', '!'], mobile),
    visit(3, ['/help', '!'], mobile),
    visit(4, ['/']),
  ],
  actions: [
    {
      ...{ id: 1, name: 'Buy', description: '', owner: '', isSignal: false, usedBy: [] },
      rule: { kinds: ['click' as const], element: { is: 'equal' as const, to: '#buy' } },
    },
  ],
  segments: [
    {
      ...{ id: 1, parentId: null, name: 'Phones', note: '', owner: '', createdMs: 0 },
      cut: { condition: isMobile, clean: [] },
    },
  ],
}

function menu(world: Parameters<typeof show>[1] = WORLD) {
  const add = vi.fn<(condition: Condition) => void>()
  const shown = show(<FilterMenu add={add} />, world)
  const choose = (name: string) => shown.user.click(screen.getByRole('option', { name }))
  /** values as they are listed, with the number beside each once it is known */
  const values = async (role: 'checkbox' | 'radio' = 'checkbox') => {
    await waitFor(() => expect(screen.getAllByRole(role)[0]!.textContent).toMatch(/\d$/))
    return screen.getAllByRole(role).map((one) => one.textContent)
  }
  const submit = () => shown.user.click(screen.getByRole('button', { name: 'Add filter' }))
  const added = () => {
    const [condition] = add.mock.lastCall!
    expect(conditionSchema.safeParse(condition).success).toBe(true)
    return conditionWords(condition)
  }
  return { ...shown, add, choose, values, submit, added }
}

describe('the menu of filters', () => {
  it('lists the values there are, most first, each with its sessions; several can be meant, or none of them', async () => {
    const { user, values, submit, added, choose } = menu()
    await choose('channel')
    expect(await values()).toEqual(['Direct2', 'Email2'])
    await user.click(screen.getByRole('checkbox', { name: /Email/ }))
    await submit()
    expect(added()).toBe('channel is Email')
    await user.click(screen.getByRole('checkbox', { name: /Direct/ }))
    await user.selectOptions(screen.getByRole('combobox', { name: 'How' }), 'is not')
    await submit()
    expect(added()).toMatch(/channel is (not|neither) .*Email.*Direct/)
  })
  it('takes what a text is like, in place of values', async () => {
    const { user, submit, added, choose } = menu()
    await choose('landing page')
    await user.selectOptions(screen.getByRole('combobox', { name: 'How' }), 'starting with')
    expect(screen.queryAllByRole('checkbox')).toEqual([])
    await user.type(screen.getByRole('textbox', { name: 'Text' }), '/h')
    await submit()
    expect(added()).toBe('landing page begins with “/h”')
  })
  it('finds among many values by what they hold, and says where there is none', async () => {
    const pages = Array.from({ length: 300 }, (_, k) => visit(k + 1, [`/page-${k}`]))
    const { user, choose, values } = menu({ sessions: pages })
    await choose('saw a page')
    expect(await values()).toHaveLength(300)
    await user.type(screen.getByRole('textbox', { name: 'Search values' }), 'PAGE-29')
    expect(screen.getAllByRole('checkbox')).toHaveLength(11)
    await user.type(screen.getByRole('textbox', { name: 'Search values' }), 'x')
    expect(screen.getByText('Nothing by that name in the lens.')).toBeDefined()
    expect(screen.getByRole('button', { name: 'Add filter' })).toHaveProperty('disabled', true)
  })
  it('counts visits, actions and segments before they are chosen', async () => {
    const { user, choose, values, submit, added } = menu()
    await choose('visit')
    expect(await values('radio')).toEqual(['first2', 'returning2'])
    await choose('did an action')
    expect(await values('radio')).toEqual(['Buy1'])
    await choose('segment')
    expect(await values('radio')).toEqual(['Phones2'])
    await user.click(screen.getByRole('radio', { name: /Phones/ }))
    await submit()
    expect(added()).toContain('device is mobile')
  })
  it('counts signals on the page, at the element and as often as asked', async () => {
    const { user, choose, values, submit, added } = menu()
    await choose('met a signal')
    const counted = await values()
    expect(counted).toHaveLength(SIGNAL_KINDS.length)
    expect(counted.slice(0, 5)).toEqual([
      'rage click0',
      'dead click1',
      'script error2',
      'failed request0',
      'not found0',
    ])
    await user.selectOptions(await screen.findByRole('combobox', { name: 'On which page' }), '/help')
    await waitFor(() =>
      expect(screen.getByRole('checkbox', { name: /script error/ }).textContent).toMatch(/1$/),
    )
    await user.selectOptions(screen.getByRole('combobox', { name: 'On which page' }), '')
    const at = screen.getByRole('combobox', { name: 'At which element' })
    await waitFor(() => expect(at.textContent).toContain('“buy”, 1 session'))
    await user.selectOptions(at, '#buy')
    await user.click(screen.getByRole('checkbox', { name: /dead click/ }))
    await user.clear(screen.getByRole('spinbutton', { name: 'Times' }))
    await user.type(screen.getByRole('spinbutton', { name: 'Times' }), '2')
    await submit()
    expect(added()).toBe('met dead click at an element that is #buy at least 2 times')
  })
  it('says how numbers lie, and how many sessions one would leave', async () => {
    const { user, choose, submit, added } = menu()
    await choose('page views')
    expect(await screen.findByText(/Half of 4 sessions lie between 1 and 1.*least 1, most 3/)).toBeDefined()
    expect(screen.getByText('Type a number.')).toBeDefined()
    await user.type(screen.getByRole('spinbutton', { name: 'Number' }), '2')
    expect(await screen.findByText('1 session, 25.0 % of 4 in the lens')).toBeDefined()
    await user.selectOptions(screen.getByRole('combobox', { name: 'How' }), 'between')
    await user.type(screen.getByRole('spinbutton', { name: 'To' }), '1')
    expect(screen.getByRole('alert').textContent).toContain('below the first')
    expect(screen.getByRole('button', { name: 'Add filter' })).toHaveProperty('disabled', true)
    await user.clear(screen.getByRole('spinbutton', { name: 'To' }))
    await user.type(screen.getByRole('spinbutton', { name: 'To' }), '3')
    await submit()
    expect(added()).toBe('page views 2 to 3')
  })
  it('takes a length in seconds', async () => {
    const { user, choose, submit, add } = menu()
    await choose('length')
    await user.selectOptions(screen.getByRole('combobox', { name: 'How' }), 'less than')
    await user.type(screen.getByRole('spinbutton', { name: 'Number' }), '15')
    await submit()
    expect(add).toHaveBeenCalledWith({
      type: 'number',
      of: 'duration',
      test: { is: 'less than', to: 15_000 },
    })
  })
  it('builds what happened in which order, and counts it while it is built', async () => {
    const { user, choose, submit, added } = menu()
    await choose('did in order')
    expect(screen.getByText('Choose what each step is.')).toBeDefined()
    const option = async (label: string, words: RegExp) => {
      const select = screen.getByRole('combobox', { name: label })
      const found = await waitFor(() => {
        const one = [...select.querySelectorAll('option')].find(({ text }) => words.test(text))
        if (!one) throw new Error(`no ${String(words)}`)
        return one
      })
      await user.selectOptions(select, found)
    }
    await option('Step 1', /^\/$/)
    await option('Step 2', /^\/done$/)
    expect(await screen.findByText('1 session, 25.0 % of 4 in the lens')).toBeDefined()
    await user.selectOptions(screen.getByRole('combobox', { name: 'How step 2 follows' }), 'directly')
    await user.type(screen.getByRole('spinbutton', { name: 'Seconds to step 2' }), '30')
    await submit()
    expect(added()).toBe('did / directly then /done within 30 s')
  })
})

describe('testFrom', () => {
  it.each([
    ['equal', '3', '', { is: 'equal', to: 3 }],
    ['not equal', '0', '', { is: 'not equal', to: 0 }],
    ['more than', '-1.5', '', { is: 'more than', to: -1.5 }],
    ['between', '2', '2', { is: 'between', from: 2, to: 2 }],
    ['between', '2', '1', undefined],
    ['between', '2', '', undefined],
    ['at least', '', '', undefined],
    ['at least', 'many', '', undefined],
  ] as const)('%s %j %j', (is, from, to, test) => {
    expect(testFrom(is, from, to, 1)).toEqual(test)
  })
  it('scales what is typed to what is kept', () => {
    expect(testFrom('between', '1', '1.5', 1000)).toEqual({ is: 'between', from: 1000, to: 1500 })
  })
})
