import { z } from 'zod'
import type { CsvMapping } from '@dust-trail/core'
import { FILE_KINDS } from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { nothing, done, count } from './parts.ts'

/* Data in */

export const IMPORT_STATES = ['running', 'done', 'stopped', 'refused', 'failed'] as const

export const mappingSchema = z.object({
  columns: z.record(z.string(), z.string()),
  constants: z.record(z.string(), z.string()),
}) satisfies z.ZodType<CsvMapping>

export const badLineSchema = z.object({ line: count, field: z.string(), reason: z.string() })
export type BadLine = z.infer<typeof badLineSchema>

export const importSchema = z.object({
  id: z.number(),
  name: z.string(),
  kind: z.enum(FILE_KINDS),
  mapping: mappingSchema.nullable(),
  state: z.enum(IMPORT_STATES),
  progress: z.object({
    bytes: count,
    totalBytes: count,
    lines: count,
    good: count,
    bad: count,
    repeated: count,
    skipped: z.record(z.string(), count),
  }),
  /** the first few; all that are kept can be downloaded */
  problems: z.array(badLineSchema),
  message: z.string(),
  startedMs: z.number(),
  endedMs: z.number().nullable(),
})
export type Import = z.infer<typeof importSchema>

export const listImports = endpoint('GET', '/sites/:site/imports', nothing, z.array(importSchema))
export const getImport = endpoint('GET', '/sites/:site/imports/:id', nothing, importSchema)

export const stopImport = endpoint('POST', '/sites/:site/imports/:id/stop', z.object({}), done)

/** What the first bytes of a file show, before anything is imported. */
export const previewSchema = z.object({
  kind: z.enum(FILE_KINDS).nullable(),
  /** in words, where it is none that can be read */
  looksLike: z.string(),
  lines: z.array(z.string()),
  header: z.array(z.string()),
  mapping: mappingSchema.nullable(),
})
export type Preview = z.infer<typeof previewSchema>
