import { z } from 'zod'
import type {
  ClickHeatResult,
  CloseUpResult,
  CsvMapping,
  DocumentRecording,
  FunnelResult,
  Interval,
  PathNode,
  PriceResult,
  Rate,
  SessionSummary,
} from '@dust-trail/core'
import {
  ATTRIBUTES,
  CAUSES,
  CLICK_SORTS,
  conditionSchema,
  DEVICE_CLASSES,
  distributionOptionsSchema,
  eventConditionSchema,
  eventValuesSchema,
  FILE_KINDS,
  funnelOptionsSchema,
  KINDS,
  LEAK_KINDS,
  lensSchema,
  LEVELS,
  noiseSchema,
  pathOptionsSchema,
  selectionSchema,
  sequenceOptionsSchema,
  SIGNAL_KINDS,
  stepsSchema,
  WATCH_ORDERS,
} from '@dust-trail/core'
import { itemSchema, snapshotSchema } from './batch.ts'
import { endpoint } from './endpoint.ts'

const nothing = z.undefined()
const done = z.object({ done: z.literal(true) })
const count = z.number().int().min(0)
const interval = z.tuple([z.number(), z.number()]) satisfies z.ZodType<Interval>

export const rateSchema = z.object({
  hits: count,
  base: count,
  share: z.number().nullable(),
  interval,
}) satisfies z.ZodType<Rate>

/* Sites */

export const siteSchema = z.object({
  key: z.string(),
  name: z.string(),
  origins: z.array(z.string()),
  timeZone: z.string(),
  currency: z.string(),
  sessionLimitMin: z.number(),
  goal: z.string(),
  /** days after which sessions, or only their recordings, are deleted; null keeps them */
  retentionDays: z.number().nullable(),
  recordingDays: z.number().nullable(),
  pageGroups: z.array(
    z.object({
      name: z.string(),
      pattern: z.string(),
      description: z.string().optional(),
      owner: z.string().optional(),
    }),
  ),
  /** first and last day with data, in the site's calendar; null where there is none */
  days: z.object({ from: z.string(), to: z.string() }).nullable(),
  sessions: count,
  /** when the last data arrived, milliseconds since 1970 */
  lastMs: z.number().nullable(),
  /** stored blocks that could not be read: their sessions are not in the answers */
  damaged: z.array(z.object({ id: z.number(), sessions: count, reason: z.string() })),
  /** stored blocks read since the start, on which alone questions are answered so far; null when all are */
  loading: z.object({ blocks: count, of: count }).nullable(),
  /** blocks that do not fit into memory and are read from the database with each question */
  streamed: count,
})
export type Site = z.infer<typeof siteSchema>

export const listSites = endpoint('GET', '/sites', nothing, z.array(siteSchema))

const siteAbout = z.object({
  name: z
    .string()
    .trim()
    .min(1, { error: 'Give the site a name.' })
    .max(80, { error: 'At most 80 characters.' }),
  origins: z.array(
    z.url({ error: 'Each address needs a scheme and a host, such as https://www.example.org.' }),
  ),
  timeZone: z
    .string()
    .refine(isTimeZone, { error: 'Give a time zone by its IANA name, such as Europe/Dublin.' }),
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, { error: 'Give a currency by its three letters (ISO 4217), such as EUR.' }),
  sessionLimitMin: z
    .number()
    .int({ error: 'Give whole minutes.' })
    .min(1, { error: 'At least 1 minute.' })
    .max(1440, { error: 'At most a day, 1440 minutes.' }),
})

const days = z
  .number()
  .int({ error: 'Give whole days.' })
  .min(1, { error: 'At least 1 day.' })
  .max(36_500, { error: 'At most 36,500 days.' })
  .nullable()
const retention = z.object({ retentionDays: days, recordingDays: days })

function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name })
    return name.length <= 64
  } catch {
    return false
  }
}

export const createSite = endpoint('POST', '/sites', siteAbout, siteSchema)

export const updateSite = endpoint(
  'PUT',
  '/sites/:site',
  z.object({
    ...siteAbout.shape,
    ...retention.shape,
    goal: z.string().max(500, { error: 'At most 500 characters.' }),
  }),
  siteSchema,
)

/** What would be deleted at once if data were kept no longer than this. */
export const previewRetention = endpoint(
  'POST',
  '/sites/:site/retention',
  retention,
  z.object({ sessions: count, recordings: count }),
)

