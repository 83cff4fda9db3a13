import { z } from 'zod'
import type { DocumentRecording } from '@dust-trail/core'
import { countSchema, KINDS, sessionSummarySchema, SIGNAL_KINDS } from '@dust-trail/core'
import { itemSchema, snapshotSchema } from '../batch.ts'
import { endpoint } from '../endpoint.ts'
import { nothing } from './parts.ts'

/* One session */

export const getSnapshot = endpoint('GET', '/snapshots/:hash', nothing, snapshotSchema)

export const momentSchema = z.object({
  atMs: z.number(),
  kind: z.union([z.enum(KINDS), z.enum(SIGNAL_KINDS)]),
  /** true for a detected signal */
  signal: z.boolean(),
  page: z.string(),
  label: z.string(),
  selector: z.string(),
})
export type SessionMoment = z.infer<typeof momentSchema>

export const getSession = endpoint(
  'GET',
  '/sites/:site/sessions/:id',
  nothing,
  z.object({ summary: sessionSummarySchema, moments: z.array(momentSchema) }),
)

export const documentRecordingSchema = z.object({
  document: z.string(),
  startMs: z.number(),
  snapshot: snapshotSchema,
  items: z.array(itemSchema),
}) satisfies z.ZodType<DocumentRecording>

export const getRecording = endpoint(
  'GET',
  '/sites/:site/sessions/:id/recording',
  nothing,
  z.object({
    startMs: z.number(),
    endMs: z.number(),
    documents: z.array(documentRecordingSchema),
    /** pieces that were damaged and left out */
    damaged: countSchema,
  }),
)
