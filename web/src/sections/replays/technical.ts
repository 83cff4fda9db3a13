import type { SessionLine } from '@dust-trail/api'
import type { ConsoleLevel, DocumentRecording } from '@dust-trail/core'

/** What the page said, or failed with. */
export interface Said {
  /** since the start of the session */
  atMs: number
  level: ConsoleLevel
  text: string
  stack: string
  /** a failure of a script, not something that was written to the console */
  failed: boolean
}

export interface Requested {
  atMs: number
  method: string
  path: string
  /** 0: no answer */
  status: number
  ms: number
  /** of the answer; 0: not known */
  bytes: number
}

const textOf = (value: unknown) => (typeof value === 'string' ? value : '')
const numberOf = (value: unknown) => (typeof value === 'number' ? value : 0)

/** Failures of scripts and what was written to the console, in order. */
export function saidIn(
  documents: readonly DocumentRecording[],
  lines: readonly SessionLine[],
  startMs: number,
): Said[] {
  const written = documents.flatMap((document) =>
    document.items.flatMap((item): Said[] =>
      item.k === 'console'
        ? [
            {
              ...{ atMs: document.startMs - startMs + item.at, level: item.level, text: item.text },
              ...{ stack: '', failed: false },
            },
          ]
        : [],
    ),
  )
  const failures = lines
    .filter(({ kind }) => kind === 'error')
    .map((line): Said => ({
      ...{ atMs: line.t - startMs, level: 'error', text: textOf(line['message']) },
      ...{ stack: textOf(line['stack']), failed: true },
    }))
  return [...written, ...failures].sort((a, b) => a.atMs - b.atMs)
}

/** Requests of the page in order. */
export function requestsIn(lines: readonly SessionLine[], startMs: number): Requested[] {
  return lines
    .filter(({ kind }) => kind === 'request')
    .map((line) => ({
      ...{ atMs: line.t - startMs, method: textOf(line['method']) || 'GET', path: textOf(line['path']) },
      ...{ status: numberOf(line['status']), ms: numberOf(line['ms']), bytes: numberOf(line['size']) },
    }))
    .sort((a, b) => a.atMs - b.atMs)
}

/** Whether it did not go as it should; common practice, as everywhere in the product. */
export const isFailed = ({ status }: Requested) => status === 0 || status >= 400
