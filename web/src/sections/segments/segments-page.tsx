import type { Segment } from '@dust-trail/api'
import { deleteSegment, listSegments, updateSegment } from '@dust-trail/api'
import type { Condition, Lens, Noise } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { clsx } from 'clsx'
import { Plus, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSegments, useSizes } from '../../api/queries.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { SaveSegment } from '../../closeup/save-segment.tsx'
import { useSelection } from '../../closeup/use-selection.ts'
import { FilterMenu } from '../../lens/filter-menu.tsx'
import { lensOf, segmentCondition, segmentNoise } from '../../lens/segments.ts'
import { conditionWords, noiseWords, together } from '../../lens/words.ts'
import { useView } from '../../trail/view.tsx'
import { Button, Choice, Field, IconButton, inputLook, Select } from '../../ui/controls.tsx'
import { useDraft, useForget } from '../../ui/draft.ts'
import { Dialog } from '../../ui/dialog.tsx'
import { count, moment, percent, plural } from '../../ui/format.ts'
import { Failure, Loading } from '../../ui/states.tsx'
import { Inspect } from './inspect.tsx'
import { Partition } from './partition.tsx'

/** Segments and how each was cut out of another. */
export function SegmentsPage() {
  const site = useSite()
  const { lens, setLens } = useLens()
  const segments = useSegments(site.key)
  const all = useMemo(() => segments.data ?? [], [segments.data])
  const [parameters, setParameters] = useSearchParams()
  const chosen = all.find(({ id }) => String(id) === parameters.get('segment'))
  const [building, setBuilding] = useDraft<'condition' | 'noise' | null>('builder/open', null)
  const [partition, setPartition] = useState(false)
  const [editing, setEditing] = useState(false)
  const { setSelection } = useSelection()
  const own: Lens = chosen ? lensOf(lens, chosen, all) : lens
  const parent = chosen && all.find(({ id }) => id === chosen.parentId)
  const condition = chosen && segmentCondition(chosen, all)
  const sizes = useSizes(site.key, [
    { lens, selection: { type: 'everyone' } },
    ...all.map((one) => ({ lens: lensOf(lens, one, all), selection: { type: 'everyone' as const } })),
  ])
  const sizeOf = (segment: Segment | undefined) => sizes.data?.sizes[segment ? all.indexOf(segment) + 1 : 0]
  const size = sizeOf(chosen)
  const choose = (id: number | undefined) =>
    setParameters((known) => {
      const next = new URLSearchParams(known)
      if (id === undefined) next.delete('segment')
      else next.set('segment', String(id))
      next.delete('close')
      return next
    })
  useView({
    words: `Segment: ${chosen?.name ?? 'everyone in the lens'}`,
    question: { lens, selection: condition ? { type: 'where', condition } : { type: 'everyone' } },
  })
  const question = JSON.stringify({ lens: own, selection: { type: 'everyone' } })
  return (
    <div className="flex h-full">
      <aside aria-label="Lineage" className="flex w-72 shrink-0 flex-col border-r border-line bg-sheet">
        <div className="border-b border-line px-3 py-2">
          <h1>Segments</h1>
          <p className="text-ink-soft">Each hangs from the one it was cut from.</p>
        </div>
        <div className="min-h-0 flex-1 overflow-auto py-1" role="tree" aria-label="Segments">
          {segments.error && <Failure error={segments.error} retry={() => void segments.refetch()} />}
          {segments.isPending && <Loading />}
          <Node
            name="Everyone in the lens"
            hits={sizeOf(undefined)?.hits}
            depth={0}
            chosen={!chosen}
            open={() => choose(undefined)}
          />
          <Branch
            parentId={null}
            depth={1}
            all={all}
            chosen={chosen}
            sizeOf={(one) => sizeOf(one)?.hits}
            open={choose}
          />
        </div>
      </aside>
      <section className="flex min-w-0 flex-1 flex-col px-5 py-3" aria-label="Inspect">
        <div className="flex items-start gap-3">
          <div className="min-w-0 flex-1">
            <h2 className="truncate text-[16px]">{chosen?.name ?? 'Everyone in the lens'}</h2>
            <p>
              <button
                type="button"
                className="font-semibold text-spruce hover:underline"
                onClick={() => setSelection(condition ? { type: 'where', condition } : { type: 'everyone' })}
              >
                {size ? plural(size.hits, 'session') : '…'}
              </button>
              {chosen && size && sizeOf(parent) && (
                <span className="text-ink-soft">
                  {' '}
                  · {percent(size.hits / Math.max(1, sizeOf(parent)!.hits))} of {count(sizeOf(parent)!.hits)}{' '}
                  in {parent?.name ?? 'everyone'}
                </span>
              )}
            </p>
            <p className="text-ink-soft">
              {chosen
                ? [
                    chosen.cut.condition && `Sessions: ${conditionWords(chosen.cut.condition)}`,
                    ...chosen.cut.clean.map(noiseWords),
                  ]
                    .filter(Boolean)
                    .join('; ')
                : 'Cut a segment out of it: by a condition, by leaving noise out, or into parts.'}
            </p>
            {chosen && (chosen.note || chosen.owner) && (
              <p className="text-ink-soft">
                {chosen.note} (
                {[chosen.owner, moment(chosen.createdMs, site.timeZone)].filter(Boolean).join(', ')})
              </p>
            )}
          </div>
          {chosen && (
            <div className="flex shrink-0 gap-2">
              <Button onClick={() => setEditing(true)}>Rename, delete …</Button>
              <Button
                onClick={() => {
                  const where = together([lens.where, condition])
                  const clean = [...(lens.clean ?? []), ...segmentNoise(chosen, all)]
                  setLens({ ...lens, ...(where && { where }), ...(clean.length && { clean }) })
                  toast('The lens now shows this segment on every screen.')
                }}
              >
                Look through it
              </Button>
            </div>
          )}
        </div>
        <div className="my-2 flex flex-wrap items-center gap-2">
          <Button look="primary" onClick={() => setBuilding('condition')}>
            Cut by conditions
          </Button>
          <Button onClick={() => setBuilding('noise')}>Cut noise away</Button>
          <Button onClick={() => setPartition(true)}>Partition</Button>
          <span className="flex-1" />
          <span className="text-ink-soft">Export:</span>
          <a
            className="text-spruce hover:underline"
            href={`/api/v1/sites/${site.key}/export.ndjson?question=${encodeURIComponent(question)}`}
          >
            clickstream
          </a>
          <CsvLink question={question} />
          <a
            className="text-spruce hover:underline"
            href={`/api/v1/sites/${site.key}/visitors.txt?question=${encodeURIComponent(question)}`}
          >
            visitor ids
          </a>
        </div>
        <Inspect
          key={chosen?.id ?? 'everyone'}
          segment={chosen}
          lens={own}
          parentLens={parent ? lensOf(lens, parent, all) : lens}
          parentName={parent?.name ?? 'everyone in the lens'}
        />
      </section>
      {building === 'condition' && (
        <Builder
          parentId={chosen?.id ?? null}
          parentName={chosen?.name}
          close={(id) => {
            setBuilding(null)
            if (id !== undefined) choose(id)
          }}
        />
      )}
      {building === 'noise' && (
        <NoiseCut
          parentId={chosen?.id ?? null}
          close={(id) => {
            setBuilding(null)
            if (id !== undefined) choose(id)
          }}
        />
      )}
      {partition && <Partition lens={own} parentId={chosen?.id ?? null} close={() => setPartition(false)} />}
      {editing && chosen && <Edit segment={chosen} close={() => setEditing(false)} />}
    </div>
  )
}

