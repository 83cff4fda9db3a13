// @vitest-environment happy-dom
import { act, screen } from '@testing-library/react'
import { describe, expect, it } from 'vitest'
import { clearAfterEach, show } from '../test-screen.tsx'
import { useDraft, useForget } from './draft.ts'

clearAfterEach()

function Field({ of, initial = '' }: { of: string; initial?: string }) {
  const [value, setValue] = useDraft(`${of}/name`, initial)
  const forget = useForget()
  return (
    <>
      <input aria-label={of} value={value} onChange={(event) => setValue(event.target.value)} />
      <button onClick={() => forget(`${of}/`)}>forget {of}</button>
    </>
  )
}

const valueOf = (label: string) => screen.getByRole<HTMLInputElement>('textbox', { name: label })

describe('a draft', () => {
  it('is there again after a reload, each thing its own', async () => {
    const before = show(<Field of="a" />)
    await before.user.type(valueOf('a'), 'half a na')
    before.unmount()
    show(
      <>
        <Field of="a" />
        <Field of="b" />
      </>,
    )
    expect([valueOf('a').value, valueOf('b').value]).toEqual(['half a na', ''])
  })
  it('leaves nothing where it is as it was at first, or was forgotten', async () => {
    const { user } = show(<Field of="a" initial="x" />)
    await user.type(valueOf('a'), 'y')
    expect(sessionStorage).toHaveLength(1)
    await user.type(valueOf('a'), '{Backspace}')
    expect(sessionStorage).toHaveLength(0)
    await user.type(valueOf('a'), 'z')
    await user.click(screen.getByRole('button', { name: 'forget a' }))
    expect(sessionStorage).toHaveLength(0)
  })
  it('begins anew where what was kept cannot be read', () => {
    act(() => sessionStorage.setItem('draft:made-up/a/name', '{broken'))
    show(<Field of="a" initial="x" />)
    expect(valueOf('a').value).toBe('x')
  })
})
