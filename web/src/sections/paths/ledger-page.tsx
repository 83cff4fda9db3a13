import type { LedgerRow, Place } from '@dust-trail/core'
import { ledgerOf, placeText, questions } from '@dust-trail/core'
import { useMemo, useState } from 'react'
import { z } from 'zod'
import { useQuestionThrough } from '../../api/use-question.ts'
import { useAddress, useAddressValue } from '../../app/address.ts'
import { comparedLens, useLens } from '../../app/lens.ts'
import { useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import { CheckBox } from '../../ui/check-box.tsx'
import { Chip } from '../../ui/chip.tsx'
import { Select } from '../../ui/controls.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { count, day, plural } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { placeName, together } from '../../words/sentences.ts'
import { ledgerColumns } from './ledger-columns.tsx'
import { PathControls } from './path-controls.tsx'
import { PathViews } from './path-views.tsx'
import { partOf, usePaths, usePinned } from './use-paths.ts'

const SHOW = z.enum(['place', 'link', 'end'])
type Show = z.infer<typeof SHOW>
const STEP = z.coerce.number().int().min(0).max(9)
const SIDE = z.string()

/** What differs between two periods, segments or variants in where people go, step by step. */
export function LedgerPage() {
  const { lens } = useLens()
  const asked = usePaths()
  const direction = asked.way === 'back' ? ('back' as const) : ('onward' as const)
  const { sides } = useSides()
  const [, changeAddress] = useAddress()
  const [pinned, setPinned] = usePinned()
  const [show, setShow] = useAddressValue('show', SHOW)
  const [step, setStep] = useAddressValue('step', STEP)
  const [chosenSide, setSide] = useAddressValue('side', SIDE)
  const [sureOnly, setSureOnly] = useState(false)
  // Something always differs: where nothing is chosen to compare with, as many days just before are.
  const others =
    sides.length > 1 ? sides.slice(1) : [{ name: 'just before', lens: comparedLens(lens, 'before')! }]
  const other = others.find(({ name }) => name === chosenSide) ?? others[0]!
  const held = pinned?.direction === direction ? pinned.parts : null
  const narrowed = (own: typeof lens) =>
    held
      ? {
          ...own,
          where: together([own.where, { type: 'selected', selection: asked.pathOf(direction, held) }])!,
        }
      : own
  const { selection, depth, walk } = asked
  const [now, then] = useQuestionThrough(questions.pathSteps, [narrowed(lens), narrowed(other.lens)], {
    selection,
    options: { ...walk, direction, depth },
  })
  const rows = useMemo(() => (now?.data && then?.data ? ledgerOf(now.data, then.data) : []), [now, then])
  useView({ words: `What changed in paths from ${asked.focus(direction)}`, question: { lens, selection } })
  const kind: Show = show ?? 'place'
  const listed = rows.filter(
    (row) => row.of === kind && (step === null || row.step === step) && (!sureOnly || row.sure),
  )
  const error = now?.error ?? then?.error
  const sure = rows.filter(({ of, sure: isSure }) => of === 'place' && isSure)
  const most = Math.max(
    0.0001,
    ...listed.map(({ after, before }) => Math.max(after.share ?? 0, before.share ?? 0)),
  )
  const columns = ledgerColumns({ kind, direction, most })
  return (
    <div className="space-y-3 px-5 py-3">
      <header className="space-y-2">
        <div className="flex items-start gap-3">
          <div className="min-w-0 flex-1">
            <h1>What changed in paths</h1>
            <p className="text-ink-soft">
              {now?.data && then?.data
                ? `${sure.length ? `${plural(sure.length, 'place')} differ by more than chance` : 'Nothing differs by more than chance'}: ${count(now.data.sessions)} sessions now, ${count(then.data.sessions)} ${sides.length > 1 ? `in “${other.name}”` : `in ${day(other.lens.from)} – ${day(other.lens.to)}`}.`
                : 'Two periods, segments or variants, step by step.'}
            </p>
          </div>
          <PathViews />
        </div>
        <PathControls asked={asked} around={false} least={false} />
        <div className="flex flex-wrap items-center gap-2">
          <RadioGroup
            label="Rows are"
            value={kind}
            onChange={(next) => setShow(next === 'place' ? null : next)}
            options={[
              ['place', 'Places'],
              ['link', 'Links'],
              ['end', direction === 'back' ? 'Beginnings' : 'Exits'],
            ]}
          />
          <Select
            aria-label="Which step"
            value={step === null ? '' : String(step)}
            onChange={({ target }) => setStep(target.value === '' ? null : Number(target.value))}
          >
            <option value="">every step</option>
            {Array.from({ length: depth }, (_, k) => (
              <option key={k} value={k}>
                step {k + 1}
              </option>
            ))}
          </Select>
          {others.length > 1 && (
            <Select
              aria-label="Held against"
              value={other.name}
              onChange={({ target }) => setSide(target.value)}
            >
              {others.map(({ name }) => (
                <option key={name}>{name}</option>
              ))}
            </Select>
          )}
          <CheckBox checked={sureOnly} onChange={setSureOnly}>
            more than chance only
          </CheckBox>
          {held && (
            <Chip
              look="outlined"
              words={`Traffic through ${held
                .filter((part) => part !== null)
                .map(placeName)
                .join(' → ')}`}
              removeLabel="All traffic again"
              remove={() => setPinned(null)}
            />
          )}
        </div>
      </header>
      {error && <Failure error={error} retry={() => void Promise.all([now?.refetch(), then?.refetch()])} />}
      {(now?.isPending || then?.isPending) && !error && <Loading />}
      {now?.data && then?.data && (
        <Settling
          stale={now.isPlaceholderData || then.isPlaceholderData}
          className="overflow-auto rounded-md border border-line bg-sheet"
        >
          {listed.length ? (
            <DataTable
              name={`ledger-${kind}`}
              label="What changed"
              rows={listed}
              columns={columns}
              rowKey={({ step: at, place, from }) =>
                `${at}\n${placeText(place)}\n${from ? placeText(from) : ''}`
              }
              openTitle="Follow those who were here, through to the next steps"
              open={(row) => {
                const parts = partsOf(row)
                // One step in the address: what is followed, and the close-up on it.
                changeAddress((before) => {
                  const changed = new URLSearchParams(before)
                  changed.set('pinned', JSON.stringify({ direction, parts }))
                  changed.set('close', JSON.stringify(asked.pathOf(direction, parts, row.of === 'end')))
                  return changed
                })
              }}
            />
          ) : (
            <Empty title="No such rows">
              {sureOnly
                ? 'Nothing differs by more than chance; show all rows.'
                : 'Choose other dates, or another start.'}
            </Empty>
          )}
        </Settling>
      )}
      <p className="text-xs text-ink-soft">
        Shares are of all who entered. Intervals: 95 %, Newcombe. p: two-sided, corrected for all rows of all
        steps (Benjamini and Hochberg).
      </p>
    </div>
  )
}

/** The path that a row is of, wherever it came through before. */
function partsOf({ step, of, from, place }: LedgerRow) {
  const before = of === 'link' && from ? [from] : []
  const named: Place[] = [...before, place]
  return [...new Array<null>(step + 1 - named.length).fill(null), ...named.map(partOf)]
}
