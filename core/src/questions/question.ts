import type { z } from 'zod'
import type { Block } from '../columns/block.ts'
import type { FinishInParts, Scan, Steps } from '../columns/scan.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Goal } from '../labels/goals.ts'
import type { Names } from '../labels/names.ts'
import type { Lens, Selection } from '../select/grammar/conditions.ts'

/** What every question may use besides what it is asked. */
export interface Context {
  /** what the codes of the columns mean */
  names: Names
  /** through which the question is asked; the sessions that are scanned lie in it already */
  lens: Lens
  /** of the site, by its IANA name */
  timeZone: string
  /** page whose view is the site's conversion; "" where none is set, or it is something else */
  goal: string
  /** what the site wants its visitors to do, the main goal first; where it is missing the page alone */
  goals?: readonly Goal[] | undefined
}

/** Gets what a question needs to know before it can be scanned. */
export interface Asking {
  /** The result of another scan, through the lens of the question. */
  ask<Spec extends object, Found, Result>(
    scan: Scan<Spec & Context, Found, Result>,
    spec: Omit<Spec, keyof Context>,
  ): Promise<Result>
  /** A selection in which every funnel over visitors, however deep, knows its visitors. */
  complete<S extends Selection | undefined>(selection: S): Promise<S>
}

/** A row of a table: cells by column; objects within become columns with dotted names. */
export type Row = Record<string, unknown>

/** How much one question may ask for. */
export interface QuestionLimits {
  /** parts of a trend */
  trendParts: number
}
/** Why a question is not answered; where it asks for too much, a budget is what it met. */
export type Refused = string | { budget: string }
export const QUESTION_LIMITS: QuestionLimits = { trendParts: 1500 }

/** What is the same of every question, for what is done with all of them alike. */
export interface AnyQuestion extends Scan<object, object, unknown> {
  /** in its address, its CSV and between threads */
  readonly name: string
  /** what it finds out, in a phrase */
  readonly summary: string
  /** what is asked, besides the lens */
  readonly asked: z.ZodObject
  readonly answer: z.ZodType
  /** something that can be asked, for the description of the API and for tests */
  readonly example: object
  /** why it is not answered through a lens, though what is asked is well-formed; undefined where it is */
  refuse?(asked: object, lens: Lens, limits: QuestionLimits): Refused | undefined
  /** finds out what must be known before the scan; what it gives is added to what is asked */
  needs?(asked: object, asking: Asking): Promise<object>
  /** makes the answer of what threads hand over, where that has another form */
  toAnswer?(result: unknown): unknown
  /** the answer as a table, where it is one */
  table?(answer: unknown): Row[]
}

/** What a scan of a question is given. */
export type SpecOf<Asked extends z.ZodObject, Needed = object> = z.output<Asked> & Context & Needed

/** A question that can be asked: declared once, and everything else follows. See docs/a-new-question.md. */
export interface Question<
  Asked extends z.ZodObject = z.ZodObject,
  Answer extends z.ZodType = z.ZodType,
  Found = object,
  Needed = object,
  Result = z.input<Answer>,
> extends Scan<SpecOf<Asked, Needed>, Found, Result> {
  readonly summary: string
  readonly asked: Asked
  readonly answer: Answer
  readonly example: z.input<Asked>
  refuse?(asked: z.output<Asked>, lens: Lens, limits: QuestionLimits): Refused | undefined
  needs?(asked: z.output<Asked>, asking: Asking): Promise<Needed>
  toAnswer?(result: Result): z.input<Answer>
  table?(answer: z.output<Answer>): Row[]
}

/** The part of a question that whoever asks it needs. */
export type AskableQuestion<Asked extends z.ZodObject, Answer extends z.ZodType> = Pick<
  Question<Asked, Answer>,
  'name' | 'asked' | 'answer' | 'table'
>

/** What a question answers. */
export type AnswerOf<Q extends { answer: z.ZodType }> = z.output<Q['answer']>

/** What is declared of a question whose finish gives the answer itself. */
interface Declared<Asked extends z.ZodObject, Answer extends z.ZodType, Found, Needed, Result> {
  name: string
  summary: string
  asked: Asked
  answer: Answer
  example: z.input<Asked>
  refuse?(asked: z.output<Asked>, lens: Lens, limits: QuestionLimits): Refused | undefined
  needs?(asked: z.output<Asked>, asking: Asking): Promise<Needed>
  adds?: boolean
  scan(block: Block, sessions: SessionSet, spec: SpecOf<Asked, Needed>, onto?: Found): Found
  pack?(found: Found): Found
  merge(a: Found, b: Found): Found
  finish(total: Found, spec: SpecOf<Asked, Needed>): Result
  finishInSteps?(total: Found, spec: SpecOf<Asked, Needed>): Steps<Result>
  parts?: FinishInParts<SpecOf<Asked, Needed>, Found>
  table?(answer: z.output<Answer>): Row[]
}

/** Declares a question. */
export function question<Asked extends z.ZodObject, Answer extends z.ZodType, Found, Needed = object>(
  declared: Declared<Asked, Answer, Found, Needed, z.input<Answer>>,
): Question<Asked, Answer, Found, Needed> {
  return declared
}

/** Declares a question whose result is handed between threads as columns, and becomes the answer only where it is given. */
export function columnQuestion<
  Asked extends z.ZodObject,
  Answer extends z.ZodType,
  Found,
  Result,
  Needed = object,
>(
  declared: Declared<Asked, Answer, Found, Needed, Result> & {
    toAnswer(result: Result): z.input<Answer>
  },
): Question<Asked, Answer, Found, Needed, Result> {
  return declared
}

/** What a question about a selection needs: which visitors it means, where it is about visitors. */
export async function selectionNeeds<S extends Selection>(
  { selection }: { selection: S },
  { complete }: Asking,
): Promise<{ selection: S }> {
  return { selection: await complete(selection) }
}
