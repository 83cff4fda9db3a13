import type { Selection } from '@dust-trail/core'
import { selectionSchema } from '@dust-trail/core'
import { useAddressValue } from '../app/address.ts'

const OPTIONS = { clears: ['facet'] }

/** The selection that the close-up shows: kept in the address, so that a link opens it again. */
export function useSelection(): {
  selection: Selection | null
  setSelection: (selection: Selection | null) => void
} {
  const [selection, setSelection] = useAddressValue('close', selectionSchema, OPTIONS)
  return { selection, setSelection }
}
