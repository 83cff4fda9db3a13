import type { Picture, Question, Shown, ShownTable } from '@dust-trail/api'
import { flat } from '@dust-trail/api'
import type { Lens } from '@dust-trail/core'
import { dayOf, equalParts, registry, size } from '@dust-trail/core'
import type { LoadedSite } from '../engine/engines.ts'
import { invalid, ProblemError } from '../problem.ts'

/** A trend beside a number has no room for more. */
const MOST_PARTS = 14

/**
 * What a mark shows besides its number, counted now; null where that is all it shows.
 *
 * @throws ProblemError 400 where its table cannot be asked
 */
export async function pictureOf(site: LoadedSite, question: Question, shows: Shown): Promise<Picture> {
  if (shows.form === 'figure') return null
  return shows.form === 'trend' ? trendOf(site, question) : tableOf(site, question.lens, shows)
}

async function trendOf({ engine, row }: LoadedSite, { lens, selection }: Question): Promise<Picture> {
  const starts = equalParts(lens, row.timeZone, MOST_PARTS)
  const from = starts.map((startMs) => dayOf(startMs, row.timeZone))
  const parts = from.map(async (day, k) => {
    const next = from[k + 1]
    const to = next === undefined ? lens.to : dayBefore(next)
    return { from: day, to, rate: await engine.ask(size, { ...lens, from: day, to }, { selection }) }
  })
  return { form: 'trend', parts: await Promise.all(parts) }
}

const dayBefore = (day: string) => new Date(Date.parse(day) - 86_400_000).toISOString().slice(0, 10)

async function tableOf(
  { engine }: LoadedSite,
  lens: Lens,
  { question: name, asked, columns, rows: most }: ShownTable,
): Promise<Picture> {
  const question = registry.questions.find((one) => one.name === name)
  if (!question?.table)
    throw new ProblemError(
      400,
      'invalid-input',
      `No question that answers with a table is called “${name}”.`,
      'Take the name of one from the description of the API.',
    )
  const checked = question.asked.strict().safeParse(asked)
  if (!checked.success) throw invalid(checked.error, 'What the table asks')
  const result = await engine.askAny(question, lens, checked.data)
  const rows = question.table(question.toAnswer ? question.toAnswer(result) : result)
  return {
    form: 'table',
    rows: rows.slice(0, most).map((row) => {
      const cells = flat(row)
      return columns.map(({ of }) => cellOf(cells[of]))
    }),
    more: Math.max(0, rows.length - most),
  }
}

function cellOf(value: unknown): string | number | boolean | null {
  return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' ? value : null
}
