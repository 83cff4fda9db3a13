import { setStrainWeights } from '@dust-trail/api'
import type { SetWeights, SignalKind } from '@dust-trail/core'
import { SIGNAL_KINDS, STRAIN_WEIGHTS, weightsOf } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'

export interface Weights {
  /** what stands in a field, by kind */
  textOf: (kind: SignalKind) => string
  type: (kind: SignalKind, text: string) => void
  /** what would be set, and whether that is something else than what is */
  wanted: SetWeights
  changed: boolean
  /** whether all are as they are by default */
  isDefault: boolean
  discard: () => void
  save: (weights: SetWeights) => void
  saving: boolean
  error: Error | null
}

const MOST = 20

/** How hard a signal of each kind is, as it is typed and not yet saved. */
export function useWeights(): Weights {
  const site = useSite()
  const client = useQueryClient()
  const [typed, setTyped] = useState<Partial<Record<SignalKind, string>>>({})
  const current = weightsOf(site.strainWeights)
  const wanted = useMemo(() => {
    const values: SetWeights = { ...site.strainWeights }
    for (const [kind, text] of Object.entries(typed) as [SignalKind, string][]) {
      const value = text.trim() === '' ? NaN : Number(text)
      if (!(value >= 0 && value <= MOST)) continue
      if (value === STRAIN_WEIGHTS[kind]) delete values[kind]
      else values[kind] = value
    }
    return values
  }, [typed, site.strainWeights])
  const others = weightsOf(wanted)
  const save = useMutation({
    mutationFn: (weights: SetWeights) => call(setStrainWeights, { site: site.key }, weights),
    onSuccess: () => {
      setTyped({})
      void client.invalidateQueries()
      toast('Weights saved. They hold for all data, the past included.')
    },
  })
  return {
    textOf: (kind) => typed[kind] ?? String(current[kind]),
    type: (kind, text) => setTyped({ ...typed, [kind]: text }),
    wanted,
    changed: SIGNAL_KINDS.some((kind) => others[kind] !== current[kind]),
    isDefault: SIGNAL_KINDS.every((kind) => current[kind] === STRAIN_WEIGHTS[kind]),
    discard: () => setTyped({}),
    save: save.mutate,
    saving: save.isPending,
    error: save.error,
  }
}
