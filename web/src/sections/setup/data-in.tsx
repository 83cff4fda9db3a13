import { getImport, importSchema, listImports, previewSchema, stopImport } from '@dust-trail/api'
import type { Import, Preview } from '@dust-trail/api'
import type { CsvMapping, FileKind } from '@dust-trail/core'
import { FILE_KINDS, KINDS } from '@dust-trail/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Upload } from 'lucide-react'
import { useRef, useState } from 'react'
import { call, CallError } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button, Field, Select } from '../../ui/controls.tsx'
import { count, moment, percent } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

const KIND_WORDS: Record<FileKind, string> = {
  clickstream: 'Clickstream, one JSON object a line',
  csv: 'CSV with a header',
  log: 'Web server’s log, combined format',
}
/** Enough of a file to see what it is. */
const PREVIEW_BYTES = 128 * 1024
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
const LIVE_MS = 700

/** Files in: drag one here, see what it is, say what its columns mean, and follow it. */
export function DataIn() {
  const site = useSite()
  const client = useQueryClient()
  const input = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const [file, setFile] = useState<File | null>(null)
  const preview = useMutation({
    mutationFn: async (chosen: File) => {
      setFile(chosen)
      const answer = await send(`/sites/${site.key}/imports/preview`, chosen.slice(0, PREVIEW_BYTES))
      return previewSchema.parse(answer)
    },
  })
  const start = useMutation({
    mutationFn: async ({ kind, mapping }: { kind: FileKind; mapping: CsvMapping | null }) => {
      const query = new URLSearchParams({ name: file!.name, kind })
      if (mapping) query.set('mapping', JSON.stringify(mapping))
      return importSchema.parse(await send(`/sites/${site.key}/imports?${query.toString()}`, file!))
    },
    onSuccess: () => {
      preview.reset()
      setFile(null)
      void client.invalidateQueries({ queryKey: [listImports.path] })
    },
  })
  const choose = (chosen: File | undefined) => {
    if (chosen) preview.mutate(chosen)
  }
  return (
    <section>
      <h2 className="mb-1">Bring data in</h2>
      <div
        className={`flex items-center gap-3 rounded-md border border-dashed px-4 py-4 ${over ? 'border-spruce bg-spruce-soft' : 'border-stone'}`}
        onDragOver={(event) => {
          event.preventDefault()
          setOver(true)
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault()
          setOver(false)
          choose(event.dataTransfer.files[0])
        }}
      >
        <Upload size={18} aria-hidden className="text-ink-soft" />
        <p className="flex-1">
          Drag a file here: a clickstream (NDJSON), a CSV, or a web server’s log; gzipped or not. The command
          line takes many at once:{' '}
          <code className="font-mono text-xs">npm run import -- --site {site.key} FILE…</code>
        </p>
        <input
          ref={input}
          type="file"
          className="sr-only"
          aria-label="File to import"
          onChange={(event) => {
            choose(event.target.files?.[0])
            event.target.value = ''
          }}
        />
        <Button onClick={() => input.current?.click()}>Choose a file</Button>
      </div>
      {preview.error && <Failure error={preview.error} />}
      {preview.data && file && (
        <Check
          key={`${file.name} ${file.size}`}
          file={file}
          preview={preview.data}
          busy={start.isPending}
          error={start.error}
          start={start.mutate}
          cancel={() => {
            preview.reset()
            setFile(null)
          }}
        />
      )}
      <Imports />
    </section>
  )
}

function Check({
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

function Imports() {
  const site = useSite()
  const client = useQueryClient()
  const answer = useQuery({
    queryKey: [listImports.path, site.key],
    queryFn: ({ signal }) => call(listImports, { site: site.key }, undefined, signal),
    refetchInterval: ({ state }) => (state.data?.some((one) => one.state === 'running') ? LIVE_MS : false),
  })
  const stop = useMutation({
    mutationFn: (id: number) => call(stopImport, { site: site.key, id }, {}),
    onSettled: () => void client.invalidateQueries({ queryKey: [listImports.path] }),
  })
  if (!answer.data?.length) return null
  return (
    <ul className="mt-3 divide-y divide-line rounded-md border border-line bg-sheet" aria-label="Imports">
      {answer.data.map((one) => (
        <ImportRow
          key={one.id}
          one={one}
          timeZone={site.timeZone}
          siteKey={site.key}
          stop={() => stop.mutate(one.id)}
        />
      ))}
    </ul>
  )
}

function ImportRow({
  one,
  timeZone,
  siteKey,
  stop,
}: {
  one: Import
  timeZone: string
  siteKey: string
  stop: () => void
}) {
  const { progress } = one
  const [now] = useState(() => Date.now())
  const share = progress.totalBytes ? progress.bytes / progress.totalBytes : 0
  const seconds = Math.max(0.1, ((one.endedMs ?? Math.max(now, Date.now())) - one.startedMs) / 1000)
  const running = one.state === 'running'
  const skipped = Object.entries(progress.skipped)
  return (
    <li className="px-4 py-2">
      <div className="flex items-center gap-3">
        <p className="min-w-0 flex-1 truncate">
          <span className="font-semibold">{one.name}</span> · {one.state} · {moment(one.startedMs, timeZone)}
        </p>
        {running && <Button onClick={stop}>Stop</Button>}
        {progress.bad > 0 && !running && (
          <a
            className="text-spruce hover:underline"
            href={`/api/v1${getImport.path.replace(':site', siteKey).replace(':id', String(one.id))}/problems.ndjson`}
          >
            Download the bad lines
          </a>
        )}
      </div>
      {running && (
        <div
          className="my-1 h-1.5 bg-line"
          role="progressbar"
          aria-label={`Import of ${one.name}`}
          aria-valuenow={Math.round(share * 100)}
        >
          <div className="h-full bg-spruce" style={{ width: `${share * 100}%` }} />
        </div>
      )}
      <p className="text-ink-soft">
        {count(progress.lines)} lines: {count(progress.good)} written, {count(progress.repeated)} there
        already, {count(progress.bad)} bad
        {skipped.map(([reason, n]) => `, ${count(n)} left out (${reason})`)}.{' '}
        {running && `${percent(share)}, ${count(Math.round(progress.lines / seconds))} lines a second.`}{' '}
        {one.message}
      </p>
      {one.problems.slice(0, 3).map((problem) => (
        <p key={problem.line} className="text-clay">
          Line {problem.line}: {problem.field} {problem.reason}
        </p>
      ))}
    </li>
  )
}

async function send(path: string, body: Blob): Promise<unknown> {
  const response = await fetch(`/api/v1${path}`, {
    method: 'POST',
    body,
    headers: { 'content-type': 'application/octet-stream' },
  })
  const answer = (await response.json()) as { detail?: string; hint?: string }
  if (!response.ok)
    throw new CallError(
      answer.detail ?? 'The file was not taken.',
      answer.hint ?? 'Try again.',
      response.status,
    )
  return answer
}
