import { z } from 'zod'
import type { SignalKind } from '../events/signal-kinds.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'

/** How hard one signal of a kind is, beside others. A site can set each; 0 leaves a kind out. */
export type StrainWeights = Readonly<Record<SignalKind, number>>

/** The reasons stand in docs/strain.md. */
export const STRAIN_WEIGHTS: StrainWeights = {
  'rage click': 5,
  'dead click': 2,
  'script error': 1,
  'failed request': 2,
  'not found': 4,
  'failing click': 5,
  'near miss': 2,
  'failed submit': 4,
  'site signal': 3,
  'field trouble': 3,
  'turned back': 1,
  racing: 2,
  combing: 2,
  'pointer to the bar': 0.5,
  'tab hopping': 0.5,
  freeze: 2,
  'slow page': 2,
  zoom: 1,
}

const weightSchema = z
  .number({ error: 'Give a number.' })
  .min(0, { error: 'Give at least 0.' })
  .max(20, { error: 'Give at most 20.' })

/** Those that a site has set; the others are as they are by default. */
export const strainWeightsSchema = z
  .partialRecord(z.enum(SIGNAL_KINDS), weightSchema)
  .describe('how hard one signal of a kind is; what is left out is as it is by default')
export type SetWeights = z.infer<typeof strainWeightsSchema>

export function weightsOf(set: SetWeights): StrainWeights {
  return { ...STRAIN_WEIGHTS, ...set }
}
