import type { Part } from './parts.ts'

/** How much more work a block in the database is than one in memory, event by event, as it must be read first. */
const STREAM_WEIGHT = 50

/** The blocks that one thread scans, by id: in memory, and from the database. */
export interface Share {
  blocks: number[]
  streamed: number[]
}

/**
 * Blocks in at most so many shares of about the same work: the largest first, each to the share with the least work so far.
 */
export function sharesOf(inMemory: readonly Part[], streamed: readonly Part[], count: number): Share[] {
  const shares = Array.from({ length: count }, () => ({
    work: 0,
    blocks: [] as number[],
    streamed: [] as number[],
  }))
  const give = (parts: readonly Part[], into: keyof Share, weight: number) => {
    for (const part of [...parts].sort((a, b) => b.events - a.events)) {
      const least = shares.reduce((a, b) => (b.work < a.work ? b : a))
      least.work += part.events * weight
      least[into].push(part.id)
    }
  }
  give(streamed, 'streamed', STREAM_WEIGHT)
  give(inMemory, 'blocks', 1)
  return shares
    .filter((share) => share.blocks.length + share.streamed.length > 0)
    .map((share) => ({ blocks: share.blocks, streamed: share.streamed }))
}
