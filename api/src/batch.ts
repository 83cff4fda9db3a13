import { z } from 'zod'
import type { RecordedNode, RecordItem, Snapshot } from '@dust-trail/core'
import { lineSchema } from '@dust-trail/core'

const at = z.number().min(0)
const id = z.number().int().min(0)
const place = z.number()

/** Deepest tree that is taken: deeper ones are no page that people made. */
const DEEPEST = 512

const nodeSchema: z.ZodType<RecordedNode> = z.custom<RecordedNode>((value) => isNode(value, 0), {
  error: 'is not a recorded page tree',
})

function isNode(value: unknown, depth: number): boolean {
  if (depth > DEEPEST || typeof value !== 'object' || value === null) return false
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

function isAttributes(value: unknown): boolean {
  return (
    typeof value === 'object' &&
    value !== null &&
    !Array.isArray(value) &&
    Object.values(value).every((text) => typeof text === 'string')
  )
}

export const snapshotSchema: z.ZodType<Snapshot> = z.object({
  url: z.string().max(2048),
  title: z.string().max(2048),
  width: z.number().int().min(1).max(20_000),
  height: z.number().int().min(1).max(20_000),
  root: nodeSchema,
})

export const itemSchema: z.ZodType<RecordItem> = z.discriminatedUnion('k', [
  z.object({ at, k: z.literal('page'), url: z.string().max(2048), title: z.string().max(2048) }),
  z.object({ at, k: z.literal('move'), p: z.array(z.tuple([at, place, place])).min(1) }),
  z.object({ at, k: z.literal('scroll'), id, x: place, y: place }),
  z.object({ at, k: z.literal('click'), id, x: place, y: place, touch: z.literal(true).optional() }),
  z.object({ at, k: z.literal('view'), w: z.number().min(1), h: z.number().min(1) }),
  z.object({ at, k: z.literal('input'), id, length: z.number().int().min(0) }),
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

/** What the capture script sends: one numbered piece of one loaded document. */
export const batchSchema = z.object({
  v: z.literal(1),
  site: z.string().min(1).max(40),
  visitor: z.string().min(1).max(128),
  document: z.string().regex(/^[\w-]{8,64}$/),
  n: z.number().int().min(0),
  tab: z.string().max(64),
  startMs: z.number().int().min(0),
  sentMs: z.number().int().min(0),
  lines: z.array(z.unknown()).max(2000),
  items: z.array(itemSchema).max(4000),
  snapshot: snapshotSchema.optional(),
})
export type ReceivedBatch = z.infer<typeof batchSchema>

export { lineSchema }
