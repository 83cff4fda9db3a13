/**
 * Where the first of some numbers in ascending order lies that is at least as large as another; their count where none is.
 * Complexity: logarithm of how many there are.
 */
export function lowerBound(ascending: ArrayLike<number>, number: number): number {
  let low = 0
  let high = ascending.length
  while (low < high) {
    const middle = (low + high) >>> 1
    if (ascending[middle]! < number) low = middle + 1
    else high = middle
  }
  return low
}
