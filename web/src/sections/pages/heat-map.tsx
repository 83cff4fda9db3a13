import type { ClickSort } from '@dust-trail/core'
import { CLICK_SORTS } from '@dust-trail/core'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { useClickHeat, useClickHeatThrough, useSnapshot } from '../../api/queries.ts'
import { keepLens, useLens, useSite } from '../../app/lens.ts'
import { CLICK_WORDS } from '../../closeup/describe.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import { Choice } from '../../ui/controls.tsx'
import { count, rateText } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { ElementList } from './element-list.tsx'
import { HeatPage } from './heat-page.tsx'
import { RAMP_CSS } from './ramp.ts'

/** Where one page is clicked, on the recorded page itself, with its elements beside it. */
export function HeatMap({ page }: { page: string }) {
  const site = useSite()
  const { lens } = useLens()
  const [parameters, setParameters] = useSearchParams()
  const which = CLICK_SORTS.find((sort) => sort === parameters.get('clicks')) ?? 'all'
  const answer = useClickHeat(site.key, lens, page, which)
  const snapshot = useSnapshot(answer.data?.snapshot?.hash)
  const { selection, setSelection } = useSelection()
  const [hovered, setHovered] = useState<string | null>(null)
  useView({
    words: `${page}: ${CLICK_WORDS[which]}`,
    question: { lens, selection: { type: 'clicks', page, which } },
  })
  const { sides } = useSides()
  const others = sides.slice(1)
  const beside = useClickHeatThrough(
    site.key,
    others.map((side) => side.lens),
    page,
    which,
  )
  const { data } = answer
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
  const choose = (next: ClickSort) =>
    setParameters((known) => {
      const changed = new URLSearchParams(known)
      if (next === 'all') changed.delete('clicks')
      else changed.set('clicks', next)
      return changed
    })
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex items-center gap-4 px-5 py-3">
        <div className="min-w-0 flex-1">
          <h1 className="truncate" title={page}>
            {page}
          </h1>
          <p>
            {data ? (
              <>
                <button
                  type="button"
                  className="font-semibold text-spruce hover:underline"
                  onClick={() => setSelection({ type: 'clicks', page, which })}
                >
                  {rateText(data.clickers)} sessions
                </button>{' '}
                that saw it made {count(data.clicks)} {CLICK_WORDS[which]}.
              </>
            ) : (
              'Counting clicks …'
            )}
          </p>
        </div>
        <span className="inline-flex items-center gap-2 text-ink-soft">
          few{' '}
          <span
            className="inline-block h-2.5 w-24 border border-line bg-white"
            style={{ backgroundImage: RAMP_CSS }}
          />{' '}
          many
        </span>
        <Choice
          label="Which clicks"
          value={which}
          onChange={choose}
          options={[
            ['all', 'All clicks'],
            ['rage', 'Rage'],
            ['dead', 'Dead'],
          ]}
        />
        <Link className="text-spruce hover:underline" to={keepLens('/pages', parameters)}>
          All pages
        </Link>
      </div>
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {!data && answer.isPending && <Loading />}
      {data && (
        <Settling stale={answer.isPlaceholderData} className="flex min-h-0 flex-1 border-t border-line">
          <div className="min-w-0 flex-1">
            {data.snapshot && snapshot.data ? (
              <HeatPage
                snapshot={snapshot.data}
                elements={data.elements}
                hovered={hovered ?? chosen}
                setHovered={setHovered}
                open={open}
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
