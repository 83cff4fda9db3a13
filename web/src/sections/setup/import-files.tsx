import { importSchema, listImports, previewSchema } from '@dust-trail/api'
import type { CsvMapping, FileKind } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Upload } from 'lucide-react'
import { useRef, useState } from 'react'
import { CallError } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { Failure } from '../../ui/states.tsx'
import { Check } from './import-check.tsx'
import { Imports } from './import-list.tsx'
/** Enough of a file to see what it is. */
const PREVIEW_BYTES = 128 * 1024

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
