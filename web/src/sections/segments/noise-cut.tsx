import type { Noise } from '@dust-trail/core'
import { useState } from 'react'
import { SaveSegment } from '../../closeup/save-segment.tsx'
import { Field, inputLook, Select } from '../../ui/controls.tsx'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { noiseWords } from '../../words/sentences.ts'

/** What is noise: repeats that tracking made, or that one does not want to see. */
export function NoiseCut({ parentId, close }: { parentId: number | null; close: (id?: number) => void }) {
  const [what, setWhat] = useState<'page' | 'any'>('page')
  const [seconds, setSeconds] = useState('2')
  const [saving, setSaving] = useState(false)
  const noise: Noise = {
    type: 'repeats',
    withinMs: seconds === '' ? null : Number(seconds) * 1000,
    ...(what === 'page' && { event: { kinds: ['page'] } }),
  }
  if (saving)
    return (
      <SaveSegment
        condition={null}
        clean={[noise]}
        parentId={parentId}
        suggested={`Cleaned: ${noiseWords(noise)}`}
        close={close}
      />
    )
  return (
    <FormDialog
      title="Cut noise away"
      description="Events like the one before them count once. Sessions stay; all shares are computed anew."
      close={() => close()}
      submit={() => setSaving(true)}
      submitText="Cut"
    >
      <Field label="What repeats">
        <Select
          aria-label="What repeats"
          value={what}
          onChange={(event) => setWhat(event.target.value as typeof what)}
        >
          <option value="page">page views</option>
          <option value="any">any events (fold runs)</option>
        </Select>
      </Field>
      <Field label="Within, seconds" hint="Empty: however long after.">
        <input
          type="number"
          min={0}
          step="any"
          className={inputLook}
          value={seconds}
          onChange={(event) => setSeconds(event.target.value)}
        />
      </Field>
    </FormDialog>
  )
}
