import { z } from 'zod'
import { rateSchema } from '@dust-trail/core'

/* What a mark shows besides its number: its trend, or a table of any question. */

/** How a cell reads. */
export const CELL_FORMS = ['text', 'count', 'percent', 'ms', 'decimal', 'moment'] as const
export type CellForm = (typeof CELL_FORMS)[number]

const columnSchema = z.object({
  of: z.string().min(1).max(120).describe('a column of the question’s table, as its CSV names it'),
  head: z.string().min(1).max(80).describe('what it is called'),
  as: z.enum(CELL_FORMS).describe('how its cells read'),
})
export type PictureColumn = z.infer<typeof columnSchema>

const MOST_ROWS = 20

export const shownSchema = z
  .discriminatedUnion('form', [
    z.object({ form: z.literal('figure') }),
    z.object({ form: z.literal('trend') }),
    z.object({
      form: z.literal('table'),
      title: z.string().min(1).max(120).describe('what the table is called'),
      question: z.string().max(60).describe('one that answers with a table, by its name'),
      asked: z.record(z.string(), z.unknown()).describe('what it is asked, besides the lens'),
      columns: z.array(columnSchema).min(1).max(6).describe('its columns, in their order'),
      rows: z.int().min(1).max(MOST_ROWS).describe('how many, from the first'),
    }),
  ])
  .describe('its number alone, the number over the days of its lens, or the first rows of a table')
export type Shown = z.infer<typeof shownSchema>
export type ShownTable = Extract<Shown, { form: 'table' }>

export const pictureSchema = z
  .discriminatedUnion('form', [
    z.object({
      form: z.literal('trend'),
      parts: z.array(z.object({ from: z.string(), to: z.string(), rate: rateSchema })),
    }),
    z.object({
      form: z.literal('table'),
      rows: z.array(z.array(z.union([z.string(), z.number(), z.boolean(), z.null()]))),
      more: z.number().describe('rows beyond those that are shown'),
    }),
  ])
  .nullable()
export type Picture = z.infer<typeof pictureSchema>
