import type { CellForm, ShownTable } from '@dust-trail/api'
import type { AskableQuestion } from '@dust-trail/core'
import type { z } from 'zod'
import { count, duration, moment, percent } from '../ui/format.ts'

/** A column of the question's table, what it is called, and how it reads; texts where nothing is said. */
type Column = readonly [of: string, head: string, as?: CellForm]

/** How many rows of a table are kept on a trail or stand on the first screen. */
const ROWS = 10

/** A table of a view as it can be kept: the first rows of what a question answers, by some of its columns. */
export function keptTable<A extends z.ZodObject, Answer extends z.ZodType>(
  question: AskableQuestion<A, Answer>,
  title: string,
  asked: NoInfer<z.input<A>>,
  columns: readonly Column[],
): ShownTable {
  return {
    ...{ form: 'table', title, question: question.name, asked, rows: ROWS },
    columns: columns.map(([of, head, as = 'text']) => ({ of, head, as })),
  }
}

export type Cell = string | number | boolean | null

/** A cell as it reads. */
export function cellText(value: Cell, as: CellForm, timeZone: string): string {
  if (value === null || value === '') return '–'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'string') return value
  switch (as) {
    case 'percent':
      return percent(value)
    case 'ms':
      return duration(value)
    case 'decimal':
      return value.toLocaleString('en-GB', { maximumFractionDigits: 1 })
    case 'moment':
      return moment(value, timeZone)
    case 'count':
    case 'text':
      return count(value)
  }
}
