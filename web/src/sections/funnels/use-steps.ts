import type { SavedFunnel } from '@dust-trail/api'
import type { Step } from '@dust-trail/core'
import { stepsSchema } from '@dust-trail/core'
import { useMemo } from 'react'
import { useSearchParams } from 'react-router'

/** The steps on screen: those in the address while they are being edited, else the saved funnel's. */
export function useSteps(saved: SavedFunnel | undefined): {
  steps: Step[]
  edited: boolean
  setSteps: (steps: Step[] | null) => void
} {
  const [parameters, setParameters] = useSearchParams()
  const text = parameters.get('steps')
  const drafted = useMemo(() => parse(text), [text])
  const steps = useMemo(() => drafted ?? saved?.steps ?? [], [drafted, saved])
  return {
    steps,
    edited: drafted !== null && JSON.stringify(drafted) !== JSON.stringify(saved?.steps),
    setSteps: (next) =>
      setParameters((known) => {
        const changed = new URLSearchParams(known)
        if (next) changed.set('steps', JSON.stringify(next))
        else changed.delete('steps')
        changed.delete('close')
        return changed
      }),
  }
}

function parse(text: string | null): Step[] | null {
  if (!text) return null
  try {
    const read = stepsSchema.safeParse(JSON.parse(text))
    return read.success ? read.data : null
  } catch {
    return null
  }
}
