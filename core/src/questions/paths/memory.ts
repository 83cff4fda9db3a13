import { ScratchPool } from '../../columns/scratch.ts'

/** Memory for paths as rows of numbers, and for sorting them. Pieces of over 16 MB are let go. */
export const memory = new ScratchPool(8, 2 ** 22)
