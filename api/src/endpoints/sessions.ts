import { z } from 'zod'
import type { DocumentRecording, MissingPart } from '@dust-trail/core'
import { countSchema, KINDS, sessionSummarySchema, SIGNAL_KINDS, storySchema } from '@dust-trail/core'
import { itemSchema, snapshotSchema } from '../batch.ts'
import { endpoint } from '../endpoint.ts'
import { nothing, questionSchema } from './parts.ts'

/* One session */

/** A page as it was recorded, with its pictures and fonts that are kept: hash by address. */
export const getSnapshot = endpoint(
  'GET',
  '/sites/:site/snapshots/:hash',
  nothing,
  snapshotSchema.extend({ files: z.record(z.string(), z.string()) }),
)

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
  z.object({ summary: sessionSummarySchema, moments: z.array(momentSchema), story: storySchema }),
)

/** Its lines as they were taken in, in their order. */
export const getLines = endpoint(
  'GET',
  '/sites/:site/sessions/:id/lines',
  nothing,
  z.object({ lines: z.array(z.looseObject({ t: z.number(), kind: z.string() })) }),
)
export type SessionLine = z.output<(typeof getLines)['answer']>['lines'][number]

/** Part of the page in the window, CSS px. */
export const boxSchema = z.object({ x: z.number(), y: z.number(), w: z.number(), h: z.number() })
const tagSchema = z.string().trim().min(1).max(40)
const lengthMs = countSchema.max(2 ** 32 - 1)

/** What people have said of a session, and what they gave away of it. */
export const saidSchema = z.object({
  notes: z.array(
    z.object({
      id: countSchema,
      atMs: z.number(),
      box: boxSchema.nullable(),
      text: z.string(),
      who: z.string(),
      madeMs: z.number(),
    }),
  ),
  tags: z.array(z.string()),
  /** the person who asks has watched it */
  watched: z.boolean(),
  links: z.array(
    z.object({
      id: countSchema,
      fromMs: z.number(),
      toMs: z.number().nullable(),
      untilMs: z.number(),
      who: z.string(),
    }),
  ),
})
export type Said = z.infer<typeof saidSchema>

const ONE = '/sites/:site/sessions/:id'
export const getSaid = endpoint('GET', `${ONE}/said`, nothing, saidSchema)
export const addNote = endpoint(
  'POST',
  `${ONE}/notes`,
  z.object({
    atMs: lengthMs.describe('since the start of the session'),
    box: boxSchema.nullable().default(null).describe('the part of the page that is meant'),
    text: z.string().trim().min(1).max(2000).describe('the note'),
  }),
  saidSchema,
)
export const deleteNote = endpoint('DELETE', `${ONE}/notes/:note`, nothing, saidSchema)
export const setTags = endpoint(
  'PUT',
  `${ONE}/tags`,
  z.object({ tags: z.array(tagSchema).max(20).describe('in place of those that are there') }),
  saidSchema,
)
export const setWatched = endpoint(
  'PUT',
  `${ONE}/watched`,
  z.object({ watched: z.boolean().describe('by the person who asks') }),
  saidSchema,
)
export const addLink = endpoint(
  'POST',
  `${ONE}/links`,
  z.object({
    fromMs: lengthMs.default(0).describe('where what is shown begins'),
    toMs: lengthMs.nullable().default(null).describe('where it ends; null = the end'),
    days: z.int().min(1).max(90).describe('how long it can be opened'),
  }),
  z.object({ path: z.string().describe('where it is shown, without an account; told once') }),
)
export const deleteLink = endpoint('DELETE', `${ONE}/links/:link`, nothing, saidSchema)

/** What has been said of sessions of a site: which have been watched, and which tags there are. */
export const listSaid = endpoint(
  'GET',
  '/sites/:site/said',
  nothing,
  z.object({
    watched: z.array(z.string()),
    tags: z.array(z.object({ tag: z.string(), sessions: z.array(z.string()) })),
    noted: z.array(z.string()),
  }),
)

export const documentRecordingSchema = z.object({
  document: z.string(),
  startMs: z.number(),
  snapshot: snapshotSchema,
  items: z.array(itemSchema),
  files: z
    .record(z.string(), z.string())
    .optional()
    .describe('pictures and fonts that are kept: hash by address'),
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
    /** what never arrived, in milliseconds since its document began */
    missing: z.array(
      z.object({
        document: z.string(),
        startMs: z.number(),
        fromMs: z.number(),
        toMs: z.number(),
        pieces: countSchema,
        whole: z.boolean(),
      }) satisfies z.ZodType<MissingPart>,
    ),
  }),
)

/** Sessions of a selection by what was on their pages, and by what people have said of them. */
export const findSessions = endpoint(
  'POST',
  '/sites/:site/find-sessions',
  z.object({
    ...questionSchema.shape,
    words: z
      .string()
      .trim()
      .min(2)
      .max(200)
      .nullable()
      .default(null)
      .describe('on a page: a text, or an element as in CSS: #id, .class, [name=value], tag.class'),
    tag: tagSchema.nullable().default(null).describe('only those with this tag'),
    unwatched: z.boolean().default(false).describe('only those that the person who asks has not watched'),
  }),
  z.object({
    /** the latest first, at most 200 */
    sessions: z.array(sessionSummarySchema),
    found: countSchema,
    looked: countSchema.describe('of these, the latest first, within the time there is'),
    of: countSchema,
  }),
)
