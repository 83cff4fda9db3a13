import type { SavedFunnel } from '@dust-trail/api'
import type { FunnelOptions, Step } from '@dust-trail/core'
import { DEFAULT_OPTIONS, funnelOptionsSchema, stepsSchema } from '@dust-trail/core'
import { useCallback, useMemo } from 'react'
import { useAddress } from '../../app/address.ts'

/** The funnel on screen: that in the address while it is being edited, else the saved one. */
export function useSteps(saved: SavedFunnel | undefined): {
  steps: Step[]
  options: FunnelOptions
  edited: boolean
  setSteps: (steps: Step[] | null) => void
  setOptions: (options: FunnelOptions) => void
} {
  const [parameters, setParameters] = useAddress()
  const text = parameters.get('steps')
  const optionsText = parameters.get('options')
  const drafted = useMemo(() => parse<Step[]>(text, stepsSchema), [text])
  const draftedOptions = useMemo(() => parse<FunnelOptions>(optionsText, funnelOptionsSchema), [optionsText])
  const steps = useMemo(() => drafted ?? saved?.steps ?? [], [drafted, saved])
  const options = useMemo(() => draftedOptions ?? saved?.options ?? DEFAULT_OPTIONS, [draftedOptions, saved])
  const setSteps = useCallback(
    (next: Step[] | null) =>
      setParameters((known) => {
        const changed = new URLSearchParams(known)
        if (next) changed.set('steps', JSON.stringify(next))
        else {
          changed.delete('steps')
          changed.delete('options')
        }
        changed.delete('close')
        return changed
      }),
    [setParameters],
  )
  return {
    steps,
    options,
    edited:
      (drafted !== null && JSON.stringify(drafted) !== JSON.stringify(saved?.steps)) ||
      (draftedOptions !== null &&
        JSON.stringify(draftedOptions) !== JSON.stringify(saved?.options ?? DEFAULT_OPTIONS)),
    setSteps,
    setOptions: (next) =>
      setParameters((known) => {
        const changed = new URLSearchParams(known)
        changed.set('options', JSON.stringify(next))
        changed.delete('close')
        return changed
      }),
  }
}

function parse<T>(
  text: string | null,
  schema: { safeParse: (json: unknown) => { success: boolean; data?: T | undefined } },
): T | null {
  if (!text) return null
  try {
    return schema.safeParse(JSON.parse(text)).data ?? null
  } catch {
    return null
  }
}
