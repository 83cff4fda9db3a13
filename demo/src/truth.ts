/**
 * npm run truth -- [--seed S] [--sessions N] [--populations P] [--shuffle]
 * What each planted fault and decoy truly costs: the same visitors with it switched off, everything else the same number
 * by number, so that the difference is the fault alone. A mean over several populations, with its standard error.
 *
 * npm run truth -- --evaluate [--seeds A,B,…] [--sessions N] [--causes all|none|NAME,…] [--server URL]
 * Judges the prices of a running Dust Trail on shuffled worlds: see evaluate.ts.
 */
import { resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { LAYOUTS_FILE, readLayouts } from './layout.ts'
import { evaluate } from './evaluate.ts'
import type { CauseName, FaultName } from './simulator/scenario.ts'
import { CAUSE_NAMES, DECOY_NAMES, DECOYS, FAULT_NAMES, FAULTS } from './simulator/scenario.ts'
import { scenarioOf } from './simulator/simulate.ts'
import { measureCosts } from './simulator/truth.ts'

const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: '1' },
    sessions: { type: 'string', default: '12000' },
    populations: { type: 'string', default: '4' },
    shuffle: { type: 'boolean', default: false },
    evaluate: { type: 'boolean', default: false },
    seeds: { type: 'string', default: '301,302,303,304,305,306' },
    causes: { type: 'string', default: 'none' },
    server: { type: 'string', default: 'http://127.0.0.1:4180' },
  },
})
const seed = whole('seed', values.seed)
const sessions = whole('sessions', values.sessions)
const populations = whole('populations', values.populations)
if (populations < 2) throw new Error('--populations must be at least 2: one alone has no standard error')

const causes = causesOf(values.causes)
const layouts = readLayouts(resolve(LAYOUTS_FILE))
if (values.evaluate) {
  const judged = await evaluate({
    server: values.server,
    seeds: values.seeds.split(',').map((text) => whole('seeds', text)),
    ...{ sessions, causes, layouts },
    tell: (text) => process.stderr.write(`${text}\n`),
  })
  console.log(JSON.stringify(judged, null, 2))
  process.exit(0)
}

const scenario = scenarioOf(seed, values.shuffle, causes)
const names = [...FAULT_NAMES, ...DECOY_NAMES]
const costs = measureCosts({
  layouts,
  seed,
  sessions,
  populations,
  scenario,
  names,
  progress: (done, all) => process.stderr.write(`\r${done} of ${all} populations lived`),
})
process.stderr.write('\n')
console.log(
  JSON.stringify(
    {
      seed,
      sessions,
      populations,
      shuffled: values.shuffle,
      faults: FAULT_NAMES.map((fault) => ({ fault, ...placeOf(fault), ...costs[fault] })),
      decoys: DECOY_NAMES.map((decoy) => ({
        decoy,
        ...DECOYS[decoy],
        often: scenario.decoys[decoy].often,
        ...costs[decoy],
      })),
    },
    null,
    2,
  ),
)

function placeOf(fault: FaultName) {
  const { what, signals, spots } = FAULTS[fault]
  const { spot, strength, scope } = scenario.faults[fault]
  const place = (spots as Record<string, { page: string; selector: string }>)[spot]!
  return { what, ...place, signals, scope, strength }
}

function causesOf(text: string): readonly CauseName[] {
  if (text === 'none') return []
  if (text === 'all') return CAUSE_NAMES
  return text.split(',').map((name) => {
    if (!(CAUSE_NAMES as readonly string[]).includes(name))
      throw new Error(`--causes: there are ${CAUSE_NAMES.join(', ')}, all and none, not "${name}"`)
    return name as CauseName
  })
}

function whole(name: string, text: string): number {
  const number = Number(text)
  if (!Number.isSafeInteger(number) || number < 1)
    throw new Error(`--${name} must be a whole number from 1, not "${text}"`)
  return number
}
