import { z } from 'zod'
import type { Block } from '../../columns/block.ts'
import { amountAt, rowOf } from '../../columns/block.ts'
import { eachView } from '../../columns/each-view.ts'
import { KIND_CODE, TRAIT_BIT } from '../../columns/event-codes.ts'
import { firstText } from '../../labels/first-text.ts'
import { addCounts, addOne } from '../../stats/counts.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question } from '../question.ts'

/** Times in fields are told apart to this many milliseconds: their median is that exact. */
const STEP_MS = 100

interface FieldFound {
  text: string
  /** views in which it was reached, and of these those in which it was filled at last, left empty, come back to */
  reached: number
  filled: number
  empty: number
  again: number
  /** times that its content was deleted */
  corrections: number
  /** views in which it was corrected, and those that ended at it, as far as the form was not sent */
  corrected: number
  last: number
  /** place among the fields of the view, added up */
  places: number
  /** views by time in it, in steps */
  times: Map<number, number>
}

interface FormFound {
  views: number
  started: number
  sent: number
  /** views in which the form was sent at all, accepted or not */
  tried: number
  fields: Map<number, FieldFound>
}

interface FormsFound {
  /** by page group */
  forms: Map<number, FormFound>
}

const fieldSchema = z.object({
  selector: z.string(),
  text: z.string().describe('its label'),
  reached: rateSchema.describe('views in which it was used, of those in which any field of the page was'),
  filled: rateSchema.describe(
    'of the views in which it was used, those in which something stood in it at last',
  ),
  empty: rateSchema.describe('of these, those in which it was left empty'),
  again: rateSchema.describe('of these, those in which it was come back to'),
  corrected: rateSchema.describe('of these, those in which content of it was deleted'),
  corrections: countSchema.describe('times that content of it was deleted'),
  medianMs: z.number().nullable().describe('time in it during a view; null where it is not known'),
  givenUp: rateSchema
    .nullable()
    .describe('of these, those in which it was the last one and the form was not sent; null: not measured'),
})
export type FormField = z.infer<typeof fieldSchema>

const formSchema = z.object({
  page: z.string(),
  views: countSchema.describe('views of the page'),
  started: rateSchema.describe('views in which a field was used, of all'),
  sent: rateSchema
    .nullable()
    .describe('of these, those in which a form was sent and not refused; null where none was ever sent'),
  fields: z.array(fieldSchema).describe('in the order in which they are usually used'),
})
export type Form = z.infer<typeof formSchema>

/**
 * What happens at the fields of forms, page by page. The unit is the view of a page: what was typed on an earlier view is
 * another try. A form is given up where a field was used and nothing was sent afterwards that was accepted, or of which that
 * is not known; where on a page nothing was ever sent, it cannot be told.
 */
export const forms = question({
  name: 'forms',
  summary: 'fields of forms: reached, filled, left empty, corrected, time in them, given up there',
  asked: z.strictObject({}),
  answer: z.object({ forms: z.array(formSchema).describe('those started in most views first') }),
  example: {},

  adds: true,
  scan(block, sessions, { names }, onto): FormsFound {
    const found: FormsFound = onto ?? { forms: new Map() }
    const { groupOf } = names.groups
    const { page } = block.events
    for (const s of sessions)
      eachView(block, s, (from, end) => {
        const form = formOf(found, groupOf[page[from]!]!)
        form.views++
        addView(form, block, from, end, names.families.familyOf, names.dictionaries.text.values)
      })
    return found
  },

  merge(a, b) {
    for (const [group, form] of b.forms) {
      const into = formOf(a, group)
      for (const of of ['views', 'started', 'sent', 'tried'] as const) into[of] += form[of]
      for (const [family, field] of form.fields) addField(fieldOf(into, family), field)
    }
    return a
  },

  finish({ forms: all }, { names }) {
    const listed = [...all].flatMap(([group, form]) => {
      if (!form.fields.size) return []
      const fields = [...form.fields]
        .sort(
          ([f, a], [g, b]) => a.places / a.reached - b.places / b.reached || b.reached - a.reached || f - g,
        )
        .map(([family, field]) => ({
          selector: names.families.names[family]!,
          text: field.text,
          reached: rate(field.reached, form.started),
          filled: rate(field.filled, field.reached),
          empty: rate(field.empty, field.reached),
          again: rate(field.again, field.reached),
          corrected: rate(field.corrected, field.reached),
          corrections: field.corrections,
          medianMs: medianOf(field.times),
          givenUp: form.tried ? rate(field.last, field.reached) : null,
        }))
      return {
        page: names.groups.names[group]!,
        views: form.views,
        started: rate(form.started, form.views),
        sent: form.tried ? rate(form.sent, form.started) : null,
        fields,
      }
    })
    return {
      forms: listed.sort((a, b) => b.started.hits - a.started.hits || a.page.localeCompare(b.page)),
    }
  },

  table: ({ forms: all }) => all.flatMap(({ page, fields }) => fields.map((field) => ({ page, ...field }))),
})

