import { gunzipSync } from 'node:zlib'
import type { Request } from '@playwright/test'

/** What a page sent as text, unpacked where it was packed with gzip (RFC 1952: its first bytes say so). */
export function textOf(request: Request): string {
  const bytes = request.postDataBuffer()
  if (!bytes) return ''
  return (bytes[0] === 0x1f && bytes[1] === 0x8b ? gunzipSync(bytes) : bytes).toString()
}

/** Whether a page sends a batch: what it asks first, and pictures and fonts, go elsewhere. */
export const isBatch = (request: Request) =>
  request.method() === 'POST' && new URL(request.url()).pathname === '/collect'

/** A batch that a page sent; empty where it sent nothing. */
export const batchOf = <Batch>(request: Request) =>
  JSON.parse(textOf(request) || '{"lines":[],"items":[]}') as Batch
