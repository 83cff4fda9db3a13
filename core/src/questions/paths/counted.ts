/**
 * Different paths in ascending order, and how many sessions took each. A path is a row of whole numbers from 0 of at most
 * 31 bits: the first in `keys`, the others, where it takes several, in columns of their own.
 */
export interface CountedKeys {
  keys: Int32Array
  more: Int32Array[]
  counts: Uint32Array
}
