import type { ClickSort } from '@dust-trail/core'
import { CLICK_SORTS, questions } from '@dust-trail/core'
import type { ReactNode } from 'react'
import { useState } from 'react'
import { z } from 'zod'
import { useSnapshot } from '../../api/queries.ts'
import { useQuestion, useQuestionThrough } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { useSides } from '../../lens/sides.tsx'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { count, rateText } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Select } from '../../ui/controls.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { ACT_HEADS, CLICK_WORDS } from '../../words/selections.ts'
import { ElementList } from './element-list.tsx'
import { BandMap } from './band-map.tsx'
import { HeatPage } from './heat-page.tsx'
import { RegionMap } from './region-map.tsx'
import { VersionChoice } from './version-choice.tsx'
import { Legend } from './legend.tsx'
import { TwoMaps } from './two-maps.tsx'

const MAPS = ['clicks', 'pointer', 'regions', 'reach', 'attention'] as const
const mapSchema = z.enum(MAPS)
const clickSortSchema = z.enum(CLICK_SORTS)
/** which two of what lies side by side have maps beside one another, by their places */
const TWO = z.string().regex(/^\d-\d$/)
const PAGE_VERSION = z.string()

/** One page under a map of what visitors do there: clicks, how far they come, what they look at. */
export function HeatMap({ page }: { page: string }) {
  const [chosen, setMap] = useAddressValue('map', mapSchema)
  const map = chosen ?? 'clicks'
  const choice = (
    <RadioGroup
      label="Map"
      value={map}
      onChange={(next) => setMap(next === 'clicks' ? null : next)}
      options={[
        ['clicks', 'Clicks'],
        ['pointer', 'Pointer'],
        ['regions', 'Regions'],
        ['reach', 'Reach'],
        ['attention', 'Attention'],
      ]}
    />
  )
  if (map === 'clicks') return <ClickMap page={page} choice={choice} />
  if (map === 'pointer') return <ClickMap page={page} choice={choice} only="rest" />
  if (map === 'regions') return <RegionMap page={page} choice={choice} />
  return <BandMap page={page} map={map} choice={choice} />
}

/** Clicks that can be chosen; where the pointer rested is a map of its own. */
const CHOICES = CLICK_SORTS.filter((sort) => sort !== 'rest')

