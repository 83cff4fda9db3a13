import type { Noise } from '@dust-trail/core'
import { useState } from 'react'
import { SaveSegment } from '../../closeup/save-segment.tsx'
import { noiseWords } from '../../lens/words.ts'
import { Button, Field, inputLook, Select } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'

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
    <Dialog
      open
      onClose={() => close()}
      title="Cut noise away"
      description="Events like the one before them count once. Sessions stay; all shares are computed anew."
    >
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          setSaving(true)
        }}
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
        <div className="flex justify-end gap-2">
          <Button onClick={() => close()}>Cancel</Button>
          <Button type="submit" look="primary">
            Cut
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