/** The sessions as a table: asked for as CSV, which a link alone cannot. */
function CsvLink({ question }: { question: string }) {
  const site = useSite()
  const save = useMutation({
    mutationFn: async () => {
      const response = await fetch(`/api/v1/sites/${site.key}/sessions`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', accept: 'text/csv' },
        body: JSON.stringify({ ...(JSON.parse(question) as object), order: 'newest', limit: 500 }),
      })
      if (!response.ok) throw new Error(`The server answered ${response.status}.`)
      const link = document.createElement('a')
      link.href = URL.createObjectURL(await response.blob())
      link.download = `${site.key}-sessions.csv`
      link.click()
      URL.revokeObjectURL(link.href)
    },
    onError: (error) => toast(error.message),
  })
  return (
    <button
      type="button"
      className="text-spruce hover:underline"
      title="The newest 500 sessions"
      onClick={() => save.mutate()}
    >
      CSV
    </button>
  )
}

function Branch({
  parentId,
  depth,
  all,
  chosen,
  sizeOf,
  open,
}: {
  parentId: number | null
  depth: number
  all: readonly Segment[]
  chosen: Segment | undefined
  sizeOf: (segment: Segment) => number | undefined
  open: (id: number) => void
}) {
  return all
    .filter((one) => one.parentId === parentId)
    .map((one) => (
      <div key={one.id}>
        <Node
          name={one.name}
          hits={sizeOf(one)}
          depth={depth}
          chosen={one === chosen}
          open={() => open(one.id)}
        />
        <Branch parentId={one.id} depth={depth + 1} all={all} chosen={chosen} sizeOf={sizeOf} open={open} />
      </div>
    ))
}

