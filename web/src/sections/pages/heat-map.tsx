import type { ClickSort } from '@dust-trail/core'
import { CLICK_SORTS, questions } from '@dust-trail/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { useSnapshot } from '../../api/queries.ts'
import { useQuestion, useQuestionThrough } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useLensLink } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { useSides } from '../../lens/sides.tsx'
import { useView } from '../../trail/view.tsx'
import { count, rateText } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { CLICK_WORDS } from '../../words/selections.ts'
import { ElementList } from './element-list.tsx'
import { HeatPage } from './heat-page.tsx'
import { RAMP_CSS } from './ramp.ts'

const clickSortSchema = z.enum(CLICK_SORTS)

/** Where one page is clicked, on the recorded page itself, with its elements beside it. */
export function HeatMap({ page }: { page: string }) {
  const { lens } = useLens()
  const [clicks, setClicks] = useAddressValue('clicks', clickSortSchema)
  const which = clicks ?? 'all'
  const linkTo = useLensLink()
  const answer = useQuestion(questions.clickHeat, lens, { page, which }, { enabled: page !== '' })
  const snapshot = useSnapshot(answer.data?.snapshot?.hash)
  const { selection, setSelection } = useSelection()
  const [hovered, setHovered] = useState<string | null>(null)
  useView({
    words: `${page}: ${CLICK_WORDS[which]}`,
    question: { lens, selection: { type: 'clicks', page, which } },
  })
  const { sides } = useSides()
  const others = sides.slice(1)
  const beside = useQuestionThrough(
    questions.clickHeat,
    others.map((side) => side.lens),
    { page, which },
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
  const choose = (next: ClickSort) => setClicks(next === 'all' ? null : next)
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
                <LinkButton
                  className="font-semibold"
                  onClick={() => setSelection({ type: 'clicks', page, which })}
                >
                  {rateText(data.clickers)} sessions
                </LinkButton>{' '}
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
        <RadioGroup
          label="Which clicks"
          value={which}
          onChange={choose}
          options={[
            ['all', 'All clicks'],
            ['rage', 'Rage'],
            ['dead', 'Dead'],
          ]}
        />
        <Link className="text-spruce hover:underline" to={linkTo('/pages')}>
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
