import { z } from 'zod'
import type { Batch, Line, RecordedNode, RecordItem, Snapshot } from '@dust-trail/core'
import { CONSOLE_LEVELS, lineSchema } from '@dust-trail/core'

const at = z.number().min(0)
const id = z.number().int().min(0)
const place = z.number()

/** Deepest tree that is taken: of deeper ones what lies below is left out. */
export const DEEPEST = 512

const nodeSchema: z.ZodType<RecordedNode> = z
  .custom<RecordedNode>((value) => isNode(value, 0), { error: 'is not a recorded page tree' })
  .transform((node) => cutTree(node, DEEPEST))

/** Whether this is a tree, as far down as it is kept. */
function isNode(value: unknown, depth: number): boolean {
  if (typeof value !== 'object' || value === null) return false
  if (depth > DEEPEST) return true
  const node = value as Record<string, unknown>
  if (!Number.isSafeInteger(node['id'])) return false
  if ('text' in node) return typeof node['text'] === 'string'
  if (typeof node['tag'] !== 'string' || node['tag'].length > 100) return false
  const attributes = node['a']
  if (attributes !== undefined && !isAttributes(attributes)) return false
  const children = node['c']
  return (
    children === undefined || (Array.isArray(children) && children.every((child) => isNode(child, depth + 1)))
  )
}

/** A tree without what lies more than so many steps below its root; the same one where nothing does. */
export function cutTree(node: RecordedNode, deepest: number): RecordedNode {
  if ('text' in node || !node.c) return node
  if (deepest <= 0) {
    const { c: _, ...rest } = node
    return rest
  }
  let changed = false
  const children = node.c.map((child) => {
    const kept = cutTree(child, deepest - 1)
    if (kept !== child) changed = true
    return kept
  })
  return changed ? { ...node, c: children } : node
}

/** Whether anything lies more than so many steps below the root of what should be a tree. */
export function isDeeper(value: unknown, deepest: number): boolean {
  const children = (value as { c?: unknown } | null)?.c
  if (!Array.isArray(children) || !children.length) return false
  return deepest <= 0 || children.some((child) => isDeeper(child, deepest - 1))
}

function isAttributes(value: unknown): boolean {
  return (
    typeof value === 'object' &&
    value !== null &&
    !Array.isArray(value) &&
    Object.values(value).every((text) => typeof text === 'string')
  )
}

const shortened = z.string().transform((text) => text.slice(0, 2048))
/** A frame without size has neither width nor height; it is shown as a pixel. */
const viewport = z.number().transform((px) => Math.min(20_000, Math.max(1, Math.round(px))))

export const snapshotSchema = z.object({
  url: shortened,
  title: shortened,
  width: viewport,
  height: viewport,
  root: nodeSchema,
}) satisfies z.ZodType<Snapshot>

/** By which a kept file is known: SHA-256 of its bytes, in hexadecimal digits. */
export const fileHashSchema = z
  .string({ error: 'must be text' })
  .regex(/^[0-9a-f]{64}$/, { error: 'must be 64 hexadecimal digits' })

export const itemSchema: z.ZodType<RecordItem> = z.discriminatedUnion('k', [
  z.object({ at, k: z.literal('page'), url: shortened, title: shortened }),
  z.object({ at, k: z.literal('move'), p: z.array(z.tuple([at, place, place])).min(1) }),
  z.object({ at, k: z.literal('scroll'), id, x: place, y: place }),
  z.object({ at, k: z.literal('click'), id, x: place, y: place, touch: z.literal(true).optional() }),
  z.object({ at, k: z.literal('view'), w: viewport, h: viewport }),
  z.object({ at, k: z.literal('input'), id, length: z.number().int().min(0) }),
  z.object({
    at,
    k: z.literal('console'),
    level: z.enum(CONSOLE_LEVELS),
    text: z.string().transform((words) => words.slice(0, 1000)),
  }),
  z.object({
    at,
    k: z.literal('file'),
    url: z.string().max(4096, { error: 'has an address that is too long' }),
    hash: fileHashSchema,
  }),
  z.object({ at, k: z.literal('hide') }),
  z.object({ at, k: z.literal('show') }),
  z.object({
    at,
    k: z.literal('change'),
    add: z.array(z.tuple([id, id, nodeSchema])).optional(),
    gone: z.array(id).optional(),
    attr: z.array(z.tuple([id, z.string(), z.string().nullable()])).optional(),
    text: z.array(z.tuple([id, z.string()])).optional(),
  }),
])

const text = (most: number) =>
  z.string({ error: 'must be text' }).max(most, { error: `must be at most ${most} characters long` })
const whole = (most: number) =>
  z
    .number({ error: 'must be a number' })
    .int({ error: 'must be a whole number' })
    .min(0, { error: 'must not be negative' })
    .max(most, { error: `must be at most ${most}` })

/** Numbers of batches beyond this are refused: the database has room for no more. */
const MOST_BATCHES = 2 ** 32 - 1
export const MOST_BATCH_LINES = 2000
export const MOST_BATCH_ITEMS = 4000

/**
 * What the capture script sends: one numbered piece of one loaded document. Lines, items and the page are checked one by
 * one, so that one that is wrong costs no other.
 */
export const batchSchema = z.object({
  v: z.literal(1, { error: 'must be 1' }),
  site: text(40).min(1, { error: 'must not be empty' }),
  visitor: text(128).min(1, { error: 'must not be empty' }),
  document: z
    .string({ error: 'must be text' })
    .regex(/^[\w-]{8,64}$/, { error: 'must be 8 to 64 letters, digits, "-" or "_"' }),
  n: whole(MOST_BATCHES),
  piece: whole(MOST_BATCHES).optional(),
  tab: text(64),
  startMs: whole(Number.MAX_SAFE_INTEGER),
  sentMs: whole(Number.MAX_SAFE_INTEGER),
  lines: z
    .array(z.unknown(), { error: 'must be a list' })
    .max(MOST_BATCH_LINES, { error: `must be at most ${MOST_BATCH_LINES} lines` }),
  items: z
    .array(z.unknown(), { error: 'must be a list' })
    .max(MOST_BATCH_ITEMS, { error: `must be at most ${MOST_BATCH_ITEMS} items` }),
  snapshot: z.unknown().optional(),
})
export type ReceivedBatch = Batch<Line>

export { lineSchema }