/** Pages and clicked elements that a step can be made of, most seen first. */
export const catalogue = endpoint(
  'POST',
  '/sites/:site/catalogue',
  z.object({ lens: lensSchema }),
  z.object({
    sessions: count,
    pages: z.array(z.object({ page: z.string(), pattern: z.string(), sessions: count, clicks: count })),
    elements: z.array(
      z.object({ page: z.string(), selector: z.string(), text: z.string(), sessions: count }),
    ),
  }),
)
export type Catalogue = z.infer<typeof catalogue.answer>

/* Questions */

const waiting = z.object({
  medianMs: z.number().nullable(),
  p25Ms: z.number().nullable(),
  p75Ms: z.number().nullable(),
  histogram: z.array(count),
})

const funnelPart = z.object({
  label: z.string(),
  sessions: count,
  entered: count,
  converted: count,
  conversion: rateSchema,
  reached: z.array(count),
})

export const funnelResultSchema = z.object({
  sessions: count,
  entered: count,
  converted: count,
  steps: z.array(
    z.object({
      name: z.string(),
      sessions: count,
      ofPrevious: rateSchema,
      ofEntered: rateSchema,
      lost: count,
      leak: z.array(z.object({ kind: z.enum(LEAK_KINDS), page: z.string().nullable(), sessions: count })),
      toNext: waiting,
    }),
  ),
  byValue: z.array(funnelPart).optional(),
  overTime: z.array(funnelPart).optional(),
}) satisfies z.ZodType<FunnelResult>

export const askFunnel = endpoint(
  'POST',
  '/sites/:site/funnel',
  z.object({
    lens: lensSchema,
    steps: stepsSchema,
    options: funnelOptionsSchema.optional(),
    /** only how many: no leaks, no times */
    counts: z.boolean().default(false),
    /** handles of the sets of each step as well */
    sets: z.boolean().default(false),
  }),
  funnelResultSchema.extend({
    /** for each step: who reached it, who went on, who dropped off there; null where there is no next step */
    sets: z
      .array(
        z.object({ reached: z.string(), continued: z.string().nullable(), dropped: z.string().nullable() }),
      )
      .optional(),
  }),
)

/* Sets */

/** A set of sessions by a short-lived handle, and what it stands for: what to make it of again when it is forgotten. */
const setSchema = z.object({
  set: z.string(),
  size: rateSchema,
  definition: z.object({ lens: lensSchema, selection: selectionSchema }),
})
export const makeSet = endpoint(
  'POST',
  '/sites/:site/sets',
  z.object({ lens: lensSchema, selection: selectionSchema }),
  setSchema,
)
export const getSet = endpoint('GET', '/sites/:site/sets/:set', nothing, setSchema)

/** Deletes all that is known of one visitor: sessions, events, recordings. */
export const deleteVisitor = endpoint(
  'DELETE',
  '/sites/:site/visitors/:visitor',
  nothing,
  z.object({ sessions: count }),
)

const compared = {
  selected: rateSchema,
  against: rateSchema,
  difference: z.number().nullable(),
  interval,
}

const contrast = {
  selected: rateSchema,
  everyone: rateSchema,
  difference: z.number().nullable(),
  interval,
}

export const closeUpSchema = z.object({
  size: rateSchema,
  everyone: count,
  who: z.array(z.object({ attribute: z.enum(ATTRIBUTES), value: z.string(), ...contrast })),
  next: z.array(z.object({ page: z.string().nullable(), rate: rateSchema })),
  previous: z.array(z.object({ page: z.string().nullable(), rate: rateSchema })),
  troubles: z.array(
    z.object({
      kind: z.enum(SIGNAL_KINDS),
      technical: z.boolean(),
      page: z.string(),
      selector: z.string(),
      text: z.string(),
      ...contrast,
    }),
  ),
}) satisfies z.ZodType<CloseUpResult>

const question = { lens: lensSchema, selection: selectionSchema }
export const questionSchema = z.object(question)
export type Question = z.infer<typeof questionSchema>

export const askCloseUp = endpoint(
  'POST',
  '/sites/:site/close-up',
  questionSchema.extend({ against: selectionSchema.optional() }),
  closeUpSchema,
)

const pathNode: z.ZodType<PathNode> = z.lazy(() =>
  z.object({
    kind: z.enum(['page', 'click']),
    page: z.string(),
    selector: z.string().optional(),
    sessions: count,
    ended: count,
    next: z.array(pathNode),
  }),
)

/** Where the sessions of a selection went from its moment, or where they had come from; with a depth of 1 what came next. */
export const askPaths = endpoint(
  'POST',
  '/sites/:site/paths',
  z.object({ ...question, options: pathOptionsSchema.default(pathOptionsSchema.parse({})) }),
  z.object({ sessions: count, ended: count, places: count, next: z.array(pathNode) }),
)

