import type { Question, Segment } from '@dust-trail/api'
import type { Lens, Selection } from '@dust-trail/core'
import { useMemo, useState } from 'react'
import { toast } from 'sonner'
import { useSegments, useSizes } from '../../api/queries.ts'
import { useAddressValue } from '../../app/address.ts'
import { TEXT, useLens, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { lensOf, segmentCondition, segmentNoise } from '../../lens/segments.ts'
import { useView } from '../../trail/view.tsx'
import { Button } from '../../ui/controls.tsx'
import { useDraft } from '../../ui/draft.ts'
import { count, moment, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { conditionWords, noiseWords, together } from '../../words/sentences.ts'
import { Builder } from './builder.tsx'
import { EditSegment } from './edit-segment.tsx'
import { EVERYONE_NAME, Inspect } from './inspect.tsx'
import { Branch, Node } from './lineage.tsx'
import { NoiseCut } from './noise-cut.tsx'
import { Partition } from './partition.tsx'

/** Segments and how each was cut out of another. */
export function SegmentsPage() {
  const site = useSite()
  const { lens, setLens } = useLens()
  const segments = useSegments(site.key)
  const all = useMemo(() => segments.data ?? [], [segments.data])
  const [chosenId, setChosenId] = useAddressValue('segment', TEXT, { clears: ['close'] })
  const chosen = all.find(({ id }) => String(id) === chosenId)
  const [building, setBuilding] = useDraft<'condition' | 'noise' | null>('builder/open', null)
  const [partition, setPartition] = useState(false)
  const [editing, setEditing] = useState(false)
  const { setSelection } = useSelection()
  const ownLens: Lens = chosen ? lensOf(lens, chosen, all) : lens
  const parent = chosen && all.find(({ id }) => id === chosen.parentId)
  const condition = chosen && segmentCondition(chosen, all)
  // Asked in one, once it is known which there are: what is shown does not go again.
  const questions = [lens, ...all.map((one) => lensOf(lens, one, all))].map((of): Question => ({
    lens: of,
    selection: { type: 'everyone' },
  }))
  const sizes = useSizes(site.key, segments.isPending ? [] : questions)
  const sizeOf = (segment: Segment | undefined) => sizes.data?.sizes[segment ? all.indexOf(segment) + 1 : 0]
  const size = sizeOf(chosen)
  const choose = (id: number | undefined) => setChosenId(id === undefined ? null : String(id))
  // Noise is left out of those it was cut from as well: the number's base is theirs.
  const noise = chosen ? [...(lens.clean ?? []), ...segmentNoise(chosen, all)] : (lens.clean ?? [])
  const viewLens: Lens = { ...lens, ...(noise.length && { clean: noise }) }
  const kept: Selection = condition ? { type: 'where', condition } : { type: 'everyone' }
  useView({
    words: `Segment: ${chosen?.name ?? 'everyone in the lens'}`,
    question: { lens: viewLens, selection: kept },
  })
  const question = JSON.stringify({ lens: ownLens, selection: { type: 'everyone' } })
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
              <LinkButton
                className="font-semibold"
                onClick={() => setSelection(condition ? { type: 'where', condition } : { type: 'everyone' })}
              >
                {size ? plural(size.hits, 'session') : '…'}
              </LinkButton>
              {chosen && size && sizeOf(parent) && (
                <span className="text-ink-soft">
                  {' '}
                  · {percent(size.hits / Math.max(1, sizeOf(parent)!.hits))} of {count(sizeOf(parent)!.hits)}{' '}
                  {parent ? `in ${parent.name}` : 'in the lens'}
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
          <a
            className="text-spruce hover:underline"
            title="The sessions as a table, the newest first"
            href={`/api/v1/sites/${site.key}/sessions.csv?question=${encodeURIComponent(question)}`}
          >
            CSV
          </a>
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
          lens={ownLens}
          parentLens={parent ? lensOf(lens, parent, all) : lens}
          parentName={parent?.name ?? EVERYONE_NAME}
          kept={kept}
        />
      </section>
      {building === 'condition' && (
        <Builder
          parentId={chosen?.id ?? null}
          parentName={chosen?.name}
          lens={ownLens}
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
      {partition && (
        <Partition lens={ownLens} parentId={chosen?.id ?? null} close={() => setPartition(false)} />
      )}
      {editing && chosen && <EditSegment segment={chosen} close={() => setEditing(false)} />}
    </div>
  )
}
