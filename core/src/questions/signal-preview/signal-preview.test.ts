import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SessionSet } from '../../columns/session-set.ts'
import type { Line } from '../../events/line.ts'
import { SIGNAL_KINDS } from '../../events/signal-kinds.ts'
import { thresholdsOf } from '../../signals/thresholds.ts'
import { signalsOfLines } from '../../testing/signals-of-lines.ts'
import { about, answerTo, blockOf, worlds } from '../../testing/world.ts'
import { signalPreview } from './signal-preview.ts'

describe('a preview of thresholds', () => {
  it('counts what the signals found line by line count, and shows what changes', () => {
    const asked = fc.record({
      kind: fc.constantFrom(...SIGNAL_KINDS),
      thresholds: fc.record(
        {
          rageClicks: fc.constantFrom(2, 3),
          deadFoldMs: fc.constantFrom(0, 60_000),
          errorWakeMs: fc.constantFrom(0, 30_000),
          backMs: fc.constantFrom(0, 1000, 60_000),
          racingViews: fc.constantFrom(2, 5),
        },
        { requiredKeys: [] },
      ),
    })
    fc.assert(
      fc.property(worlds, asked, (world, { kind, thresholds }) => {
        const { block, names } = blockOf(world)
        const spec = { kind, thresholds }
        const answer = answerTo(
          signalPreview,
          [{ block, sessions: SessionSet.all(world.length) }],
          spec,
          about(names),
        )
        const of = (lines: Line[], limits = {}) =>
          signalsOfLines(lines, thresholdsOf(limits)).filter((one) => one.kind === kind)
        const counted = (limits = {}) => ({
          signals: world.reduce((sum, lines) => sum + of(lines, limits).length, 0),
          sessions: world.filter((lines) => of(lines, limits).length).length,
        })
        expect(answer).toMatchObject({
          sessions: world.length,
          now: counted(),
          then: counted(thresholds),
        })
        const firsts = (lines: Line[], limits = {}) => of(lines, limits).map(({ first }) => first)
        const changed = world.filter(
          (lines) => String(firsts(lines)) !== String(firsts(lines, thresholds)),
        ).length
        expect(answer.examples).toHaveLength(Math.min(8, changed))
      }),
      { numRuns: 300 },
    )
  })
})
