import type { Trail } from '@dust-trail/api'
import { PINNED } from '@dust-trail/api'
import { useEffect, useState } from 'react'
import { z } from 'zod'
import { useTrails } from '../api/queries.ts'
import { useSite } from '../app/lens.ts'
import { readStored, writeStored } from '../ui/stored.ts'

const idSchema = z.number()

const changed = new EventTarget()

/** The trail that is open: the last one chosen, or the first there is. */
export function useOpenTrail(): {
  trails: Trail[]
  /** what stands on the first screen, for all and for whoever is signed in; no trails of their own */
  pinned: Trail | undefined
  ownPinned: Trail | undefined
  trail: Trail | undefined
  choose: (id: number) => void
  error: Error | null
  pending: boolean
} {
  const site = useSite()
  const trails = useTrails(site.key)
  const key = `trail ${site.key}`
  const [chosen, setChosen] = useState(() => readStored(key, idSchema, 0))
  useEffect(() => {
    const listen = () => setChosen(readStored(key, idSchema, 0))
    changed.addEventListener('chosen', listen)
    return () => changed.removeEventListener('chosen', listen)
  }, [key])
  const list = (trails.data ?? []).filter(({ name }) => name !== PINNED)
  return {
    trails: list,
    pinned: trails.data?.find(({ name, own }) => name === PINNED && !own),
    ownPinned: trails.data?.find(({ name, own }) => name === PINNED && own),
    trail: list.find(({ id }) => id === chosen) ?? list[0],
    choose: (id) => {
      writeStored(key, id)
      changed.dispatchEvent(new Event('chosen'))
    },
    error: trails.error,
    pending: trails.isPending,
  }
}
