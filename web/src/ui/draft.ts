import type { Dispatch, SetStateAction } from 'react'
import { useCallback, useContext, useState } from 'react'
import { SiteContext } from '../app/lens.ts'

const STORE = 'draft:'

/**
 * State that a reload does not lose: what was typed, and which dialog was open. It is kept in this tab until it is as it
 * was at first, or forgotten.
 *
 * @param key  what it is of, the same for the same thing
 */
export function useDraft<T>(key: string, initial: T): [T, Dispatch<SetStateAction<T>>] {
  const site = useContext(SiteContext)?.key ?? ''
  const place = `${STORE}${site}/${key}`
  const untouched = JSON.stringify(initial)
  const [value, setValue] = useState<T>(() => {
    try {
      const text = sessionStorage.getItem(place)
      return text === null ? initial : (JSON.parse(text) as T)
    } catch {
      return initial
    }
  })
  const set = useCallback<Dispatch<SetStateAction<T>>>(
    (next) =>
      setValue((before) => {
        const after = typeof next === 'function' ? (next as (before: T) => T)(before) : next
        keep(place, JSON.stringify(after), untouched)
        return after
      }),
    [place, untouched],
  )
  return [value, set]
}

function keep(place: string, text: string, untouched: string): void {
  try {
    if (text === untouched) sessionStorage.removeItem(place)
    else sessionStorage.setItem(place, text)
  } catch {
    // A browser that keeps nothing: then a reload does lose it.
  }
}

/** Forgets what was typed, once it is saved. */
export function useForget(): (key: string) => void {
  const site = useContext(SiteContext)?.key ?? ''
  return useCallback(
    (key) => {
      const start = `${STORE}${site}/${key}`
      for (const place of Object.keys(sessionStorage))
        if (place.startsWith(start)) sessionStorage.removeItem(place)
    },
    [site],
  )
}
