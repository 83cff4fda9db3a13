import type { Selection } from '@dust-trail/core'
import { selectionSchema } from '@dust-trail/core'
import { useCallback, useMemo } from 'react'
import { useAddress } from '../app/address.ts'

/** The selection that the close-up shows: kept in the address, so that a link opens it again. */
export function useSelection(): {
  selection: Selection | null
  setSelection: (selection: Selection | null) => void
} {
  const [parameters, setParameters] = useAddress()
  const text = parameters.get('close')
  const selection = useMemo(() => parse(text), [text])
  const setSelection = useCallback(
    (next: Selection | null) =>
      setParameters((known) => {
        const changed = new URLSearchParams(known)
        if (next) changed.set('close', JSON.stringify(next))
        else changed.delete('close')
        changed.delete('facet')
        return changed
      }),
    [setParameters],
  )
  return { selection, setSelection }
}

function parse(text: string | null): Selection | null {
  if (!text) return null
  try {
    const read = selectionSchema.safeParse(JSON.parse(text))
    return read.success ? read.data : null
  } catch {
    return null
  }
}
