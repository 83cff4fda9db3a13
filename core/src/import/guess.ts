import { parseCombinedLog } from './access-log.ts'

export const FILE_KINDS = ['clickstream', 'csv', 'log'] as const
export type FileKind = (typeof FILE_KINDS)[number]

/** What kind of file its first lines look like; undefined for none that can be read. */
export function guessKind(firstLines: readonly string[]): FileKind | undefined {
  const lines = firstLines.filter((line) => line.trim() !== '')
  const [first] = lines
  if (first === undefined) return undefined
  const share = (test: (line: string) => boolean) => lines.filter(test).length / lines.length
  if (share((line) => /^\s*\{/.test(line)) > 0.5) return 'clickstream'
  if (share((line) => parseCombinedLog(line) !== undefined) > 0.5) return 'log'
  return /[,;\t]/.test(first) && !/^[<[{]/.test(first) ? 'csv' : undefined
}

const DELIMITERS = [',', ';', '\t'] as const

/** What parts the columns of a CSV: of comma, semicolon and tab that which its header has most of, outside of quotes. */
export function csvDelimiter(header: string): (typeof DELIMITERS)[number] {
  const bare = header.replaceAll(/"(?:[^"]|"")*"/g, '')
  const times = (delimiter: string) => bare.split(delimiter).length
  return DELIMITERS.reduce((most, one) => (times(one) > times(most) ? one : most))
}

/** In words, for somebody whose file was refused. */
export function describeGuess(firstLines: readonly string[]): string {
  const text = firstLines.join('\n')
  const kind = guessKind(firstLines)
  if (kind === 'clickstream')
    return 'newline-delimited JSON, but with other fields than the clickstream format'
  if (kind === 'log') return 'a web server’s log in the combined format'
  if (kind === 'csv') return 'a CSV file; choose which column holds what'
  if (/^\s*\[/.test(text)) return 'one JSON array; one object a line is needed'
  if (/^\s*</.test(text)) return 'XML or HTML'
  // eslint-disable-next-line no-control-regex
  if (/[\x00-\x08]/.test(text)) return 'a binary file'
  return 'plain text of no known form'
}
