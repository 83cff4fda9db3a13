import { z } from 'zod'
import { selectionSchema } from '../../select/grammar/conditions.ts'
import { momentOf } from '../../select/selected-sessions.ts'
import { goalMs } from '../../select/goal-times.ts'
import { selectSessions } from '../../select/sessions.ts'
import type { Interval } from '../../stats/interval.ts'
import { difference, differenceShape, intervalSchema, rate, rateSchema } from '../../stats/rate.ts'
import { question, selectionNeeds } from '../question.ts'

interface PriceFound {
  met: number
  metConverted: number
  others: number
  othersConverted: number
}

export const priceSchema = z.object({
  met: rateSchema.describe('conversion of the sessions that met it'),
  others: rateSchema.describe('conversion of those who saw the page and did not meet it'),
  /** others minus met, as shares; null where one of the two is empty */
  ...differenceShape,
  lost: z
    .number()
    .nullable()
    .describe(
      'conversions that the sessions which met it would have made at the others’ rate, less those they made',
    ),
  lostInterval: intervalSchema,
})
export type PriceAnswer = z.infer<typeof priceSchema>

/**
 * What a problem goes along with: conversion of the sessions that met it beside that of the others who saw the same
 * page. A conversion counts only after the moment it was met (for the others: after their first view of the page).
 * A plain comparison: the two groups can differ in more than the problem.
 */
export const price = question({
  name: 'price',
  summary: 'what a problem costs: conversions of those who met it beside those who did not',
  asked: z.strictObject({ selection: selectionSchema }),
  answer: priceSchema,
  example: { selection: { type: 'clicks', page: '/', which: 'dead' } },
  needs: selectionNeeds,

  scan(block, sessions, spec) {
    const { selection, names } = spec
    const met = selectSessions(block, sessions, selection, names)
    const page =
      'page' in selection && selection.type !== 'funnel' ? (selection.page ?? undefined) : undefined
    const seen =
      page === undefined ? undefined : selectSessions(block, sessions, { type: 'page', page }, names)
    const lastGoalMs = goalMs(block, spec, 'last')
    const found: PriceFound = { met: 0, metConverted: 0, others: 0, othersConverted: 0 }
    for (const s of met.base) {
      const isMet = met.sessions.has(s)
      const since = isMet ? momentOf(block, met, s) : seen && momentOf(block, seen, s)
      const wonMs = lastGoalMs(s)
      const won = Number.isNaN(wonMs) || wonMs < (since ?? 0) ? 0 : 1
      if (isMet) {
        found.met++
        found.metConverted += won
      } else {
        found.others++
        found.othersConverted += won
      }
    }
    return found
  },

  merge: (a, b) => ({
    met: a.met + b.met,
    metConverted: a.metConverted + b.metConverted,
    others: a.others + b.others,
    othersConverted: a.othersConverted + b.othersConverted,
  }),

  finish({ met, metConverted, others, othersConverted }) {
    const ofMet = rate(metConverted, met)
    const ofOthers = rate(othersConverted, others)
    const gap = difference(ofOthers, ofMet)
    const [low, high] = gap.interval
    return {
      met: ofMet,
      others: ofOthers,
      ...gap,
      lost: gap.difference === null ? null : gap.difference * met,
      lostInterval: [low * met, high * met] as Interval,
    }
  },
})
