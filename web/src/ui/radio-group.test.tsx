// @vitest-environment happy-dom
import { cleanup, render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, expect, it } from 'vitest'
import { RadioGroup } from './radio-group.tsx'

afterEach(cleanup)

function Sides() {
  const [side, setSide] = useState('left')
  return (
    <RadioGroup
      label="Side"
      value={side}
      options={[
        ['left', 'Left'],
        ['middle', 'Middle'],
        ['right', 'Right'],
      ]}
      onChange={setSide}
    />
  )
}

it('a choice of one among few is one stop of the Tab key, and arrow keys go round in it', async () => {
  const user = userEvent.setup()
  render(<Sides />)
  const chosen = () => screen.getAllByRole('radio').find((one) => one.getAttribute('aria-checked') === 'true')
  await user.tab()
  expect(document.activeElement).toBe(screen.getByRole('radio', { name: 'Left' }))
  for (const [key, name] of [
    ['ArrowRight', 'Middle'],
    ['ArrowRight', 'Right'],
    ['ArrowRight', 'Left'],
    ['ArrowLeft', 'Right'],
  ] as const) {
    // The next one is chosen while the key is down, as it is under a finger.
    await user.keyboard(`{${key}>}`)
    await waitFor(() => expect(chosen()?.textContent).toBe(name))
    await user.keyboard(`{/${key}}`)
  }
  await user.tab()
  expect(document.activeElement).toBe(document.body)
})
