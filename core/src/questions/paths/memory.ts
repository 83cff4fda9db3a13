import { ScratchPool } from '../../columns/scratch.ts'

/** Memory for keys of paths and the nodes of their tree. Pieces of over 16 MB are let go. */
export const memory = new ScratchPool(8, 2 ** 22)
