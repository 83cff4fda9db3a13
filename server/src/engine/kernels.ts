import type { Analysis, Block, Lens, Names, SessionSet } from '@dust-trail/core'
import {
  between,
  catalogue,
  cleaned,
  clickHeat,
  closeUp,
  contents,
  distribution,
  eventValues,
  funnel,
  lensSessions,
  onwardPaths,
  price,
  rawSequences,
  scanOnto,
  selectionSize,
  sessionIds,
  urls,
  visitorMoments,
  visitorWays,
  watchList,
} from '@dust-trail/core'

/** The questions that the engine answers, by name: a name crosses to another thread, a function does not. */
export const KERNELS = {
  between,
  catalogue,
  clickHeat,
  closeUp,
  contents,
  distribution,
  eventValues,
  funnel,
  onwardPaths,
  price,
  rawSequences,
  selectionSize,
  sessionIds,
  urls,
  visitorMoments,
  visitorWays,
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
export interface Scanned {
  block: Block
  standing: SessionSet
}

/** What a thread has gathered on a question, and how to go on with it. */
export interface Gathered {
  /** undefined where there were no blocks, or it was stopped */
  partial: object | undefined
  analysis: AnyAnalysis
  spec: object
}

export interface SiteMeaning {
  names: Names
  timeZone: string
}

/** What some blocks have to say to a question. Stops between two blocks where nobody wants to know any more. */
export function scanParts(
  kernel: KernelName,
  parts: readonly Scanned[],
  lens: Lens,
  spec: object,
  site: SiteMeaning,
  stopped: () => boolean = () => false,
): Gathered {
  const gathered = nothingGathered(kernel, spec, site)
  for (const part of parts) {
    if (stopped()) return { ...gathered, partial: undefined }
    scanOne(gathered, part, lens, site)
  }
  return gathered
}

export function nothingGathered(kernel: KernelName, spec: object, { names }: SiteMeaning): Gathered {
  return { analysis: KERNELS[kernel], spec: { ...spec, names }, partial: undefined }
}

/** Adds what one block has to say. */
export function scanOne(
  gathered: Gathered,
  { block, standing }: Scanned,
  lens: Lens,
  { names, timeZone }: SiteMeaning,
): void {
  const seen = lens.clean ? cleaned(block, lens.clean, names) : block
  const looked = lensSessions(seen, lens, timeZone, names).and(standing)
  // Without a session there is nothing to say, other than that something was looked at.
  if (gathered.partial && looked.isEmpty()) return
  gathered.partial = scanOnto(gathered.analysis, seen, looked, gathered.spec, gathered.partial)
}

/** What was gathered, once nothing is added any more: in the form in which it can go to another thread. */
export function packed({ partial, analysis, ...rest }: Gathered): Gathered {
  return { ...rest, analysis, partial: partial && analysis.pack ? analysis.pack(partial) : partial }
}

/** Merges the same part of what several threads have packed, and does with it what can be done without the others. */
export function settled(gathered: Gathered, parts: readonly (object | undefined)[]): Gathered {
  const { analysis, spec } = gathered
  const found = parts.filter((one) => one !== undefined)
  if (!found.length) return { ...gathered, partial: undefined }
  const whole = found.reduce((a, b) => analysis.merge(a, b))
  return { ...gathered, partial: analysis.parts!.settle(whole, spec) }
}

/**
 * The answer to a question from what several threads have found; undefined where none has found anything.
 *
 * @param settled  these are settled parts in order; else packed
 */
export function finish(
  { analysis, spec }: Gathered,
  found: readonly (object | undefined)[],
  settled = false,
): unknown {
  const total = found.filter((one) => one !== undefined)
  if (!total.length) return undefined
  return analysis.finish(
    settled ? analysis.parts!.join(total) : total.reduce((a, b) => analysis.merge(a, b)),
    spec,
  )
}

/** Memory of the columns that lie directly in an object or in one that it holds: of those deeper down there are few. */
export function buffersIn(value: unknown, deeper = true): ArrayBuffer[] {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return []
  const found = new Set<ArrayBuffer>()
  for (const one of Object.values(value as Record<string, unknown>))
    if (ArrayBuffer.isView(one)) {
      if (one.buffer instanceof ArrayBuffer) found.add(one.buffer)
    } else if (deeper) for (const buffer of buffersIn(one, false)) found.add(buffer)
  return [...found]
}
