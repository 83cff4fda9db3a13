import { previewRetention, updateSite } from '@dust-trail/api'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button, Field, inputLook } from '../../ui/controls.tsx'
import { plural } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

/** How long data is kept: what is older is deleted, and how much that is stands there before it happens. */
export function Retention() {
  const site = useSite()
  const client = useQueryClient()
  const [days, setDays] = useState(text(site.retentionDays))
  const [recordings, setRecordings] = useState(text(site.recordingDays))
  const [audit, setAudit] = useState(text(site.auditDays))
  const wanted = { retentionDays: number(days), recordingDays: number(recordings) }
  const auditDays = number(audit)
  const deletes = wanted.retentionDays !== site.retentionDays || wanted.recordingDays !== site.recordingDays
  const changed = deletes || auditDays !== site.auditDays
  const preview = useQuery({
    queryKey: [previewRetention.path, site.key, wanted.retentionDays, wanted.recordingDays],
    queryFn: ({ signal }) => call(previewRetention, { site: site.key }, wanted, signal),
    enabled: deletes,
    placeholderData: keepPreviousData,
    retry: false,
  })
  const save = useMutation({
    mutationFn: () => {
      const { name, origins, timeZone, currency, rates, sessionLimitMin, goal } = site
      const about = { name, origins, timeZone, currency, rates, sessionLimitMin, goal }
      return call(updateSite, { site: site.key }, { ...about, ...wanted, auditDays })
    },
    onSuccess: () => {
      void client.invalidateQueries()
      toast('Retention saved.')
    },
  })
  const doomed = deletes && !preview.isPlaceholderData ? preview.data : undefined
  return (
    <form
      aria-label="Retention"
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        save.mutate()
      }}
    >
      <h2>How long data is kept</h2>
      <div className="grid grid-cols-2 gap-3">
        <Days label="Sessions, in days" hint="Empty keeps them for good." value={days} set={setDays} />
        <Days
          label="Recordings, in days"
          hint="May go sooner than the sessions they show."
          value={recordings}
          set={setRecordings}
        />
        <Days
          label="Who changed what, in days"
          hint="The log of what the site’s people did. Empty keeps it for good."
          value={audit}
          set={setAudit}
        />
      </div>
      {doomed && (
        <p role="status" className={doomed.sessions || doomed.recordings ? 'text-clay' : 'text-ink-soft'}>
          {doomed.sessions || doomed.recordings
            ? `Saving this deletes ${plural(doomed.sessions, 'session')} and ${plural(doomed.recordings, 'recording')} for good.`
            : 'Nothing is old enough to be deleted now.'}
        </p>
      )}
      {(save.error ?? (deletes && preview.error)) && <Failure error={(save.error ?? preview.error)!} />}
      <Button
        type="submit"
        look={doomed?.sessions || doomed?.recordings ? 'danger' : 'plain'}
        disabled={!changed || save.isPending || (deletes && !doomed)}
      >
        {doomed?.sessions || doomed?.recordings ? 'Save and delete' : 'Save retention'}
      </Button>
    </form>
  )
}

function Days({
  label,
  hint,
  value,
  set,
}: {
  label: string
  hint: string
  value: string
  set: (value: string) => void
}) {
  return (
    <Field label={label} hint={hint}>
      <input
        type="number"
        min={1}
        max={36500}
        className={inputLook}
        value={value}
        onChange={(event) => set(event.target.value)}
      />
    </Field>
  )
}

function text(days: number | null): string {
  return days === null ? '' : String(days)
}

function number(typed: string): number | null {
  return typed.trim() === '' ? null : Number(typed)
}
