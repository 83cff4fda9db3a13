import type { Trail } from '@dust-trail/api'
import { useEffect, useState } from 'react'
import { useSite } from '../app/lens.ts'
import { useTrails } from '../api/queries.ts'

const changed = new EventTarget()

/** The trail that is open: the last one chosen, or the first there is. */
export function useOpenTrail(): {
  trails: Trail[]
  trail: Trail | undefined
  choose: (id: number) => void
  error: Error | null
  pending: boolean
} {
  const site = useSite()
  const trails = useTrails(site.key)
  const key = `trail ${site.key}`
  const [chosen, setChosen] = useState(() => Number(localStorage.getItem(key)))
  useEffect(() => {
    const listen = () => setChosen(Number(localStorage.getItem(key)))
    changed.addEventListener('chosen', listen)
    return () => changed.removeEventListener('chosen', listen)
  }, [key])
  const list = trails.data ?? []
  return {
    trails: list,
    trail: list.find(({ id }) => id === chosen) ?? list[0],
    choose: (id) => {
      localStorage.setItem(key, String(id))
      changed.dispatchEvent(new Event('chosen'))
    },
    error: trails.error,
    pending: trails.isPending,
  }
}
