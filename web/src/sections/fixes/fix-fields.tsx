import type { Fix } from '@dust-trail/api'
import { EFFORTS, FIX_STATUSES } from '@dust-trail/api'
import { Field, inputLook, Select } from '../../ui/controls.tsx'

export type FixDraft = Pick<Fix, 'title' | 'hypothesis' | 'change' | 'effort' | 'status'>

export function emptyFix(title: string): FixDraft {
  return { title: title.slice(0, 160), hypothesis: '', change: '', effort: 'days', status: 'proposed' }
}

export function FixFields({
  fields,
  setFields,
}: {
  fields: FixDraft
  setFields: (fields: FixDraft) => void
}) {
  return (
    <>
      <Field label="Title">
        <input
          required
          maxLength={160}
          className={inputLook}
          value={fields.title}
          onChange={(event) => setFields({ ...fields, title: event.target.value })}
        />
      </Field>
      <Field label="Hypothesis" hint="What you saw, and why you believe it happens.">
        <textarea
          required
          rows={3}
          maxLength={4000}
          className={inputLook}
          value={fields.hypothesis}
          onChange={(event) => setFields({ ...fields, hypothesis: event.target.value })}
        />
      </Field>
      <Field label="Proposed change">
        <textarea
          rows={2}
          maxLength={4000}
          className={inputLook}
          value={fields.change}
          onChange={(event) => setFields({ ...fields, change: event.target.value })}
        />
      </Field>
      <div className="grid grid-cols-2 gap-4">
        <Field label="Effort">
          <Select
            className="w-full"
            value={fields.effort}
            onChange={(event) => setFields({ ...fields, effort: event.target.value as FixDraft['effort'] })}
          >
            {EFFORTS.map((effort) => (
              <option key={effort}>{effort}</option>
            ))}
          </Select>
        </Field>
        <Field label="Status">
          <Select
            className="w-full"
            value={fields.status}
            onChange={(event) => setFields({ ...fields, status: event.target.value as FixDraft['status'] })}
          >
            {FIX_STATUSES.map((status) => (
              <option key={status}>{status}</option>
            ))}
          </Select>
        </Field>
      </div>
    </>
  )
}
