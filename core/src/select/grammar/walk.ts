import { z } from 'zod'
import { eventConditionSchema } from '../../labels/event-condition.ts'

/** What the steps of paths are. */
export const PATH_PARTS = [
  'pages',
  'pages and clicks',
  'pages and actions',
  'clicks',
  'actions',
  'addresses',
  'titles',
] as const
export type PathParts = (typeof PATH_PARTS)[number]

export const placeShape = {
  kind: z.enum(['page', 'click', 'action', 'address', 'title']),
  page: z.string().describe('page group, address or title; of a click or an action the page group it was on'),
  selector: z.string().optional().describe('of a click: the element’s selector'),
  name: z.string().optional().describe('of an action'),
}
const placeSchema = z.object(placeShape)
/** One step of a path. */
export type Place = z.infer<typeof placeSchema>

const several = z.array(eventConditionSchema).max(20)

/** How paths are walked through a session. */
export const walkShape = {
  of: z.enum(PATH_PARTS).default('pages').describe('what the steps are'),
  ofSteps: z
    .array(z.enum(PATH_PARTS))
    .max(10)
    .optional()
    .describe('what each step is, in place of `of`; the last one holds for further steps'),
  fold: z.boolean().default(true).describe('equal steps one after another count as one'),
  leftOut: several.optional().describe('events that count as if they had not happened'),
  start: eventConditionSchema.optional().describe('where paths begin, in place of the selection’s moment'),
  at: z
    .enum(['first', 'last', 'every'])
    .optional()
    .describe('at which event of `start` or a page paths begin; every: each is a path; left out: the first'),
  until: eventConditionSchema.optional().describe('paths end with the first such event'),
  per: z
    .enum(['session', 'visitor'])
    .optional()
    .describe(
      'visitor: the sessions of a visitor in the lens are walked as one, in order of time; left out: session',
    ),
}
export const walkSchema = z.strictObject(walkShape)
export type Walk = z.infer<typeof walkSchema>

/** Where a path was at one of its steps: a page group by its name, anything as it stands in a path; null = anywhere. */
export const pathPartSchema = z.union([z.string(), z.null(), placeSchema.strict()])
export type PathPart = z.infer<typeof pathPartSchema>

/** A place as one text, the same for places that are the same. */
export function placeText({ kind, page, selector, name }: Place): string {
  return `${page}\n${kind}\n${selector ?? ''}\n${name ?? ''}`
}
