import { z } from 'zod'
import type { CsvMapping } from '@dust-trail/core'
import { countSchema, FILE_KINDS } from '@dust-trail/core'
import { endpoint } from '../endpoint.ts'
import { done, nothing } from './parts.ts'

/* Data in */

export const IMPORT_STATES = ['running', 'done', 'stopped', 'refused', 'failed'] as const

export const mappingSchema = z.object({
  columns: z.record(z.string(), z.string()),
  constants: z.record(z.string(), z.string()),
}) satisfies z.ZodType<CsvMapping>

export const badLineSchema = z.object({ line: countSchema, field: z.string(), reason: z.string() })
export type BadLine = z.infer<typeof badLineSchema>

export const importSchema = z.object({
  id: z.number(),
  name: z.string(),
  kind: z.enum(FILE_KINDS),
  mapping: mappingSchema.nullable(),
  state: z.enum(IMPORT_STATES),
  progress: z.object({
    bytes: countSchema,
    totalBytes: countSchema,
    lines: countSchema,
    good: countSchema,
    bad: countSchema,
    repeated: countSchema,
    skipped: z.record(z.string(), countSchema),
  }),
  /** the first few; all that are kept can be downloaded */
  problems: z.array(badLineSchema),
  message: z.string(),
  startedMs: z.number(),
  endedMs: z.number().nullable(),
  /** the version of answers from which on it is in them (header dust-trail-version); null while it is not */
  version: z.number().nullable(),
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
