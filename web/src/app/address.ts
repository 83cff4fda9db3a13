import { useCallback, useLayoutEffect, useRef } from 'react'
import { useSearchParams } from 'react-router'

/**
 * What stands in the address, and what changes it: the same function each time, so that what is given it needs no
 * drawing anew because something else in the address has changed.
 */
export function useAddress(): [
  URLSearchParams,
  (change: (known: URLSearchParams) => URLSearchParams) => void,
] {
  const [parameters, setParameters] = useSearchParams()
  const latest = useRef(setParameters)
  useLayoutEffect(() => {
    latest.current = setParameters
  }, [setParameters])
  const change = useCallback((next: (known: URLSearchParams) => URLSearchParams) => latest.current(next), [])
  return [parameters, change]
}
