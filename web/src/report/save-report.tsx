import { toast } from 'sonner'
import { Select } from '../ui/controls.tsx'
import { saveFile } from '../ui/save-file.ts'
import { csvOf } from '../ui/table-csv.ts'
import type { Report } from './report.ts'
import { reportHtml, reportMarkdown, reportRows } from './report.ts'

const FORMS = [
  ['html', 'Page (HTML)'],
  ['md', 'Markdown'],
  ['csv', 'Table (CSV)'],
  ['json', 'JSON'],
] as const
type Form = (typeof FORMS)[number][0]

/** A choice of forms in which a report is saved. */
export function SaveReport({ label, make, name }: { label: string; make: () => Report; name: string }) {
  const save = async (form: Form) => {
    try {
      saveFile(await contentOf(make(), form), `${name}.${form}`)
    } catch (error) {
      toast(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <Select aria-label={label} value="" onChange={({ target }) => void save(target.value as Form)}>
      <option value="">{label} …</option>
      {FORMS.map(([form, words]) => (
        <option key={form} value={form}>
          {words}
        </option>
      ))}
    </Select>
  )
}

async function contentOf(report: Report, form: Form): Promise<Blob> {
  switch (form) {
    case 'html':
      return new Blob([reportHtml(report)], { type: 'text/html' })
    case 'md':
      return new Blob([reportMarkdown(report)], { type: 'text/markdown' })
    case 'json':
      return new Blob([JSON.stringify(report, null, 2)], { type: 'application/json' })
    case 'csv': {
      const rows = reportRows(report)
      const heads = [...new Set(rows.flatMap((row) => Object.keys(row)))]
      return csvOf(
        heads.map((head) => ({ head, value: (row: (typeof rows)[number]) => row[head] ?? null })),
        rows,
      )
    }
  }
}
