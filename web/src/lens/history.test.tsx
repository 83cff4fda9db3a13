// @vitest-environment happy-dom
import { screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { useLens } from '../app/lens.ts'
import { clearAfterEach, show } from '../test-screen.tsx'
import { useLensHistory } from './history.ts'

clearAfterEach()

function Panel() {
  const { lens, setLens } = useLens()
  const { undo, redo } = useLensHistory()
  return (
    <>
      <output>{lens.devices.join()}</output>
      <button onClick={() => setLens({ ...lens, devices: ['mobile'] })}>phones</button>
      <button onClick={() => setLens({ ...lens, devices: ['tablet'] })}>tablets</button>
      <button disabled={!undo} onClick={undo}>
        undo
      </button>
      <button disabled={!redo} onClick={redo}>
        redo
      </button>
    </>
  )
}

describe('the history of the lens', () => {
  it('goes back and forth, and forgets what was undone once something else is chosen', async () => {
    const { user, inAddress } = show(<Panel />, { sessions: [] }, { query: 'facet=who' })
    const press = (name: string) => user.click(screen.getByRole('button', { name }))
    const off = (name: string) => screen.getByRole<HTMLButtonElement>('button', { name }).disabled
    const devices = () => screen.getByRole('status').textContent
    expect([off('undo'), off('redo')]).toEqual([true, true])
    await press('phones')
    await press('tablets')
    expect(devices()).toBe('tablet')
    await press('undo')
    expect(devices()).toBe('mobile')
    await press('undo')
    expect([devices(), off('undo'), off('redo')]).toEqual(['', true, false])
    await press('redo')
    expect(devices()).toBe('mobile')
    await press('tablets')
    expect([devices(), off('redo')]).toEqual(['tablet', true])
    // What is no part of the lens stays as it is.
    expect(inAddress('facet')).toBe('who')
  })
})
