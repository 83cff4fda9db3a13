import { createSegment, listSegments } from '@dust-trail/api'
import type {
  Condition,
  EventCondition,
  Lens,
  NumberTest,
  Range,
  SessionNumber,
  SessionText,
} from '@dust-trail/core'
import { rangesOf, rangeWords, SESSION_NUMBERS, SESSION_TEXTS } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useCatalogue, useDistribution, useSizes } from '../../api/queries.ts'
import { useSite } from '../../app/lens.ts'
import { NUMBER_WORDS, TEXT_WORDS } from '../../lens/words.ts'
import { Button, Choice, Field, inputLook, Select } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { count, duration, percent, plural } from '../../ui/format.ts'
import { lastOwner } from '../../ui/note-fields.tsx'
import { Failure } from '../../ui/states.tsx'

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
  const catalogue = useCatalogue(site.key, lens)
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
  const everyone = { lens, selection: { type: 'everyone' as const } }
  const found = useDistribution(
    site.key,
    everyone,
    isText
      ? { by: of as SessionText, bins: 0, quantiles: [] }
      : {
          ...(countOf ? { countOf } : { measure: of as SessionNumber }),
          bins: 0,
          quantiles: Array.from({ length: parts - 1 }, (_, i) => (i + 1) / parts),
        },
    ready,
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
  const what = isViews
    ? `views of ${page}`
    : isText
      ? TEXT_WORDS[of as SessionText]
      : NUMBER_WORDS[of as SessionNumber]
  const wanted: Part[] = isText
    ? (found.data?.values ?? []).slice(0, 50).map(({ value }) => ({
        name: `${what}: ${value || 'not known'}`,
        condition: {
          type: 'text',
          of: of as SessionText,
          test: value ? { is: 'equal', to: value } : { is: 'not known' },
        },
      }))
    : [
        ...ranges.map((range): Part => ({
          name: `${what}: ${of === 'duration' ? timeWords(range) : rangeWords(range, whole)}`,
          condition: countOf
            ? { type: 'event', event: countOf, count: testOf(range, whole) }
            : { type: 'number', of: of as SessionNumber, test: testOf(range, whole) },
        })),
        ...(isViews || !ranges.length ? [] : [notKnown(what, of as SessionNumber)]),
      ]
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
    <Dialog
      open
      onClose={close}
      title="Partition"
      description="Siblings that together hold each session once."
      wide
    >
      <form
        className="space-y-4"
        onSubmit={(event) => {
          event.preventDefault()
          save.mutate()
        }}
      >
        <div className="grid grid-cols-2 gap-4">
          <Field label="By">
            <Select
              aria-label="By"
              className="w-full"
              value={of}
              onChange={(event) => setOf(event.target.value)}
            >
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
            <Choice
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
        <table className="w-full" aria-label="Parts">
          <tbody>
            {counted.map(({ name, size }) => (
              <tr key={name} className={size?.hits === 0 ? 'text-ink-soft' : ''}>
                <td className="cell">{name}</td>
                <td className="cell cell-n">
                  {size ? `${count(size.hits)} · ${percent(size.share)} of ${count(size.base)}` : '…'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {save.error && <Failure error={save.error} />}
        <div className="flex items-center justify-end gap-2">
          <span className="flex-1 text-ink-soft">Parts with nobody in them are left out.</span>
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" look="primary" disabled={!kept.length || save.isPending || !sizes.data}>
            Make {plural(kept.length, 'segment')}
          </Button>
        </div>
      </form>
    </Dialog>
  )
}

interface Part {
  name: string
  condition: Condition
}

/** Those of which a number is not known: they are in no range. Nothing that is measured lies below zero. */
function notKnown(what: string, of: SessionNumber): Part {
  return {
    name: `${what}: not known`,
    condition: { type: 'not', of: { type: 'number', of, test: { is: 'at least', to: 0 } } },
  }
}

function testOf({ from, to }: Range, whole: boolean): NumberTest {
  if (from === null) return { is: whole ? 'at most' : 'less than', to: to! }
  if (to === null) return { is: 'at least', to: from }
  // A measured number may lie anywhere below the next edge: the largest number that is still below it.
  return { is: 'between', from, to: whole ? to : to - Math.abs(to) * Number.EPSILON }
}

function timeWords({ from, to }: Range): string {
  if (from === null) return `under ${duration(to)}`
  return to === null ? `${duration(from)} or longer` : `${duration(from)} to ${duration(to)}`
}
