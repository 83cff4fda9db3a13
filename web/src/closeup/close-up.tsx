import type { Condition, Selection } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import { Footprints, Lightbulb, Split, X } from 'lucide-react'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import { Link } from 'react-router'
import { useSegments, useSizes } from '../api/queries.ts'
import { useQuestion } from '../api/use-question.ts'
import { useFacet } from '../app/address.ts'
import { useLens, useLensLink, useSite } from '../app/lens.ts'
import { segmentCondition } from '../lens/segments.ts'
import { SideRate, Swatch, useSides } from '../lens/sides.tsx'
import { ProposeFix } from '../sections/fixes/propose-fix.tsx'
import { Button, IconButton, Select } from '../ui/controls.tsx'
import { useDraft } from '../ui/draft.ts'
import { Facet } from '../ui/facets.tsx'
import { count, intervalText, percent, plural } from '../ui/format.ts'
import { LinkButton } from '../ui/link-button.tsx'
import { Failure, Loading } from '../ui/states.tsx'
import { baseOf, pageOf } from '../words/selections.ts'
import { describeSelection, lensCondition, together } from '../words/sentences.ts'
import { WentWhere } from './neighbour-pages.tsx'
import { SaveSegment } from './save-segment.tsx'
import { Watch } from './watch.tsx'
import { WentWrong } from './went-wrong.tsx'
import { Who } from './who.tsx'

