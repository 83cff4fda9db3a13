import type { Condition, Lens } from '@dust-trail/core'
import { Plus, X } from 'lucide-react'
import { SaveSegment } from '../../closeup/save-segment.tsx'
import { FilterMenu } from '../../lens/filter-menu.tsx'
import { SizeOf } from '../../lens/size-of.tsx'
import { Button, IconButton } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { conditionWords } from '../../words/sentences.ts'

/** A segment from conditions, read as a sentence while it is made. */
export function Builder({
  parentId,
  parentName,
  lens,
  close,
}: {
  parentId: number | null
  parentName: string | undefined
  /** the lens narrowed down to what is cut */
  lens: Lens
  close: (id?: number) => void
}) {
  const draft = `builder/${parentId ?? ''}/`
  const forget = useForget()
  const [parts, setParts] = useDraft<Condition[]>(`${draft}parts`, [])
  const [how, setHow] = useDraft<'all' | 'any'>(`${draft}how`, 'all')
  const [saving, setSaving] = useDraft(`${draft}saving`, false)
  const condition: Condition | null = parts.length
    ? parts.length === 1
      ? parts[0]!
      : { type: how, of: parts }
    : null
  if (saving)
    return (
      <SaveSegment
        condition={condition}
        clean={[]}
        parentId={parentId}
        suggested={condition ? conditionWords(condition) : ''}
        close={(id) => {
          if (id === undefined) setSaving(false)
          else {
            forget(draft)
            close(id)
          }
        }}
      />
    )
  return (
    <Dialog
      open
      onClose={() => close()}
      title="Cut by conditions"
      description={`Out of ${parentName ?? 'everyone in the lens'}: sessions ${condition ? conditionWords(condition) : '…'}`}
      wide
    >
      <div className="mb-3 flex flex-wrap items-center gap-2">
        {parts.map((part, k) => (
          <span
            key={k}
            className="inline-flex h-7 items-center gap-1 rounded-md bg-ochre-soft pl-2.5 text-ochre-text"
          >
            {conditionWords(part)}
            <IconButton
              label={`Remove: ${conditionWords(part)}`}
              onClick={() => setParts(parts.filter((_, i) => i !== k))}
            >
              <X size={13} />
            </IconButton>
          </span>
        ))}
        {parts.length > 1 && (
          <RadioGroup
            label="Which must hold"
            value={how}
            options={[
              ['all', 'all of them'],
              ['any', 'any of them'],
            ]}
            onChange={setHow}
          />
        )}
        {!parts.length && <span className="text-ink-soft">Choose what the sessions have in common.</span>}
      </div>
      <div className="rounded-md border border-line">
        <FilterMenu key={parts.length} add={(part) => setParts([...parts, part])} />
      </div>
      <div className="mt-3 flex items-center gap-2">
        <div className="flex-1">
          <SizeOf
            condition={condition ?? undefined}
            missing=""
            within={{ lens, words: parentName === undefined ? 'in the lens' : `in ${parentName}` }}
          />
        </div>
        <Button onClick={() => close()}>Cancel</Button>
        <Button look="primary" disabled={!condition} onClick={() => setSaving(true)}>
          <Plus size={14} aria-hidden /> Cut
        </Button>
      </div>
    </Dialog>
  )
}