function Node({
  name,
  hits,
  depth,
  chosen,
  open,
}: {
  name: string
  hits: number | undefined
  depth: number
  chosen: boolean
  open: () => void
}) {
  return (
    <button
      type="button"
      role="treeitem"
      aria-selected={chosen}
      aria-level={depth + 1}
      className={clsx(
        'flex h-8 w-full items-center gap-2 pr-3 text-left',
        chosen ? 'bg-spruce-soft font-semibold' : 'hover:bg-ochre-soft',
      )}
      style={{ paddingLeft: 12 + depth * 14 }}
      onClick={open}
    >
      {depth > 0 && <span aria-hidden className="h-px w-2 shrink-0 bg-stone" />}
      <span className="min-w-0 flex-1 truncate" title={name}>
        {name}
      </span>
      <span className="text-ink-soft">{hits === undefined ? '…' : count(hits)}</span>
    </button>
  )
}

/** A segment from conditions, read as a sentence while it is made. */
function Builder({
  parentId,
  parentName,
  close,
}: {
  parentId: number | null
  parentName: string | undefined
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
          <Choice
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
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={() => close()}>Cancel</Button>
        <Button look="primary" disabled={!condition} onClick={() => setSaving(true)}>
          <Plus size={14} aria-hidden /> Cut
        </Button>
      </div>
    </Dialog>
  )
}

/** What is noise: repeats that tracking made, or that one does not want to see. */
function NoiseCut({ parentId, close }: { parentId: number | null; close: (id?: number) => void }) {
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

function Edit({ segment, close }: { segment: Segment; close: () => void }) {
  const site = useSite()
  const client = useQueryClient()
  const [name, setName] = useDraft(`node/${segment.id}/name`, segment.name)
  const [note, setNote] = useDraft(`node/${segment.id}/note`, segment.note)
  const forget = useForget()
  const done = async () => {
    await client.invalidateQueries({ queryKey: [listSegments.path] })
    forget(`node/${segment.id}/`)
    close()
  }
  const params = { site: site.key, id: segment.id }
  const save = useMutation({
    mutationFn: () => call(updateSegment, params, { name, note, owner: segment.owner }),
    onSuccess: done,
  })
  const remove = useMutation({ mutationFn: () => call(deleteSegment, params), onSuccess: done })
  const error = save.error ?? remove.error
  return (
    <Dialog open onClose={close} title="Segment">
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          save.mutate()
        }}
      >
        <Field label="Name">
          <input
            required
            maxLength={120}
            className={inputLook}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Field>
        <Field label="Why">
          <textarea
            rows={3}
            maxLength={2000}
            className={inputLook}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </Field>
        {error && <Failure error={error} />}
        <div className="flex gap-2">
          <Button look="danger" onClick={() => remove.mutate()}>
            Delete
          </Button>
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look="primary">
            Save
          </Button>
        </div>
      </form>
    </Dialog>
  )
}
