import { useQueryClient, useQuery, useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import type { Import } from '../../../../api/src/endpoints.ts'
import { listImports, stopImport, getImport } from '../../../../api/src/endpoints.ts'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { count, moment, percent } from '../../ui/format.ts'

export function Imports() {
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

const LIVE_MS = 700
