import { z } from 'zod'
import type { Goal } from '../../labels/goals.ts'
import { fromParts, toParts } from '../../labels/money.ts'
import { textColumn, textValues } from '../../select/attributes.ts'
import { goalAmounts, goalEvents, mainGoal } from '../../select/goal-times.ts'
import { SESSION_TEXTS } from '../../select/grammar/attributes.ts'
import { equalParts } from '../../select/trend.ts'
import { addColumn } from '../../stats/counts.ts'
import { lowerBound } from '../../stats/lower-bound.ts'
import { countSchema, rate, rateSchema } from '../../stats/rate.ts'
import type { Context } from '../question.ts'
import { question } from '../question.ts'

/** A trend over more parts has more noise than shape. */
const MOST_PARTS = 28

interface GoalFound {
  sessions: number
  visitors: Set<number>
  times: number
  /** what reaching it was worth, in parts: see labels/money.ts; and whether that is known of any */
  parts: number
  valued: boolean
  trend: Float64Array
}

interface GoalsFound {
  sessions: number
  visitors: Set<number>
  trend: Float64Array
  goals: GoalFound[]
  /** by value of an attribute: sessions, and those that reached the main goal */
  values: Map<string, { sessions: number; reached: number }>
}

const asked = z.strictObject({
  by: z
    .enum(SESSION_TEXTS)
    .nullable()
    .default(null)
    .describe('the main goal also for each value of this; null = not told apart'),
})

/** How many reached each goal of the site, what that was worth, and how it went over the days of the lens. */
export const goals = question({
  name: 'goals',
  summary: 'how many sessions and visitors reached each goal, what that was worth, and its trend',
  asked,
  answer: z.object({
    sessions: countSchema,
    visitors: countSchema,
    parts: z
      .array(z.object({ startMs: z.number(), sessions: countSchema }))
      .describe('parts of the trend, as many whole days each but for the last'),
    goals: z
      .array(
        z.object({
          name: z.string(),
          reached: rateSchema.describe('sessions that reached it, of all'),
          visitors: countSchema,
          times: countSchema,
          value: z.number().nullable().describe('in the currency of the site; null where it is not known'),
          trend: z.array(countSchema).describe('sessions that reached it by part of the trend'),
        }),
      )
      .describe('the main one first; none where the site has none'),
    values: z.array(
      z.object({
        value: z.string().describe('"" = not known'),
        reached: rateSchema.describe('sessions with this value that reached the main goal, of those with it'),
      }),
    ),
  }),
  example: {},

  adds: true,
  scan(block, sessions, spec, onto): GoalsFound {
    const { by, names, lens, timeZone } = spec
    const own = goalsOf(spec)
    const starts = equalParts(lens, timeZone, MOST_PARTS)
    const found = onto ?? noneFound(own.length, starts.length)
    const readers = own.map((goal) => goalEvents(block, goal, names))
    const amount = goalAmounts(block, names)
    const column = by && textColumn(block, by, names)
    const values = by && textValues(by, names)
    const { startMs, visitor } = block.sessions
    for (const s of sessions) {
      const part = lowerBound(starts, startMs[s]! + 1) - 1
      found.sessions++
      found.visitors.add(visitor[s]!)
      found.trend[part]!++
      let isMain = false
      own.forEach(({ value }, k) => {
        const goal = found.goals[k]!
        let times = 0
        readers[k]!(s, (event) => {
          times++
          const worth = value === 'event' ? toParts(amount(event)) : value === null ? NaN : toParts(value)
          // A fixed value is that of a session, however often it came by.
          if (Number.isNaN(worth) || (value !== 'event' && times > 1)) return
          goal.parts += worth
          goal.valued = true
        })
        if (!times) return
        if (k === 0) isMain = true
        goal.sessions++
        goal.times += times
        goal.visitors.add(visitor[s]!)
        goal.trend[part]!++
      })
      if (!column) continue
      const value = values![column.codes(s)]!
      const counted = found.values.get(value) ?? { sessions: 0, reached: 0 }
      found.values.set(value, counted)
      counted.sessions++
      if (isMain) counted.reached++
    }
    return found
  },

  merge(a, b) {
    a.sessions += b.sessions
    for (const one of b.visitors) a.visitors.add(one)
    addColumn(a.trend, b.trend)
    a.goals.forEach((goal, k) => {
      const other = b.goals[k]!
      goal.sessions += other.sessions
      goal.times += other.times
      goal.parts += other.parts
      goal.valued ||= other.valued
      for (const one of other.visitors) goal.visitors.add(one)
      addColumn(goal.trend, other.trend)
    })
    for (const [value, other] of b.values) {
      const own = a.values.get(value) ?? { sessions: 0, reached: 0 }
      a.values.set(value, {
        sessions: own.sessions + other.sessions,
        reached: own.reached + other.reached,
      })
    }
    return a
  },

  finish({ sessions, visitors, trend, goals: found, values }, spec) {
    return {
      ...{ sessions, visitors: visitors.size },
      parts: equalParts(spec.lens, spec.timeZone, MOST_PARTS).map((startMs, k) => ({
        startMs,
        sessions: trend[k]!,
      })),
      goals: goalsOf(spec).map(({ name }, k) => {
        const goal = found[k]!
        return {
          ...{
            name,
            reached: rate(goal.sessions, sessions),
            visitors: goal.visitors.size,
            times: goal.times,
          },
          ...{ value: goal.valued ? fromParts(goal.parts) : null, trend: [...goal.trend] },
        }
      }),
      values: [...values]
        .map(([value, one]) => ({ value, reached: rate(one.reached, one.sessions) }))
        .sort((a, b) => b.reached.base - a.reached.base || a.value.localeCompare(b.value)),
    }
  },

  table: ({ goals: rows }) => rows.map(({ trend: _, ...row }) => row),
})

/** The goals of the site, the main one first. */
function goalsOf(spec: Context): readonly Goal[] {
  if (spec.goals?.length) return spec.goals
  const main = mainGoal(spec)
  return main ? [main] : []
}

function noneFound(count: number, parts: number): GoalsFound {
  return {
    ...{ sessions: 0, visitors: new Set(), trend: new Float64Array(parts), values: new Map() },
    goals: Array.from({ length: count }, () => ({
      ...{ sessions: 0, visitors: new Set<number>(), times: 0, parts: 0, valued: false },
      trend: new Float64Array(parts),
    })),
  }
}