/** Where one page is clicked, or the pointer rested, on the recorded page itself, with its elements beside it. */
function ClickMap({ page, choice, only }: { page: string; choice: ReactNode; only?: ClickSort }) {
  const { lens } = useLens()
  const [clicks, setClicks] = useAddressValue('clicks', clickSortSchema)
  const which = only ?? clicks ?? 'all'
  const [version, setVersion] = useAddressValue('version', PAGE_VERSION)
  const answer = useQuestion(questions.clickHeat, lens, { page, which, version }, { enabled: page !== '' })
  const snapshot = useSnapshot(useSite().key, answer.data?.snapshot?.hash)
  const { selection, setSelection } = useSelection()
  const [hovered, setHovered] = useState<string | null>(null)
  const [peak, setPeak] = useState<number | null>(null)
  useView({
    words: `${page}: ${CLICK_WORDS[which]}`,
    question: { lens, selection: { type: 'clicks', page, which } },
    tables: [
      keptTable(questions.clickHeat, 'Elements', { page, which, version }, [
        ['text', 'Element'],
        ['clicks', ACT_HEADS[which] ?? 'Clicks', 'count'],
        ['rage', 'Rage', 'count'],
        ['dead', 'Dead', 'count'],
        ['next', 'Then'],
      ]),
    ],
  })
  const { sides } = useSides()
  const others = sides.slice(1)
  const beside = useQuestionThrough(
    questions.clickHeat,
    // Held against one another on the same version of the page, where both have it: asked once that is known.
    answer.data ? others.map((side) => side.lens) : [],
    { page, which, version: answer.data?.snapshot?.version ?? null },
  )
  const [two, setTwo] = useAddressValue('two', TWO)
  const maps = sides.map(({ name }, k) => ({ at: k, name, heat: k ? beside[k - 1]?.data : answer.data }))
  const [left, right] = (two ?? '').split('-').map((k) => maps[Number(k)])
  const isTwo = left !== undefined && right !== undefined
  const { data } = answer
  const views = isTwo ? left.heat?.views : data?.views
  const chosen = selection?.type === 'clicks' ? (selection.selector ?? null) : null
  const open = (selector: string) => {
    const element = data?.elements.find((candidate) => candidate.selector === selector)
    setSelection({
      type: 'clicks',
      page,
      which,
      selector,
      ...(element?.text && { text: element.text.slice(0, 80) }),
    })
  }
  const choose = (next: ClickSort) => setClicks(next === 'all' ? null : next)
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 py-3">
        <div className="min-w-72 flex-1">
          <h1 className="truncate" title={page}>
            {page}
          </h1>
          <p>
            {data ? (
              <>
                <LinkButton
                  className="font-semibold"
                  onClick={() => setSelection({ type: 'clicks', page, which })}
                >
                  {rateText(data.clickers)} sessions
                </LinkButton>{' '}
                that saw it made {count(data.clicks)} {CLICK_WORDS[which]}
                {which === 'rest' && ' of a second or more, three a view at most'}.
              </>
            ) : (
              `Counting ${CLICK_WORDS[which]} …`
            )}
          </p>
        </div>
        {maps.length > 1 && (
          <Select
            aria-label="Maps"
            className="max-w-56"
            value={isTwo ? (two ?? '') : ''}
            onChange={({ target }) => setTwo(target.value || null)}
          >
            <option value="">one map</option>
            {maps.flatMap((one, i) =>
              maps.slice(i + 1).map((other, k) => (
                <option key={`${i}-${i + 1 + k}`} value={`${i}-${i + 1 + k}`}>
                  {one.name} beside {other.name}
                </option>
              )),
            )}
          </Select>
        )}
        {data && <VersionChoice heat={data} setVersion={setVersion} />}
        <Legend
          from="0"
          to={peak !== null && views ? `${count(Math.round((peak / views) * 1000))} per 1,000 views` : '…'}
          title={`${ACT_HEADS[which] ?? 'Clicks'} at one place, about a fingertip wide, for each 1,000 views of the page`}
        />
        {choice}
        {!only && (
          <Select
            aria-label="Which clicks"
            value={which}
            onChange={({ target }) => choose(clickSortSchema.parse(target.value))}
          >
            {CHOICES.map((sort) => (
              <option key={sort} value={sort}>
                {sort === 'all' ? 'all clicks' : CLICK_WORDS[sort]}
              </option>
            ))}
          </Select>
        )}
      </div>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {!data && answer.isPending && <Loading />}
      {isTwo && left.heat && right.heat && (
        <TwoMaps
          page={page}
          which={which}
          first={{ ...left, heat: left.heat }}
          second={{ ...right, heat: right.heat }}
          open={open}
          peaked={setPeak}
        />
      )}
      {data && !isTwo && (
        <Settling stale={answer.isPlaceholderData} className="flex min-h-0 flex-1 border-t border-line">
          <div className="min-w-0 flex-1">
            {data.snapshot && snapshot.data ? (
              <HeatPage
                snapshot={snapshot.data}
                elements={data.elements}
                hovered={hovered ?? chosen}
                setHovered={setHovered}
                open={open}
                peaked={setPeak}
              />
            ) : data.snapshot ? (
              snapshot.error ? (
                <Failure error={snapshot.error} />
              ) : (
                <Loading label="Loading the page" />
              )
            ) : (
              <Empty title={data.viewers ? 'This page was not recorded' : 'Nobody in the lens saw this page'}>
                {data.viewers
                  ? 'The clicks are listed beside; there is no picture to lay them on.'
                  : 'Choose other dates, or take the device filter away.'}
              </Empty>
            )}
          </div>
          <ElementList
            heat={data}
            beside={others.map((side, k) => ({ side, heat: beside[k]?.data }))}
            page={page}
            which={which}
            snapshotWidth={snapshot.data?.width}
            hovered={hovered}
            chosen={chosen}
            setHovered={setHovered}
            open={open}
          />
        </Settling>
      )}
    </div>
  )
}
