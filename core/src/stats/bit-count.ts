/** How many bits of a 32-bit word are set. Source: Warren, Hacker's Delight, 2nd ed., section 5-1 (from memory). */
export function countBits(word: number): number {
  let v = word - ((word >>> 1) & 0x55555555)
  v = (v & 0x33333333) + ((v >>> 2) & 0x33333333)
  return Math.imul((v + (v >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24
}
