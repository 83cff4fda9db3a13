import type { SavedFunnel } from '@dust-trail/api'
import type { FunnelOptions, Step } from '@dust-trail/core'
import { DEFAULT_OPTIONS, funnelOptionsSchema, stepsSchema } from '@dust-trail/core'
import { useCallback, useMemo } from 'react'
import { useAddress, useAddressValue } from '../../app/address.ts'

/** What is opened was opened on the funnel as it was. */
const CLEARS = { clears: ['close'] }

/** The funnel on screen: that in the address while it is being edited, else the saved one. */
export function useSteps(saved: SavedFunnel | undefined): {
  steps: Step[]
  options: FunnelOptions
  edited: boolean
  setSteps: (steps: Step[] | null) => void
  setOptions: (options: FunnelOptions) => void
} {
  const [drafted, setSteps] = useAddressValue('steps', stepsSchema, CLEARS)
  const [draftedOptions, setOptions] = useAddressValue('options', funnelOptionsSchema, CLEARS)
  const [, change] = useAddress()
  const steps = useMemo(() => drafted ?? saved?.steps ?? [], [drafted, saved])
  const options = useMemo(() => draftedOptions ?? saved?.options ?? DEFAULT_OPTIONS, [draftedOptions, saved])
  const forgetEdits = useCallback(
    () =>
      change((before) => {
        const changed = new URLSearchParams(before)
        for (const name of ['steps', 'options', 'close']) changed.delete(name)
        return changed
      }),
    [change],
  )
  return {
    steps,
    options,
    edited:
      (drafted !== null && JSON.stringify(drafted) !== JSON.stringify(saved?.steps)) ||
      (draftedOptions !== null &&
        JSON.stringify(draftedOptions) !== JSON.stringify(saved?.options ?? DEFAULT_OPTIONS)),
    setSteps: useCallback(
      (next: Step[] | null) => (next ? setSteps(next) : forgetEdits()),
      [setSteps, forgetEdits],
    ),
    setOptions,
  }
}
