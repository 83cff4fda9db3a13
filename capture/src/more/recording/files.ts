/*
 * Pictures and fonts that a recorded page names: where they are, and how they stand in the recording, which has their address
 * without what may say whose they are. Two that differ only in that are told apart by what is added to the second.
 */

export interface FileAddress {
  /** as it stands in the recording */
  told: string
  /** where the browser has it from, without a fragment */
  real: string
}

const byReal = new Map<string, string>()
const taken = new Map<string, string>()
const coming: FileAddress[] = []
/** Of more different ones nothing is kept. */
const MOST = 5000

/** How an address stands in the recording. @param clean  what is left of it */
export function toldAddress(real: string, clean: string): string {
  const known = byReal.get(real)
  if (known !== undefined) return known
  if (byReal.size >= MOST) return clean
  let told = clean
  for (let k = 2; taken.has(told); k++) told = `${clean}#${k}`
  taken.set(told, real)
  byReal.set(real, told)
  coming.push({ told, real })
  return told
}

/** Those that have been named since it was asked last. */
export const namedSince = (): FileAddress[] => coming.splice(0)