/** What one view of a page has to say of its fields. */
function addView(
  form: FormFound,
  block: Block,
  from: number,
  end: number,
  familyOf: Uint32Array,
  texts: readonly string[],
): void {
  const { kind, target, text, traits } = block.events
  /** by field its place, visits, and what stood in it at last */
  let used:
    | Map<number, { place: number; visits: number; length: number; ms: number; corrections: number }>
    | undefined
  let last = -1
  let isSent = false
  let isTried = false
  for (let i = from; i < end; i++) {
    if (kind[i] === KIND_CODE.submit) {
      isTried = true
      isSent = (traits[i]! & TRAIT_BIT.refused) === 0
    }
    if (kind[i] !== KIND_CODE.input) continue
    used ??= new Map()
    const family = familyOf[target[i]!]!
    const row = rowOf(block.events.hasMeasure, block.events.measuresBefore, i)
    const field = used.get(family) ?? { place: used.size, visits: 0, length: NaN, ms: NaN, corrections: 0 }
    used.set(family, field)
    field.visits++
    field.length = row < 0 ? NaN : block.measures.number[row]!
    const ms = amountAt(block, i)
    if (!Number.isNaN(ms)) field.ms = (Number.isNaN(field.ms) ? 0 : field.ms) + ms
    field.corrections += (row < 0 ? 0 : block.measures.detail[row]!) || 0
    last = family
    const found = fieldOf(form, family)
    found.text = firstText(found.text, texts[text[i]!]!)
  }
  if (isTried) form.tried++
  if (!used) return
  form.started++
  if (isSent) form.sent++
  for (const [family, { place, visits, length, ms, corrections }] of used) {
    const field = fieldOf(form, family)
    field.reached++
    if (length > 0) field.filled++
    if (length === 0) field.empty++
    if (visits > 1) field.again++
    if (corrections > 0) field.corrected++
    field.corrections += corrections
    field.places += place
    if (!Number.isNaN(ms)) addOne(field.times, Math.round(ms / STEP_MS))
    if (family === last && !isSent) field.last++
  }
}

function formOf({ forms: all }: FormsFound, group: number): FormFound {
  let form = all.get(group)
  if (!form) all.set(group, (form = { views: 0, started: 0, sent: 0, tried: 0, fields: new Map() }))
  return form
}

function fieldOf({ fields }: FormFound, family: number): FieldFound {
  let field = fields.get(family)
  if (!field) {
    field = {
      ...{ text: '', reached: 0, filled: 0, empty: 0, again: 0, corrections: 0, corrected: 0, last: 0 },
      ...{ places: 0, times: new Map() },
    }
    fields.set(family, field)
  }
  return field
}

function addField(into: FieldFound, field: FieldFound): void {
  into.text = firstText(into.text, field.text)
  for (const of of [
    'reached',
    'filled',
    'empty',
    'again',
    'corrections',
    'corrected',
    'last',
    'places',
  ] as const)
    into[of] += field[of]
  addCounts(into.times, field.times)
}

/** The middle time, the lower of two; null where there is none. */
function medianOf(times: ReadonlyMap<number, number>): number | null {
  const sorted = [...times].sort(([a], [b]) => a - b)
  const half = sorted.reduce((sum, [, n]) => sum + n, 0) / 2
  let before = 0
  for (const [step, n] of sorted) if ((before += n) >= half) return step * STEP_MS
  return null
}