/** Counts, quantiles and a histogram of a measure of the sessions of a selection, by any attribute. */
export const askDistribution = endpoint(
  'POST',
  '/sites/:site/distribution',
  z.object({
    ...question,
    options: distributionOptionsSchema.default(distributionOptionsSchema.parse({})),
  }),
  z.object({
    sessions: count,
    edges: z.array(z.number()),
    values: z.array(
      z.object({
        value: z.string(),
        sessions: count,
        known: count,
        mean: z.number().nullable(),
        least: z.number().nullable(),
        most: z.number().nullable(),
        quantiles: z.array(z.number().nullable()),
        histogram: z.array(count),
      }),
    ),
  }),
)

export const sessionSummarySchema = z.object({
  id: z.string(),
  visitor: z.string(),
  startMs: z.number(),
  durationMs: z.number(),
  device: z.enum(DEVICE_CLASSES).nullable(),
  browser: z.string(),
  system: z.string(),
  country: z.string(),
  channel: z.string(),
  returning: z.boolean(),
  pages: count,
  clicks: count,
  entry: z.string(),
  exit: z.string(),
  signals: z.array(z.object({ kind: z.enum(SIGNAL_KINDS), count })),
  momentMs: z.number().nullable(),
}) satisfies z.ZodType<SessionSummary>

export const listSessions = endpoint(
  'POST',
  '/sites/:site/sessions',
  z.object({
    ...question,
    order: z.enum(WATCH_ORDERS),
    offset: count.default(0),
    limit: count.min(1).max(200).default(50),
    /** `next` of the answer before: goes on after its last session, whatever has come in since */
    cursor: z.string().max(400).optional(),
  }),
  z.object({ total: count, sessions: z.array(sessionSummarySchema), next: z.string().nullable() }),
)

export const askClickHeat = endpoint(
  'POST',
  '/sites/:site/click-heat',
  z.object({ lens: lensSchema, page: z.string(), which: z.enum(CLICK_SORTS) }),
  z.object({
    viewers: count,
    clickers: rateSchema,
    clicks: count,
    elements: z.array(
      z.object({
        selector: z.string(),
        text: z.string(),
        texts: count,
        clicks: count,
        rage: count,
        dead: count,
        rate: rateSchema,
        spots: z.array(
          z.object({
            selector: z.string(),
            cells: z.array(z.tuple([count, count])),
            loose: z.array(z.tuple([z.number(), z.number(), count])),
          }),
        ),
      }),
    ),
    /** the recorded page to show it on: the one most of these sessions saw; null where none was recorded */
    snapshot: z.object({ hash: z.string(), sessions: count, of: count }).nullable(),
  }) satisfies z.ZodType<ClickHeatResult>,
)

export const getSnapshot = endpoint('GET', '/snapshots/:hash', nothing, snapshotSchema)

/* One session */

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
    damaged: count,
  }),
)

/* Funnels that are kept */

const named = z
  .string()
  .trim()
  .min(1, { error: 'Give it a name.' })
  .max(120, { error: 'At most 120 characters.' })
const owner = z.string().trim().max(120, { error: 'At most 120 characters.' }).default('')
const funnelFields = {
  name: named,
  steps: stepsSchema,
  options: funnelOptionsSchema.nullable().default(null),
  note: z.string().max(2000, { error: 'At most 2,000 characters.' }).default(''),
  owner,
  /** shown first */
  isDefault: z.coerce.boolean().default(false),
}
export const savedFunnelSchema = z.object({ id: z.number(), ...funnelFields })
export type SavedFunnel = z.infer<typeof savedFunnelSchema>
export const listFunnels = endpoint('GET', '/sites/:site/funnels', nothing, z.array(savedFunnelSchema))
export const createFunnel = endpoint(
  'POST',
  '/sites/:site/funnels',
  z.object(funnelFields),
  savedFunnelSchema,
)
export const updateFunnel = endpoint(
  'PUT',
  '/sites/:site/funnels/:id',
  z.object(funnelFields),
  savedFunnelSchema,
)
export const deleteFunnel = endpoint('DELETE', '/sites/:site/funnels/:id', nothing, done)

/* Labels */

const actionFields = {
  name: named,
  rule: eventConditionSchema,
  description: z.string().max(2000).default(''),
  owner,
}
/** A named thing that visitors do, and what would not be the same without it. */
const actionSchema = z.object({ id: z.number(), ...actionFields, usedBy: z.array(z.string()) })
export type Action = z.infer<typeof actionSchema>
export const listActions = endpoint('GET', '/sites/:site/actions', nothing, z.array(actionSchema))
export const createAction = endpoint('POST', '/sites/:site/actions', z.object(actionFields), actionSchema)
export const updateAction = endpoint('PUT', '/sites/:site/actions/:id', z.object(actionFields), actionSchema)
export const deleteAction = endpoint('DELETE', '/sites/:site/actions/:id', nothing, done)

