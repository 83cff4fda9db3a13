/** What is left after server and database were killed at random instants under load (BENCH_FAULTS, 200). */
import { runFaults } from '../server/src/ingest/fault-run.ts'
import type { Report } from './report.ts'

export const about =
  'kills server and database at random instants under load, and counts what is left (BENCH_FAULTS, 200)'

export async function run(): Promise<Report> {
  const found = await runFaults(Number(process.env['BENCH_FAULTS'] ?? 200))
  const { faults, acknowledged, answered, counted } = found
  const none = (what: string, value: number) => ({ what, unit: '', values: [value], goal: { atMost: 0 } })
  return {
    name: 'faults',
    data: `${faults.server} times the server and ${faults.database} times the database, kill -9 while 6 clients send`,
    figures: [
      { what: 'batches acknowledged', unit: '', values: [acknowledged], goal: null },
      none('acknowledged and missing', found.missing),
      none('lines there twice', found.twice),
      none('lines that nobody sent', found.invented),
      none('sessions that answers count too many or too few', Math.abs(answered.sessions - counted.sessions)),
      none('events that answers count too many or too few', Math.abs(answered.events - counted.events)),
      { what: 'longest time without an acknowledgement', unit: 'ms', values: [found.longestMs], goal: null },
    ],
  }
}
