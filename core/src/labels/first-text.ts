/** Of several texts of one element the first in the alphabet is shown, so that the order of blocks does not matter. */
export function firstText(a: string, b: string): string {
  return a && (!b || a <= b) ? a : b
}
