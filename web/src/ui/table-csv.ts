import { toast } from 'sonner'
import { saveFile } from './save-file.ts'

interface CsvColumn<Row> {
  head: string
  value: (row: Row) => string | number | null
}

/** Saves rows as CSV (RFC 4180). What a spreadsheet would take for a formula stays a text. */
export async function saveCsv<Row>(
  name: string,
  columns: readonly CsvColumn<Row>[],
  rows: readonly Row[],
): Promise<void> {
  try {
    saveFile(await csvOf(columns, rows), `${name}.csv`)
  } catch (error) {
    toast(error instanceof Error ? error.message : String(error))
  }
}

export async function csvOf<Row>(columns: readonly CsvColumn<Row>[], rows: readonly Row[]): Promise<Blob> {
  const { stringify } = await import('csv-stringify/browser/esm/sync')
  const text = stringify(
    [columns.map(({ head }) => head), ...rows.map((row) => columns.map(({ value }) => value(row)))],
    {
      record_delimiter: 'windows',
      escape_formulas: true,
    },
  )
  return new Blob([text], { type: 'text/csv' })
}
