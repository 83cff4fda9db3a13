/** Whole numbers, as narrow as they may be. */
export type Keys = Int32Array | Float64Array

/** Different paths in ascending order, and how many sessions took each. */
export interface CountedKeys {
  keys: Keys
  counts: Uint32Array
}
