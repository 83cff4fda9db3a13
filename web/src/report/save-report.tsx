import { useState } from 'react'
import { toast } from 'sonner'
import { CheckBox } from '../ui/check-box.tsx'
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

/**
 * A choice of forms in which a report is saved.
 *
 * @param make  with whether the replays in it are to open without an account
 */
export function SaveReport({
  label,
  make,
  name,
}: {
  label: string
  make: (share: boolean) => Promise<Report>
  name: string
}) {
  const [share, setShare] = useState(false)
  const [making, setMaking] = useState(false)
  const save = async (form: Form) => {
    setMaking(true)
    try {
      saveFile(await contentOf(await make(share), form), `${name}.${form}`)
    } catch (error) {
      toast(error instanceof Error ? error.message : String(error))
    } finally {
      setMaking(false)
    }
  }
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <Select
        aria-label={label}
        value=""
        disabled={making}
        onChange={({ target }) => void save(target.value as Form)}
      >
        <option value="">{making ? 'Looking for its replays …' : `${label} …`}</option>
        {FORMS.map(([form, words]) => (
          <option key={form} value={form}>
            {words}
          </option>
        ))}
      </Select>
      <CheckBox checked={share} onChange={setShare} className="text-ink-soft">
        <span title="Each replay gets a link that whoever has the report can open for 30 days. It can be taken back in the replay.">
          replays open without an account
        </span>
      </CheckBox>
    </div>
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
