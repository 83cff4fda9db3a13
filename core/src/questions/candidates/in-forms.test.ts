import { describe, expect, it } from 'vitest'
import type { Going } from '../../testing/going.ts'
import { world } from '../../testing/going.ts'
import { pricesIn } from '../../testing/priced.ts'
import { logit } from '../../stats/logistic.ts'
import type { Site } from './site.ts'
import { givenUpFields } from './in-forms.ts'
import { DID } from './journeys.ts'

const VIEWS = 4000
const GROUP = 5
/** Who carries on converts so often, who does not never. */
const WORTH = 0.4

/**
 * A form of which each field is given up by a share of those who filled in the one before it, the first by nobody; the seconds
 * that each takes; and the field before which all who give up have clicked on something that failed, or corrected what they had filled in.
 */
function formOf(
  shares: readonly number[],
  seconds: readonly number[] = [],
  failing?: number,
  how: number = DID.error,
): Site {
  const did: number[] = []
  const family: number[] = []
  const atMs: number[] = []
  const firstAct = [0]
  const on: number[] = []
  for (let v = 0; v < VIEWS; v++) {
    // Who gives up is spread evenly: of those who reach a field every so many.
    let place = (v + 0.5) / VIEWS
    let filled = 1
    for (const share of shares) {
      if (place < share) break
      place = (place - share) / (1 - share)
      filled++
    }
    for (let k = 0, ms = 0; k < filled; k++) {
      did.push(DID.filled)
      family.push(k + 1)
      if (k) ms += 1000 * (seconds[k - 1] ?? 5)
      atMs.push(ms)
    }
    if (filled + 1 === failing && filled <= shares.length && how === DID.corrected)
      did[did.length - 1]! |= how
    else if (filled + 1 === failing && filled <= shares.length) {
      did.push(how)
      family.push(99)
      atMs.push(1e6)
    }
    firstAct.push(family.length)
    on.push(Number(filled === shares.length + 1))
  }
  const acts = {
    did: Uint16Array.from(did),
    family: Uint32Array.from(family),
    atMs: Float64Array.from(atMs),
  }
  return {
    stages: {
      journeys: { acts },
      firstAct: Uint32Array.from(firstAct),
      on: Uint8Array.from(on),
    },
    outlook: {
      wonIfOn: new Float64Array(VIEWS).fill(logit(WORTH)),
      wonIfNot: new Float64Array(VIEWS).fill(logit(1e-9)),
    },
    viewsOf: new Map([[GROUP, Array.from({ length: VIEWS }, (_, v) => v)]]),
  } as unknown as Site
}

/** Half of them fill in the fields of a second person, too, before the one at which a share of all gives up. */
function aboutPeople(givesUp: number): { lost: number; lines: ReturnType<typeof world> } {
  let lost = 0
  const lines = world(6000, 71, (going: Going) => {
    going.page('/people')
    for (let person = 1; person <= 1 + Number(going.roll() < 0.55); person++)
      for (const field of ['given', 'family', 'birth']) {
        if (going.roll() < 0.02) return going.leave()
        going.fill(`#${field}${person}`)
      }
    if (going.roll() < givesUp) {
      lost++
      return going.leave()
    }
    for (const field of ['#passport', '#phone', '#mail']) {
      if (going.roll() < 0.02) return going.leave()
      going.fill(field)
    }
    going.click('#send', 'navigate')
    going.page('/done')
    return going.leave()
  })
  return { lost, lines }
}

describe('fields that are given up', () => {
  it('stand out from other fields that are all alike, and cost what they keep too many from', () => {
    const found = givenUpFields(formOf([0.04, 0.04, 0.045, 0.03, 0.03, 0.03, 0.125]), GROUP)
    expect(found.map(({ trouble }) => trouble.family)).toEqual([8])
    const reached = VIEWS * 0.96 * 0.96 * 0.955 * 0.97 ** 3
    // 12.5 % instead of the 3 or 4 % that are usual, each worth 0.4 conversions.
    expect(found[0]!.loss.value).toBeGreaterThan(reached * 0.085 * WORTH * 0.97)
    expect(found[0]!.loss.value).toBeLessThan(reached * 0.095 * WORTH * 1.03)
  })

  it('stand out where the others differ as the times that they take do: who leaves at any second leaves at the long ones', () => {
    const shares = [0.03, 0.05, 0.02, 0.15, 0.12]
    // By shares alone the last one is no worse than the one before it.
    expect(givenUpFields(formOf(shares), GROUP)).toEqual([])
    const found = givenUpFields(formOf(shares, [6, 10, 4, 30, 5]), GROUP)
    expect(found.map(({ trouble }) => trouble.family)).toEqual([6])
    const reached = VIEWS * 0.97 * 0.95 * 0.98 * 0.85
    // 0.5 % a second are usual: 12 % instead of 2.5.
    expect(found[0]!.loss.value).toBeGreaterThan(reached * 0.095 * WORTH * 0.95)
    expect(found[0]!.loss.value).toBeLessThan(reached * 0.095 * WORTH * 1.05)
  })

  it('do not where those who gave up had just clicked on something that failed', () => {
    const shares = [0.04, 0.04, 0.045, 0.03, 0.03, 0.03, 0.125]
    expect(givenUpFields(formOf(shares, [], 8), GROUP)).toEqual([])
    expect(givenUpFields(formOf(shares, [], 4), GROUP).map(({ trouble }) => trouble.family)).toEqual([8])
  })

  it('are told apart from those that only some are asked for before them', () => {
    const { lost, lines } = aboutPeople(0.1)
    const { candidates, days } = pricesIn(lines)
    expect(candidates.map(({ kind, selector }) => `${kind} ${selector}`)).toEqual([
      'given up at field #passport',
    ])
    const truth = (lost * 30) / days
    expect(candidates[0]!.price.low).toBeLessThan(truth)
    expect(candidates[0]!.price.high).toBeGreaterThan(truth)
    expect(candidates[0]!.price.value / truth).toBeGreaterThan(0.75)
    // Who leaves among the fields of a second person has not come to it.
    expect(pricesIn(aboutPeople(0).lines).candidates).toEqual([])
  })

  it('do not where those who gave up had corrected the field before it again and again', () => {
    const shares = [0.04, 0.04, 0.045, 0.03, 0.03, 0.03, 0.125]
    expect(givenUpFields(formOf(shares, [], 8, DID.corrected), GROUP)).toEqual([])
    const [own] = givenUpFields(formOf(shares, [], 4, DID.corrected), GROUP)
    expect(own!.trouble.family).toBe(8)
    // Without those who stop after a correction 3 % are usual.
    const truth = VIEWS * 0.96 * 0.96 * 0.955 * 0.97 ** 3 * 0.095 * WORTH
    expect(own!.loss.value / truth).toBeGreaterThan(0.97)
    expect(own!.loss.value / truth).toBeLessThan(1.03)
  })

  it('do not where the other fields differ as much among themselves', () => {
    expect(givenUpFields(formOf([0.02, 0.12, 0.04, 0.1, 0.01, 0.07, 0.125]), GROUP)).toEqual([])
  })

  it('do not where hardly any others say what is usual', () => {
    expect(givenUpFields(formOf([0.03, 0.04, 0.125]), GROUP)).toEqual([])
  })
})
