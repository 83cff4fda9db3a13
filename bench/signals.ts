/** Finding signals in the lines of sessions: events a second on one core. */
import type { Line } from '../core/src/index.ts'
import { detectSignals } from '../core/src/index.ts'
import { makeSession, rowOf } from './child/sessions.ts'
import type { Report } from './report.ts'

export const about = 'events a second in which signals are found, on one core'

const SESSIONS = 60_000
const RUNS = 7

/** Lines as visitors make them: some clicks do nothing, some come in bursts, fields are left and pages scrolled. */
function linesOf(id: number): Line[] {
  return rowOf(id, makeSession(id)).lines.map((line, i): Line => {
    if (line.kind === 'page') return { ...line, load: 800 + ((id * 31 + i) % 5000) }
    const at = { x: (id + i) % 900, y: (id * 7) % 600, rx: 0.5, ry: 0.5 }
    if (i % 5 === 3) return { ...line, kind: 'scroll', depth: 0.5, top: ((id + i) % 9) * 200 }
    if (i % 7 === 4) return { ...line, kind: 'input', corrections: i % 4, length: 5 }
    const target = { ...line.target!, interactive: i % 3 !== 0, w: 80, h: 24 }
    return { ...line, ...at, target, effect: i % 3 ? 'change' : 'none' }
  })
}

export function run(): Promise<Report> {
  const sessions = Array.from({ length: SESSIONS }, (_, id) => linesOf(id))
  const events = sessions.reduce((sum, lines) => sum + lines.length, 0)
  let signals = 0
  const once = () => {
    const start = performance.now()
    signals = 0
    for (const lines of sessions) signals += detectSignals(lines).length
    return (events / (performance.now() - start)) * 1000
  }
  for (let i = 0; i < 2; i++) once()
  const rates = Array.from({ length: RUNS }, once)
  return Promise.resolve({
    name: 'signals',
    data: `${SESSIONS} sessions, ${events} events, in which ${signals} signals are found`,
    figures: [
      {
        what: 'events looked through',
        unit: 'million/s',
        values: rates.map((rate) => rate / 1e6),
        goal: { atLeast: 2 },
      },
    ],
  })
}
