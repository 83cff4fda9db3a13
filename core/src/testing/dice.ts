/**
 * Numbers from 0 to below 1, the same each time for a seed. For tests only.
 *
 * @see Steele, Lea, Flood (2014), OOPSLA (mixing; from memory)
 */
export function dice(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x9e3779b9) | 0
    let h = Math.imul(state ^ (state >>> 16), 0x21f0aaad)
    h = Math.imul(h ^ (h >>> 15), 0x735a2d97)
    return ((h ^ (h >>> 15)) >>> 0) / 4_294_967_296
  }
}
