import { writeFileSync } from 'node:fs'
import { cpus, totalmem } from 'node:os'
import { quantile } from '../core/src/index.ts'

/** One measured figure, with its goal. */
export interface Figure {
  what: string
  unit: string
  /** every run's value; one value where nothing varies */
  values: number[]
  /** null = shown for comparison, no goal */
  goal: { atMost: number } | { atLeast: number } | null
}

export interface Report {
  name: string
  data: string
  figures: Figure[]
}

interface Line {
  what: string
  median: number
  low: number
  high: number
  unit: string
  runs: number
  goal: string
  met: boolean | null
}

/** Prints a report as a table, writes it as JSON where asked to, and sets the exit code where a goal is missed. */
export function publish(report: Report, jsonFile: string | undefined): void {
  const machine = `${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GiB, Node.js ${process.versions.node}`
  const lines = report.figures.map(summarise)
  console.log(`\n${report.name}\nmachine: ${machine}\ndata:    ${report.data}\n`)
  const table = [
    ['figure', 'median', 'middle half', 'unit', 'runs', 'goal', 'met'],
    ...lines.map((line) => [
      line.what,
      show(line.median),
      line.runs > 1 ? `${show(line.low)} – ${show(line.high)}` : '',
      line.unit,
      String(line.runs),
      line.goal,
      line.met === null ? '' : line.met ? 'yes' : 'NO',
    ]),
  ]
  const widths = table[0]!.map((_, column) => Math.max(...table.map((row) => row[column]!.length)))
  for (const row of table) console.log(row.map((cell, i) => cell.padEnd(widths[i]!)).join('  '))
  if (jsonFile) writeFileSync(jsonFile, `${JSON.stringify({ ...report, machine, lines }, null, 2)}\n`)
  if (lines.some((line) => line.met === false)) process.exitCode = 1
}

function summarise({ what, unit, values, goal }: Figure): Line {
  const sorted = [...values].sort((a, b) => a - b)
  const median = quantile(sorted, 0.5)!
  const met = goal === null ? null : 'atMost' in goal ? median <= goal.atMost : median >= goal.atLeast
  const words = goal === null ? '' : 'atMost' in goal ? `at most ${goal.atMost}` : `at least ${goal.atLeast}`
  return {
    what,
    unit,
    median,
    low: quantile(sorted, 0.25)!,
    high: quantile(sorted, 0.75)!,
    runs: values.length,
    goal: words,
    met,
  }
}

function show(value: number): string {
  return Math.abs(value) >= 100
    ? value.toFixed(0)
    : Math.abs(value) >= 10
      ? value.toFixed(1)
      : value.toFixed(2)
}
