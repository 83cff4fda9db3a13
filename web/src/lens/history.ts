import { useEffect, useReducer } from 'react'
import { useAddress } from '../app/address.ts'
import { LENS_PARAMETERS } from '../app/lens.ts'

/** Lenses one looked through before and after the present one. One history for all sections, kept while the page is open. */
const past: string[] = []
const future: string[] = []
let present: string | undefined
const MOST = 100

/** Undo and redo of the lens, wherever it was changed. */
export function useLensHistory(): { undo: (() => void) | undefined; redo: (() => void) | undefined } {
  const [parameters, setParameters] = useAddress()
  const [, changed] = useReducer((n: number) => n + 1, 0)
  const now = new URLSearchParams(
    LENS_PARAMETERS.flatMap((name) => {
      const value = parameters.get(name)
      return value === null ? [] : [[name, value]]
    }),
  ).toString()
  useEffect(() => {
    if (now === present) return
    // The first one of all has nothing before it; without dates it is still being made.
    if (present !== undefined && present !== '' && new URLSearchParams(present).has('from')) {
      past.push(present)
      if (past.length > MOST) past.shift()
      future.length = 0
    }
    present = now
    changed()
  }, [now])
  const go = (from: string[], to: string[]) => () => {
    const next = from.pop()
    if (next === undefined || present === undefined) return
    to.push(present)
    present = next
    setParameters((before) => {
      const written = new URLSearchParams(before)
      for (const name of LENS_PARAMETERS) written.delete(name)
      for (const [name, value] of new URLSearchParams(next)) written.set(name, value)
      return written
    })
    changed()
  }
  return {
    undo: past.length ? go(past, future) : undefined,
    redo: future.length ? go(future, past) : undefined,
  }
}
