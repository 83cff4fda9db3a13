import { createSegment, listSegments } from '@dust-trail/api'
import type { EventCondition, Lens, SessionNumber, SessionText } from '@dust-trail/core'
import { questions, rangesOf, SESSION_NUMBERS, SESSION_TEXTS } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useSizes } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useSite } from '../../app/lens.ts'
import { Field, inputLook, Select } from '../../ui/controls.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { FormDialog } from '../../ui/form-dialog.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { lastOwner } from '../../app/note-fields.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { NUMBER_WORDS, TEXT_WORDS } from '../../words/sentences.ts'
import { wantedParts } from './parts.ts'

/** Cuts a segment into siblings that together hold each of its sessions once. */
export function Partition({
  lens,
  parentId,
  close,
}: {
  /** the lens narrowed down to the segment */
  lens: Lens
  parentId: number | null
  close: () => void
}) {
  const site = useSite()
  const client = useQueryClient()
  const catalogue = useQuestion(questions.catalogue, lens, {})
  const [of, setOf] = useState('pages')
  const [page, setPage] = useState('')
  const [by, setBy] = useState<'breaks' | 'quantiles'>('breaks')
  const [breaks, setBreaks] = useState('1, 2, 5')
  const [parts, setParts] = useState(4)
  const isText = (SESSION_TEXTS as readonly string[]).includes(of)
  const isViews = of === 'views of a page'
  const countOf: EventCondition | undefined = isViews
    ? { kinds: ['page'], page: { is: 'equal', to: page } }
    : undefined
  const ready = !isViews || page !== ''
  const found = useQuestion(
    questions.distribution,
    lens,
    {
      selection: { type: 'everyone' },
      options: isText
        ? { by: of as SessionText, bins: 0, quantiles: [] }
        : {
            ...(countOf ? { countOf } : { measure: of as SessionNumber }),
            bins: 0,
            quantiles: Array.from({ length: parts - 1 }, (_, i) => (i + 1) / parts),
          },
    },
    { enabled: ready },
  )
  const scale = of === 'duration' ? 1000 : 1
  const whole = of !== 'duration' && of !== 'value'
  const edges =
    by === 'breaks'
      ? breaks
          .split(/[\s,;]+/)
          .filter(Boolean)
          .map((one) => Number(one) * scale)
      : (found.data?.values[0]?.quantiles ?? []).flatMap((q) =>
          q === null ? [] : [whole ? Math.ceil(q) : q],
        )
  const bad = edges.some((edge) => !Number.isFinite(edge))
  const ranges = bad || isText ? [] : rangesOf(edges, whole)
  const wanted = wantedParts({ of, countOf, page, ranges, whole, values: found.data?.values ?? [] })
  const sizes = useSizes(
    site.key,
    ready ? wanted.map(({ condition }) => ({ lens, selection: { type: 'where' as const, condition } })) : [],
  )
  const counted = wanted.map((one, k) => ({ ...one, size: sizes.data?.sizes[k] }))
  const kept = counted.filter(({ size }) => size === undefined || size.hits > 0)
  const save = useMutation({
    mutationFn: async () => {
      for (const { name, condition } of kept)
        await call(
          createSegment,
          { site: site.key },
          {
            name: name.slice(0, 120),
            note: '',
            owner: lastOwner(),
            parentId,
            cut: { condition, clean: [] },
          },
        )
    },
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: [listSegments.path] })
      close()
    },
  })
  return (
    <FormDialog
      title="Partition"
      description="Siblings that together hold each session once."
      wide
      close={close}
      submit={() => save.mutate()}
      submitText={<>Make {plural(kept.length, 'segment')}</>}
      error={save.error}
      beside="Parts with nobody in them are left out."
      saving={save.isPending}
      ready={kept.length > 0 && sizes.data !== undefined}
    >
      <div className="grid grid-cols-2 gap-4">
        <PartitionBy of={of} setOf={setOf} />
        {isViews && (
          <Field label="Page">
            <Select
              aria-label="Page"
              className="w-full"
              value={page}
              onChange={(event) => setPage(event.target.value)}
            >
              <option value="">choose a page</option>
              {catalogue.data?.pages.map((one) => (
                <option key={one.page}>{one.page}</option>
              ))}
            </Select>
          </Field>
        )}
      </div>
      {!isText && (
        <div className="flex flex-wrap items-end gap-3">
          <RadioGroup
            label="How"
            value={by}
            options={[
              ['breaks', 'My own breakpoints'],
              ['quantiles', 'As many in each'],
            ]}
            onChange={setBy}
          />
          {by === 'breaks' ? (
            <Field
              label={of === 'duration' ? 'Each part begins at, seconds' : 'Each part begins at'}
              error={bad ? 'Numbers, apart by commas.' : undefined}
            >
              <input
                className={inputLook}
                value={breaks}
                onChange={(event) => setBreaks(event.target.value)}
              />
            </Field>
          ) : (
            <Field label="Parts">
              <input
                type="number"
                min={2}
                max={10}
                className={inputLook}
                value={parts}
                onChange={(event) => setParts(Math.max(2, Math.min(10, Number(event.target.value))))}
              />
            </Field>
          )}
        </div>
      )}
      <DataTable
        name="parts"
        label="Parts"
        rows={counted}
        columns={[
          {
            id: 'part',
            head: 'Part',
            cell: ({ name }) => name,
            title: ({ name }) => name,
            className: ({ size }) => size?.hits === 0 && 'text-ink-soft',
          },
          {
            id: 'sessions',
            head: 'Sessions',
            cell: ({ size }) =>
              size ? `${count(size.hits)} · ${percent(size.share)} of ${count(size.base)}` : '…',
            value: ({ size }) => size?.hits ?? null,
            numeric: true,
            width: 200,
          },
        ]}
        rowKey={({ name }) => name}
      />
    </FormDialog>
  )
}

/** What the sessions are parted by: views of one page, a number of theirs or a value. */
function PartitionBy({ of, setOf }: { of: string; setOf: (of: string) => void }) {
  return (
    <Field label="By">
      <Select aria-label="By" className="w-full" value={of} onChange={(event) => setOf(event.target.value)}>
        <option>views of a page</option>
        <optgroup label="How much">
          {SESSION_NUMBERS.map((one) => (
            <option key={one} value={one}>
              {NUMBER_WORDS[one]}
            </option>
          ))}
        </optgroup>
        <optgroup label="Values">
          {SESSION_TEXTS.filter((one) => one !== 'visitor').map((one) => (
            <option key={one} value={one}>
              {TEXT_WORDS[one]}
            </option>
          ))}
        </optgroup>
      </Select>
    </Field>
  )
}
