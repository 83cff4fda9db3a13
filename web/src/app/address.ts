import { useCallback, useLayoutEffect, useMemo, useRef } from 'react'
import type { Location } from 'react-router'
import { useLocation, useSearchParams } from 'react-router'
import { z } from 'zod'

type Change = (before: URLSearchParams) => URLSearchParams

/** what was changed since a location was drawn: the router draws the next one later, when there is time */
const changedSince = new WeakMap<Location, URLSearchParams>()

/**
 * What stands in the address, and what changes it: the same function each time, so that what is given it needs no
 * drawing anew because something else in the address has changed. A change that comes before an earlier one is drawn
 * builds on it, so none is lost to somebody quicker than the screen.
 */
export function useAddress(): [URLSearchParams, (change: Change, replace?: boolean) => void] {
  const [parameters, setParameters] = useSearchParams()
  const location = useLocation()
  const latest = useRef({ setParameters, location, parameters })
  useLayoutEffect(() => {
    latest.current = { setParameters, location, parameters }
  }, [setParameters, location, parameters])
  const change = useCallback((next: Change, replace = false) => {
    const { location: drawn, parameters: shown, setParameters: set } = latest.current
    const changed = next(changedSince.get(drawn) ?? shown)
    changedSince.set(drawn, changed)
    set(changed, { replace })
  }, [])
  return [parameters, change]
}

export interface AddressOptions {
  /** other values that no longer hold when this one changes */
  clears?: readonly string[]
  /** changes take the place of the present address in the history instead of adding a step */
  replace?: boolean
}

const NO_OPTIONS: AddressOptions = {}

/**
 * One value of the state that a link shows again: read from the address and written there. Texts stand as they are, all
 * else as JSON.
 *
 * @param schema  what does not fit it counts as absent; must be the same object each time
 * @returns the value, null where there is none; the same object as long as the address says the same
 */
export function useAddressValue<T>(
  name: string,
  schema: z.ZodType<T>,
  { clears, replace = false }: AddressOptions = NO_OPTIONS,
): [value: T | null, set: (value: T | null) => void] {
  const [parameters, change] = useAddress()
  const text = parameters.get(name)
  const value = useMemo(() => readValue(text, schema), [text, schema])
  const cleared = clears?.join(' ') ?? ''
  const set = useCallback(
    (next: T | null) =>
      change((before) => {
        const changed = new URLSearchParams(before)
        for (const other of cleared.split(' ')) changed.delete(other)
        if (next === null) changed.delete(name)
        else changed.set(name, typeof next === 'string' ? next : JSON.stringify(next))
        return changed
      }, replace),
    [change, name, cleared, replace],
  )
  return [value, set]
}

/** A value as it stands in an address. */
export function readValue<T>(text: string | null, schema: z.ZodType<T>): T | null {
  if (text === null) return null
  const plain = schema.safeParse(text)
  if (plain.success) return plain.data
  try {
    return schema.safeParse(JSON.parse(text)).data ?? null
  } catch {
    return null
  }
}

const FACET = z.string()

/** Which facet of what is on screen is shown, without a step of its own in the history. */
export function useFacet(first: string): [facet: string, setFacet: (facet: string) => void] {
  const [facet, setFacet] = useAddressValue('facet', FACET, { replace: true })
  return [facet ?? first, setFacet]
}
