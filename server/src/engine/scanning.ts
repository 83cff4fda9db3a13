import type { AnyScan, Block, Context, SessionSet } from '@dust-trail/core'
import { lensSessions, scanOnto, withoutNoise } from '@dust-trail/core'

/** A block and those of its sessions that still stand: one that has changed since lies in another block. */
export interface ScannedBlock {
  block: Block
  standing: SessionSet
}

/** What has been gathered for a scan so far, and how to go on with it. */
export interface Gathering {
  scan: AnyScan
  /** what is asked, with the context */
  spec: Context
  /** undefined where there were no blocks, or the scan was stopped */
  found: object | undefined
}

export function startGathering(scan: AnyScan, asked: object, context: Context): Gathering {
  return { scan, spec: { ...asked, ...context }, found: undefined }
}

/** Adds what one block has to say. */
export function addBlock(gathering: Gathering, { block, standing }: ScannedBlock): void {
  const { lens, names, timeZone } = gathering.spec
  const seen = lens.clean ? withoutNoise(block, lens.clean, names) : block
  const looked = lensSessions(seen, lens, timeZone, names).and(standing)
  // Without a session there is nothing to say, other than that something was looked at.
  if (gathering.found && looked.isEmpty()) return
  gathering.found = scanOnto(gathering.scan, seen, looked, gathering.spec, gathering.found)
}

/** The result of a scan over blocks in this thread; undefined where there are none. */
export function scanHere(
  scan: AnyScan,
  blocks: readonly ScannedBlock[],
  asked: object,
  context: Context,
): unknown {
  const gathering = startGathering(scan, asked, context)
  for (const block of blocks) addBlock(gathering, block)
  return finish(gathering, [gathering.found])
}

/** What was gathered, once nothing is added any more: in the form in which it can go to another thread. */
export function packed({ found, scan, spec }: Gathering): Gathering {
  return { scan, spec, found: found && scan.pack ? scan.pack(found) : found }
}

/** Merges the same part of what several threads have packed, and does with it what can be done without the others. */
export function finishedPart({ scan, spec }: Gathering, parts: readonly (object | undefined)[]): Gathering {
  const found = parts.filter((one) => one !== undefined)
  if (!found.length) return { scan, spec, found: undefined }
  const whole = found.reduce((a, b) => scan.merge(a, b))
  return { scan, spec, found: scan.parts!.finishPart(whole, spec) }
}

/**
 * The result of a scan from what several threads have found; undefined where none has found anything.
 *
 * @param inParts  these are finished parts in order; else packed
 */
export function finish(
  gathering: Gathering,
  found: readonly (object | undefined)[],
  inParts = false,
): unknown {
  const { scan, spec } = gathering
  const whole = together(gathering, found, inParts)
  return whole && scan.finish(whole, spec)
}

/**
 * The same with pauses where it takes long, so that other questions are answered meanwhile.
 *
 * @param goOn  resolves when it may go on: false where nobody waits for the answer any more
 * @see finish
 */
export async function finishWithPauses(
  gathering: Gathering,
  found: readonly (object | undefined)[],
  inParts: boolean,
  goOn: () => Promise<boolean>,
): Promise<unknown> {
  const { scan, spec } = gathering
  if (!scan.finishInSteps) return finish(gathering, found, inParts)
  const whole = together(gathering, found, inParts)
  const steps = whole && scan.finishInSteps(whole, spec)
  for (let step = steps?.next(); step; step = steps!.next()) {
    if (step.done) return step.value
    if (!(await goOn())) return undefined
  }
  return undefined
}

function together(
  { scan }: Gathering,
  found: readonly (object | undefined)[],
  inParts: boolean,
): object | undefined {
  const all = found.filter((one) => one !== undefined)
  if (!all.length) return undefined
  return inParts ? scan.parts!.join(all) : all.reduce((a, b) => scan.merge(a, b))
}

/** Memory of the columns that lie in an object, or so many objects deeper: further down there are none. */
export function buffersIn(value: unknown, levels = 2): ArrayBuffer[] {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return []
  const buffers = new Set<ArrayBuffer>()
  for (const one of Object.values(value as Record<string, unknown>))
    if (ArrayBuffer.isView(one)) {
      if (one.buffer instanceof ArrayBuffer) buffers.add(one.buffer)
    } else if (levels > 0) for (const buffer of buffersIn(one, levels - 1)) buffers.add(buffer)
  return [...buffers]
}