/** The drawer that opens on any selection: who they are, where they went, what went wrong, watch them. */
export function CloseUp({
  selection,
  close,
  mark,
}: {
  selection: Selection
  close: () => void
  mark: () => void
}) {
  const { lens, setLens } = useLens()
  const site = useSite()
  const segments = useSegments(site.key)
  const [againstId, setAgainstId] = useState('')
  const [saving, setSaving] = useDraft('close-up/saving', false)
  const other = segments.data?.find(({ id }) => String(id) === againstId)
  const condition = other && segmentCondition(other, segments.data ?? [])
  const against = condition && { type: 'where' as const, condition }
  const answer = useQuestion(questions.closeUp, lens, { selection, against }, { keep: false })
  const sessions = useQuestion(questions.sessions, lens, { selection, order: 'telling', limit: 1 })
  const linkTo = useLensLink()
  const [proposing, setProposing] = useDraft('close-up/proposing', false)
  const [facet, setFacet] = useFacet('wrong')
  const { data } = answer
  const title = describeSelection(selection)
  const page = pageOf(selection)
  const ownCondition: Condition =
    selection.type === 'where' ? selection.condition : { type: 'selected', selection }
  const narrowed = {
    ...lens,
    where: together([lens.where, selection.type === 'everyone' ? null : ownCondition]),
  }
  return (
    <section
      aria-label="Close-up"
      className="flex h-[46%] min-h-64 shrink-0 flex-col border-t-2 border-ochre bg-sheet"
    >
      <div className="flex min-h-11 items-center gap-3 px-4 pt-1.5">
        <div className="min-w-0 flex-1">
          <h2 className="truncate text-[14px]" title={title}>
            {title}
          </h2>
          <p className="text-ink-soft" title={data && intervalText(data.size.interval)}>
            {data ? (
              <>
                {plural(data.size.hits, 'session')}
                {selection.type !== 'everyone' &&
                  ` · ${percent(data.size.share)} of ${count(data.size.base)} ${baseOf(selection)}`}
              </>
            ) : (
              'Counting …'
            )}
          </p>
        </div>
        {(segments.data?.length ?? 0) > 0 && (
          <label className="flex items-center gap-1.5 text-ink-soft">
            against
            <Select
              aria-label="Held against"
              className="max-w-44"
              value={againstId}
              onChange={(event) => setAgainstId(event.target.value)}
            >
              <option value="">everyone else</option>
              {segments.data
                ?.filter((one) => segmentCondition(one, segments.data))
                .map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
            </Select>
          </label>
        )}
        {selection.type === 'clicks' && selection.selector !== undefined && (
          <Link
            className="text-spruce hover:underline"
            to={linkTo('/labels', {
              name: selection.text ?? '',
              on: selection.page,
              element: selection.selector,
            })}
          >
            Name this action
          </Link>
        )}
        {selection.type !== 'everyone' && (
          <LinkButton
            title="Narrows the lens down to these sessions, on every screen: heat maps, replays, funnels"
            onClick={() => setLens(narrowed)}
          >
            Look through
          </LinkButton>
        )}
        {page !== undefined && (
          <Link
            className="text-spruce hover:underline"
            title={`Where these sessions clicked on ${page}`}
            to={linkTo('/pages', { page }, narrowed)}
          >
            Heat map
          </Link>
        )}
        <Link
          className="text-spruce hover:underline"
          title="Where these sessions went from this moment, and by which way they came to it"
          to={linkTo('/paths', pathsFrom(selection))}
        >
          Paths
        </Link>
        <Button disabled={!data} onClick={() => setSaving(true)}>
          <Split size={14} aria-hidden /> Save segment
        </Button>
        <a
          className="text-spruce hover:underline"
          title="The sessions of this selection as a clickstream, one JSON object a line"
          href={`/api/v1/sites/${site.key}/export.ndjson?question=${encodeURIComponent(JSON.stringify({ lens, selection }))}`}
        >
          Export
        </a>
        <Button onClick={mark}>
          <Footprints size={14} aria-hidden /> Add to trail
        </Button>
        <Button look="primary" disabled={!data} onClick={() => setProposing(true)}>
          <Lightbulb size={14} aria-hidden /> Propose a fix
        </Button>
        <IconButton label="Close the close-up" onClick={close}>
          <X size={16} />
        </IconButton>
      </div>
      <BesideSizes selection={selection} />
      <Tabs.Root value={facet} onValueChange={setFacet} className="flex min-h-0 flex-1 flex-col">
        <Tabs.List className="flex gap-1 border-b border-line px-3" aria-label="Facets">
          <Facet value="who">Who</Facet>
          <Facet value="where">Went where</Facet>
          <Facet value="wrong" n={data?.troubles.length}>
            Went wrong
          </Facet>
          <Facet value="watch" n={data?.size.hits}>
            Watch
          </Facet>
        </Tabs.List>
        <div className="min-h-0 flex-1 overflow-auto">
          {answer.error ? (
            <Failure error={answer.error} retry={() => void answer.refetch()} />
          ) : !data ? (
            <Loading />
          ) : (
            <>
              <Tabs.Content value="who">
                <Who data={data} others={against && other.name} />
              </Tabs.Content>
              <Tabs.Content value="where">
                <WentWhere data={data} />
              </Tabs.Content>
              <Tabs.Content value="wrong">
                <WentWrong data={data} others={against && other.name} />
              </Tabs.Content>
              <Tabs.Content value="watch">
                <Watch selection={selection} />
              </Tabs.Content>
            </>
          )}
        </div>
      </Tabs.Root>
      {saving && (
        <SaveSegment
          condition={
            together([lensCondition(lens), selection.type === 'everyone' ? null : ownCondition]) ?? null
          }
          clean={lens.clean ?? []}
          suggested={title}
          close={() => setSaving(false)}
        />
      )}
      {proposing && data && (
        <ProposeFix
          selection={selection}
          troubles={data.troubles}
          sessionId={sessions.data?.sessions[0]?.id ?? null}
          close={() => setProposing(false)}
        />
      )}
    </section>
  )
}

/** How much of each side the selection is, where something lies beside the lens. */
function BesideSizes({ selection }: { selection: Selection }) {
  const site = useSite()
  const { sides } = useSides()
  const sizes = useSizes(
    site.key,
    sides.length > 1 && selection.type !== 'everyone' ? sides.map(({ lens }) => ({ lens, selection })) : [],
  )
  if (sides.length < 2 || selection.type === 'everyone') return null
  return (
    <p className="flex flex-wrap gap-x-5 px-4 pb-1">
      {sides.map(({ name }, k) => (
        <span key={k} className="inline-flex items-center gap-1.5">
          <Swatch side={k} />
          <span className="max-w-60 truncate" title={name}>
            {name}
          </span>
          <span className="text-ink-soft">
            {sizes.data?.sizes[k] ? `${count(sizes.data.sizes[k].base)}:` : '…'}
          </span>
          <SideRate rate={sizes.data?.sizes[k]} first={k ? sizes.data?.sizes[0] : undefined} />
        </span>
      ))}
    </p>
  )
}

/** The address of the paths that go out from a selection. */
function pathsFrom(selection: Selection): Record<string, string> {
  if (selection.type === 'page') return { start: selection.page }
  // A path that was walked is looked at from where it began.
  if (selection.type === 'path')
    return {
      way: selection.direction,
      ...(selection.page !== null && { start: selection.page }),
      ...(selection.from && { origin: JSON.stringify(selection.from) }),
      ...(selection.walk && { walk: JSON.stringify(selection.walk) }),
    }
  return selection.type === 'everyone' ? {} : { origin: JSON.stringify(selection) }
}
