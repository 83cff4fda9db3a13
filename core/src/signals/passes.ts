import type { Block, SignalTables } from '../columns/block.ts'
import { signalsOf } from '../columns/block.ts'
import { FRICTION_BIT, KIND_CODE } from '../columns/event-codes.ts'
import type { Kind } from '../events/line.ts'
import { KINDS } from '../events/line.ts'
import type { SignalKind } from '../events/signal-kinds.ts'
import { SIGNAL_KINDS } from '../events/signal-kinds.ts'
import type { SignalThresholds } from './thresholds.ts'
import { THRESHOLD_FIELDS, THRESHOLD_NAMES } from './thresholds.ts'

interface Pass {
  /** what it finds; one kind is found by one pass alone */
  finds: readonly SignalKind[]
  /** the events that it looks at */
  looksAt: readonly Kind[]
  /** FRICTION_BIT that it sets */
  marks: number
}

/** What is looked for together in the events of a session. */
const PASSES = {
  clicks: {
    finds: ['rage click', 'dead click', 'failing click', 'near miss'],
    looksAt: ['click', 'error'],
    marks:
      FRICTION_BIT.rage | FRICTION_BIT.dead | FRICTION_BIT.failing | FRICTION_BIT.near | FRICTION_BIT.rapid,
  },
  fields: { finds: ['field trouble'], looksAt: ['input'], marks: 0 },
  wandering: { finds: ['turned back', 'racing'], looksAt: [], marks: 0 },
  combing: { finds: ['combing'], looksAt: ['scroll', 'click'], marks: 0 },
  hopping: { finds: ['tab hopping'], looksAt: ['hide'], marks: 0 },
  freezes: { finds: ['freeze'], looksAt: ['freeze'], marks: 0 },
  slowPages: { finds: ['slow page'], looksAt: ['page', 'leave'], marks: FRICTION_BIT.slow },
  /** what has no threshold */
  others: {
    finds: [
      ...(['script error', 'failed submit', 'site signal', 'not found', 'pointer to the bar'] as const),
      ...(['failed request', 'zoom'] as const),
    ],
    looksAt: ['error', 'submit', 'signal', 'page', 'out', 'request', 'gesture'],
    marks: 0,
  },
} as const satisfies Record<string, Pass>
export type PassName = keyof typeof PASSES
const PASS_NAMES = Object.keys(PASSES) as PassName[]

const passOf = new Map<SignalKind, PassName>(
  PASS_NAMES.flatMap((name) => PASSES[name].finds.map((kind): [SignalKind, PassName] => [kind, name])),
)

/** Signals that were found in the same columns under other thresholds. */
export interface FoundBefore {
  signals: SignalTables
  limits: SignalThresholds
}

export function foundIn(block: Block, limits: SignalThresholds): FoundBefore {
  return { signals: signalsOf(block), limits }
}

/** What is to be looked for, so that what was found before holds where nothing changed. */
export interface LookFor {
  passes: Readonly<Record<PassName, boolean>>
  /** by code of a kind of event, and of a kind of signal: 1 = is looked at, is looked for */
  events: Uint8Array
  signals: Uint8Array
  /** FRICTION_BIT that is set anew */
  marks: number
}

/** All passes, or those alone for whose kinds of signal a threshold has changed. */
export function lookFor(limits: SignalThresholds, before: FoundBefore | undefined): LookFor {
  const changed = new Set<PassName>(
    before
      ? THRESHOLD_NAMES.filter((name) => before.limits[name] !== limits[name]).map((name) =>
          passOf.get(THRESHOLD_FIELDS[name].kind)!,
        )
      : PASS_NAMES,
  )
  const events = new Uint8Array(KINDS.length)
  const signals = new Uint8Array(SIGNAL_KINDS.length)
  let marks = 0
  for (const name of changed) {
    const pass: Pass = PASSES[name]
    for (const kind of pass.looksAt) events[KIND_CODE[kind]] = 1
    for (const kind of pass.finds) signals[SIGNAL_KINDS.indexOf(kind)] = 1
    marks |= pass.marks
  }
  const passes = Object.fromEntries(PASS_NAMES.map((name) => [name, changed.has(name)]))
  return { passes: passes as Record<PassName, boolean>, events, signals, marks }
}