/** By page group what would not be the same without it, in words; those that nothing uses are left out. */
export const listPageGroupUses = endpoint(
  'GET',
  '/sites/:site/page-groups/uses',
  nothing,
  z.record(z.string(), z.array(z.string())),
)

/**
 * Replaces the rules of a site's page groups; they count for the past as well. Refused where a name would be gone that
 * something uses.
 */
export const savePageGroups = endpoint(
  'PUT',
  '/sites/:site/page-groups',
  z.object({
    pageGroups: z
      .array(
        z.object({
          name: named,
          pattern: z
            .string()
            .trim()
            .max(500)
            .regex(/^\//, { error: 'A pattern begins with /, as in /nights/:id.' }),
          description: z.string().max(2000, { error: 'At most 2,000 characters.' }).optional(),
          owner: owner.optional(),
        }),
      )
      .max(500, { error: 'At most 500 rules.' }),
  }),
  siteSchema,
)

/** What events of a kind hold, each value with the sessions in which it occurs. */
export const askEventValues = endpoint(
  'POST',
  '/sites/:site/event-values',
  z.object({ lens: lensSchema, ...eventValuesSchema.shape }),
  z.object({ values: z.array(z.object({ value: z.string(), sessions: count })) }),
)

/** All addresses that were seen, by sessions. */
export const listUrls = endpoint(
  'POST',
  '/sites/:site/urls',
  z.object({ lens: lensSchema }),
  z.array(z.object({ path: z.string(), sessions: count, views: count })),
)

/* Segments */

/** What makes a segment out of the one it was cut from: a condition that its sessions meet, and noise that is left out. */
export const cutSchema = z.object({
  condition: conditionSchema.nullable(),
  clean: z.array(noiseSchema).max(10).default([]),
})
export type Cut = z.infer<typeof cutSchema>
const segmentFields = { name: named, note: z.string().max(2000).default(''), owner }
const segmentSchema = z.object({
  id: z.number(),
  parentId: z.number().nullable(),
  ...segmentFields,
  cut: cutSchema,
  createdMs: z.number(),
})
export type Segment = z.infer<typeof segmentSchema>
export const listSegments = endpoint('GET', '/sites/:site/segments', nothing, z.array(segmentSchema))
export const createSegment = endpoint(
  'POST',
  '/sites/:site/segments',
  z.object({ ...segmentFields, parentId: z.number().nullable().default(null), cut: cutSchema }),
  segmentSchema,
)
export const updateSegment = endpoint(
  'PUT',
  '/sites/:site/segments/:id',
  z.object(segmentFields),
  segmentSchema,
)
export const deleteSegment = endpoint('DELETE', '/sites/:site/segments/:id', nothing, done)

/** How many sessions each of several questions picks. */
export const askSizes = endpoint(
  'POST',
  '/sites/:site/sizes',
  z.object({ questions: z.array(questionSchema).min(1).max(200) }),
  z.object({ sizes: z.array(rateSchema) }),
)

const token = z.object({ kind: z.enum(KINDS), page: z.string(), what: z.string() })

/** What happens in the sessions of a selection, beside others. */
export const askContents = endpoint(
  'POST',
  '/sites/:site/contents',
  z.object({ ...question, against: selectionSchema.optional(), level: z.enum(LEVELS).default('page') }),
  z.object({
    sessions: count,
    against: count,
    contents: z.array(token.extend({ events: count, ...compared })),
  }),
)

/** The sessions of a selection, event by event, the newest first. */
export const askSequences = endpoint(
  'POST',
  '/sites/:site/sequences',
  z.object({ ...question, options: sequenceOptionsSchema.default(sequenceOptionsSchema.parse({})) }),
  z.object({
    total: count,
    tokens: z.array(token),
    sequences: z.array(
      z.object({
        id: z.string(),
        startMs: z.number(),
        momentMs: z.number().nullable(),
        tokens: z.array(count),
        atMs: z.array(z.number()),
        more: count,
      }),
    ),
  }),
)

export type SequencesResult = z.infer<typeof askSequences.answer>
export type Token = z.infer<typeof token>

/** What lies between the steps of a funnel: pages that most see on the way, and what went wrong at each step. */
export const askBetween = endpoint(
  'POST',
  '/sites/:site/between',
  z.object({ lens: lensSchema, steps: stepsSchema, options: funnelOptionsSchema.optional() }),
  z.array(
    z.object({
      continued: count,
      lost: count,
      missing: z.array(z.object({ page: z.string(), rate: rateSchema })),
      causes: z.array(
        z.object({
          cause: z.enum([...CAUSES, 'any technical']),
          lost: rateSchema,
          continued: rateSchema,
          difference: z.number().nullable(),
          interval,
        }),
      ),
    }),
  ),
)

/* Fixes */

export const EFFORTS = ['hours', 'days', 'weeks'] as const
export const FIX_STATUSES = ['proposed', 'accepted', 'in work', 'shipped', 'dropped'] as const

const fixFields = {
  title: z
    .string()
    .trim()
    .min(1, { error: 'Give the fix a title.' })
    .max(160, { error: 'At most 160 characters.' }),
  hypothesis: z.string().trim().min(1, { error: 'Say what you saw and what you believe.' }).max(4000),
  change: z.string().trim().max(4000),
  effort: z.enum(EFFORTS),
  status: z.enum(FIX_STATUSES),
}
export const priceSchema = z.object({
  met: rateSchema,
  others: rateSchema,
  difference: z.number().nullable(),
  interval,
  lost: z.number().nullable(),
  lostInterval: interval,
}) satisfies z.ZodType<PriceResult>

export const fixSchema = z.object({
  id: z.number(),
  ...fixFields,
  /** what was being looked at when the fix was proposed */
  lens: lensSchema,
  /** the problem: its sessions are those that met it */
  selection: selectionSchema,
  /** the numbers on the day it was written down, through the lens of that day */
  evidence: priceSchema,
  /** session that shows it best */
  sessionId: z.string().nullable(),
  createdMs: z.number(),
  updatedMs: z.number(),
})
export type Fix = z.infer<typeof fixSchema>

export const listFixes = endpoint(
  'POST',
  '/sites/:site/fixes/list',
  z.object({ lens: lensSchema }),
  z.array(z.object({ fix: fixSchema, price: priceSchema })),
)
export const getFix = endpoint(
  'POST',
  '/sites/:site/fixes/:id/show',
  z.object({ lens: lensSchema }),
  z.object({ fix: fixSchema, price: priceSchema }),
)
export const createFix = endpoint(
  'POST',
  '/sites/:site/fixes',
  z.object({ ...fixFields, ...question, sessionId: z.string().nullable() }),
  fixSchema,
)
export const updateFix = endpoint('PUT', '/sites/:site/fixes/:id', z.object(fixFields), fixSchema)
export const deleteFix = endpoint('DELETE', '/sites/:site/fixes/:id', nothing, done)
export const askPrice = endpoint('POST', '/sites/:site/price', questionSchema, priceSchema)

/* Trails */

/** What a mark measures: a selection's sessions of its base, computed anew whenever it is looked at. */
const markFields = {
  /** where it was set, so that it can be gone back to: path and query of the address */
  address: z.string().startsWith('/').max(16_000),
  /** what the view showed, in words */
  view: z.string().min(1).max(300),
  sentence: z.string().trim().max(1000),
  question: questionSchema,
}
export const markSchema = z.object({
  id: z.number(),
  ...markFields,
  /** numbers on the day it was set */
  then: rateSchema,
  /** the same numbers now */
  now: rateSchema,
  createdMs: z.number(),
})
export type Mark = z.infer<typeof markSchema>
export const trailSchema = z.object({ id: z.number(), name: z.string(), marks: z.array(markSchema) })
export type Trail = z.infer<typeof trailSchema>

const trailName = z.object({
  name: z
    .string()
    .trim()
    .min(1, { error: 'Give the trail a name.' })
    .max(120, { error: 'At most 120 characters.' }),
})
export const listTrails = endpoint('GET', '/sites/:site/trails', nothing, z.array(trailSchema))
export const createTrail = endpoint('POST', '/sites/:site/trails', trailName, trailSchema)
export const renameTrail = endpoint('PUT', '/sites/:site/trails/:id', trailName, trailSchema)
export const deleteTrail = endpoint('DELETE', '/sites/:site/trails/:id', nothing, done)
export const addMark = endpoint('POST', '/sites/:site/trails/:id/marks', z.object(markFields), markSchema)
export const updateMark = endpoint(
  'PUT',
  '/sites/:site/marks/:id',
  z.object({ sentence: markFields.sentence }),
  markSchema,
)
export const deleteMark = endpoint('DELETE', '/sites/:site/marks/:id', nothing, done)
export const orderMarks = endpoint(
  'PUT',
  '/sites/:site/trails/:id/order',
  z.object({ marks: z.array(z.number()) }),
  trailSchema,
)

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
