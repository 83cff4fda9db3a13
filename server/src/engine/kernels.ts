import type { Analysis, Block, Lens, Names, SessionSet } from '@dust-trail/core'
import {
  catalogue,
  clickHeat,
  closeUp,
  distribution,
  funnel,
  lensSessions,
  onwardPaths,
  price,
  selectionSize,
  sessionIds,
  watchList,
} from '@dust-trail/core'

/** The questions that the engine answers, by name: a name crosses to another thread, a function does not. */
export const KERNELS = {
  catalogue,
  clickHeat,
  closeUp,
  distribution,
  funnel,
  onwardPaths,
  price,
  selectionSize,
  sessionIds,
  watchList,
}
export type KernelName = keyof typeof KERNELS

type SpecOf<K> = K extends Analysis<infer Spec, infer _P, infer _R> ? Spec : never
type ResultOf<K> = K extends Analysis<infer _S, infer _P, infer Result> ? Result : never
/** What a question is about, without the names of things, which every thread has itself. */
export type KernelSpec<K extends KernelName> = Omit<SpecOf<(typeof KERNELS)[K]>, 'names'>
export type KernelResult<K extends KernelName> = ResultOf<(typeof KERNELS)[K]>

type AnyAnalysis = Analysis<object, object, unknown>

/** A block and those of its sessions that still stand: one that has changed since lies elsewhere. */
export interface Part {
  block: Block
  standing: SessionSet
}

/**
 * What some blocks have to say to a question. Stops between two blocks where nobody wants to know any more.
 *
 * @returns undefined where there were no blocks, or it was stopped
 */
export function scanParts(
  kernel: KernelName,
  parts: readonly Part[],
  lens: Lens,
  spec: object,
  site: { names: Names; timeZone: string },
  stopped: () => boolean = () => false,
): object | undefined {
  const analysis = KERNELS[kernel] as unknown as AnyAnalysis
  let total: object | undefined
  for (const { block, standing } of parts) {
    if (stopped()) return undefined
    const looked = lensSessions(block, lens, site.timeZone, site.names).and(standing)
    const partial = analysis.scan(block, looked, { ...spec, names: site.names })
    total = total === undefined ? partial : analysis.merge(total, partial)
  }
  return total
}

/** The answer from what all threads have to say. */
export function finishPartials<K extends KernelName>(
  kernel: K,
  partials: readonly (object | undefined)[],
  spec: KernelSpec<K>,
  names: Names,
): KernelResult<K> {
  const analysis = KERNELS[kernel] as unknown as AnyAnalysis
  const total = partials.filter((partial) => partial !== undefined).reduce((a, b) => analysis.merge(a, b))
  return analysis.finish(total, { ...spec, names }) as KernelResult<K>
}
