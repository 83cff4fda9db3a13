import { type FileKind, type CsvMapping, FILE_KINDS, KINDS } from '@dust-trail/core'
import { useState } from 'react'
import type { Preview } from '../../../../api/src/endpoints.ts'
import { Button, Field, Select } from '../../ui/controls.tsx'
import { count } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

export function Check({
  file,
  preview,
  busy,
  error,
  start,
  cancel,
}: {
  file: File
  preview: Preview
  busy: boolean
  error: Error | null
  start: (how: { kind: FileKind; mapping: CsvMapping | null }) => void
  cancel: () => void
}) {
  const [kind, setKind] = useState<FileKind | ''>(preview.kind ?? '')
  const [mapping, setMapping] = useState<CsvMapping>(preview.mapping ?? { columns: {}, constants: {} })
  const setColumn = (field: string, column: string) => {
    const { [field]: _, ...columns } = mapping.columns
    setMapping({ ...mapping, columns: column ? { ...columns, [field]: column } : columns })
  }
  const foreign = kind === 'csv' && !preview.header.includes('kind')
  const missing = kind === 'csv' ? ['visitor', 't'].filter((field) => !mapping.columns[field]) : []
  return (
    <div className="mt-3 space-y-3 rounded-md border border-line bg-sheet p-4">
      <h2>
        {file.name}, {count(Math.ceil(file.size / 1000))} kB
      </h2>
      {!preview.kind && <p className="text-clay">This looks like {preview.looksLike}.</p>}
      <pre
        className="max-h-40 overflow-auto rounded-md bg-chalk p-2 font-mono text-xs"
        tabIndex={0}
        aria-label="First lines"
      >
        {preview.lines.slice(0, 8).join('\n')}
      </pre>
      <Field label="Read it as">
        <Select value={kind} onChange={(event) => setKind(event.target.value as FileKind)}>
          {kind === '' && <option value="">Choose</option>}
          {FILE_KINDS.map((each) => (
            <option key={each} value={each}>
              {KIND_WORDS[each]}
            </option>
          ))}
        </Select>
      </Field>
      {kind === 'csv' && preview.header.length > 0 && (
        <div className="grid grid-cols-3 gap-3">
          {FIELDS.map((field) => (
            <Field key={field} label={field === 't' ? 'time' : field}>
              <Select
                className="w-full"
                value={mapping.columns[field] ?? ''}
                onChange={(event) => setColumn(field, event.target.value)}
              >
                <option value="">
                  {field === 'kind' && foreign
                    ? `always ${mapping.constants['kind'] ?? 'action'}`
                    : '(no column)'}
                </option>
                {preview.header.map((column) => (
                  <option key={column}>{column}</option>
                ))}
              </Select>
            </Field>
          ))}
          {foreign && !mapping.columns['kind'] && (
            <Field label="every line is a">
              <Select
                className="w-full"
                value={mapping.constants['kind'] ?? 'action'}
                onChange={(event) =>
                  setMapping({ ...mapping, constants: { ...mapping.constants, kind: event.target.value } })
                }
              >
                {KINDS.map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </Select>
            </Field>
          )}
        </div>
      )}
      {missing.length > 0 && (
        <p className="text-clay">
          Choose the column for: {missing.map((field) => (field === 't' ? 'time' : field)).join(', ')}.
        </p>
      )}
      {error && <Failure error={error} />}
      <div className="flex justify-end gap-2">
        <Button onClick={cancel}>Cancel</Button>
        <Button
          look="primary"
          disabled={busy || kind === '' || missing.length > 0}
          onClick={() => kind && start({ kind, mapping: kind === 'csv' ? mapping : null })}
        >
          {busy ? 'Sending …' : 'Import'}
        </Button>
      </div>
    </div>
  )
}

/** Fields that a foreign CSV can fill, most wanted first. */
const FIELDS = [
  'visitor',
  't',
  'kind',
  'name',
  'url',
  'session',
  'id',
  'title',
  'referrer',
  'country',
  'value',
  'target.selector',
  'target.text',
]

const KIND_WORDS: Record<FileKind, string> = {
  clickstream: 'Clickstream, one JSON object a line',
  csv: 'CSV with a header',
  log: 'Web server’s log, combined format',
}
