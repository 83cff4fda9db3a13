// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { CheckBox } from './check-box.tsx'

afterEach(cleanup)

describe('CheckBox', () => {
  const box = () => screen.getByRole<HTMLInputElement>('checkbox', { name: 'Mine' })
  it('shows at once what was chosen, before what it stands for has followed', () => {
    const onChange = vi.fn()
    const { rerender } = render(
      <CheckBox checked={false} onChange={onChange}>
        Mine
      </CheckBox>,
    )
    fireEvent.click(box())
    expect(box().checked).toBe(true)
    expect(onChange.mock.calls).toEqual([[true]])
    rerender(
      <CheckBox checked onChange={onChange}>
        Mine
      </CheckBox>,
    )
    expect(box().checked).toBe(true)
  })
  it('follows what it stands for where that changes elsewhere, as by going back', () => {
    const { rerender } = render(
      <CheckBox checked onChange={() => undefined}>
        Mine
      </CheckBox>,
    )
    rerender(
      <CheckBox checked={false} onChange={() => undefined}>
        Mine
      </CheckBox>,
    )
    expect(box().checked).toBe(false)
  })
})
