import type { Segment } from '@dust-trail/api'
import type { Condition, Lens, Level, Noise, Selection, SessionNumber, Token } from '@dust-trail/core'
import { patternCondition, patternSteps, tokenCondition, tokenWords } from '@dust-trail/core'
import { createSegment, listSegments } from '@dust-trail/api'
import { useQueryClient } from '@tanstack/react-query'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { call } from '../../api/call.ts'
import { useCloseUp, useContents, useDistribution, usePaths } from '../../api/queries.ts'
import { keepLens, useSite } from '../../app/lens.ts'
import { SaveSegment } from '../../closeup/save-segment.tsx'
import { Who } from '../../closeup/who.tsx'
import { useTokenNames } from '../../lens/token-names.ts'
import { NUMBER_WORDS } from '../../lens/words.ts'
import { Choice, Select } from '../../ui/controls.tsx'
import { Facet, useFacet } from '../../ui/facets.tsx'
import { lastOwner } from '../../ui/note-fields.tsx'
import { count, duration, percent, plural, points } from '../../ui/format.ts'
import { RateBar } from '../../ui/rate-bar.tsx'
import { Empty, Failure, Loading } from '../../ui/states.tsx'
import { Sequences } from './sequences.tsx'

const EVERYONE: Selection = { type: 'everyone' }
/** what those are called that nothing was cut from */
export const EVERYONE_NAME = 'everyone in the lens'

/** A node of the tree from close by: who, what happens, how much, event by event. */
export function Inspect({
  segment,
  lens,
  parentLens,
  parentName,
}: {
  segment: Segment | undefined
  /** the lens narrowed down to the node, and to the one it was cut from */
  lens: Lens
  parentLens: Lens
  parentName: string
}) {
  const site = useSite()
  const client = useQueryClient()
  const navigate = useNavigate()
  const [parameters, setParameters] = useSearchParams()
  const [saving, setSaving] = useState<{ condition: Condition | null; clean: Noise[]; name: string } | null>(
    null,
  )
  const [facet, setFacet] = useFacet('who')
  // Held against its parent: the parent's sessions are everyone, the node's are the selected.
  const own = segment?.cut.condition
  const selection: Selection = own ? { type: 'where', condition: own } : EVERYONE
  const base: Lens = own ? parentLens : lens
  const cut = async (
    pattern: Token[],
    how: 'directly' | 'later',
    what: 'with' | 'without' | 'funnel' | 'nodes',
  ) => {
    const found = patternCondition(pattern, how)
    const words = pattern.map(tokenWords).join(' → ')
    if (what === 'funnel') {
      const options =
        how === 'directly'
          ? { options: JSON.stringify({ between: 'nothing' }) }
          : ({} as Record<string, string>)
      void navigate(
        keepLens('/funnels', parameters, { steps: JSON.stringify(patternSteps(pattern)), ...options }),
      )
    } else if (what === 'nodes') {
      let parentId = segment?.id ?? null
      for (let n = 1; n <= pattern.length; n++) {
        const node = await call(
          createSegment,
          { site: site.key },
          {
            name: pattern.slice(0, n).map(tokenWords).join(' → ').slice(0, 120),
            note: '',
            owner: lastOwner(),
            parentId,
            cut: { condition: patternCondition(pattern.slice(0, n), how), clean: [] },
          },
        )
        parentId = node.id
      }
      await client.invalidateQueries({ queryKey: [listSegments.path] })
    } else
      setSaving({
        condition: what === 'with' ? found : { type: 'not', of: found },
        clean: [],
        name: `${what === 'with' ? 'With' : 'Without'} ${words}`,
      })
  }
  return (
    <Tabs.Root value={facet} onValueChange={setFacet} className="flex min-h-0 flex-1 flex-col">
      <Tabs.List className="flex gap-1 border-b border-line" aria-label="Facets of the segment">
        <Facet value="who">Who</Facet>
        <Facet value="happens">What happens</Facet>
        <Facet value="much">How much</Facet>
        <Facet value="sequences">Sequences</Facet>
        <Facet value="around">Before and after</Facet>
      </Tabs.List>
      <Tabs.Content value={facet} tabIndex={0} className="flex min-h-0 flex-1 flex-col overflow-auto pt-2">
        {facet === 'who' && <Attributes lens={base} selection={selection} parentName={parentName} />}
        {facet === 'happens' && (
          <Happens
            lens={base}
            selection={selection}
            parentName={parentName}
            cut={(token) =>
              setSaving({
                condition: { type: 'event', event: tokenCondition(token) },
                clean: [],
                name: `Met ${tokenWords(token)}`,
              })
            }
            drop={(token) =>
              setSaving({
                condition: null,
                clean: [{ type: 'events', event: tokenCondition(token) }],
                name: `Without the noise of ${tokenWords(token)}`,
              })
            }
          />
        )}
        {facet === 'much' && <HowMuch lens={lens} />}
        {facet === 'sequences' && (
          <Sequences
            lens={lens}
            selection={EVERYONE}
            cut={(pattern, how, what) => void cut(pattern, how, what)}
          />
        )}
        {facet === 'around' && <Around lens={lens} />}
      </Tabs.Content>
      {FACETS.filter((one) => one !== facet).map((one) => (
        <Tabs.Content key={one} value={one} forceMount hidden />
      ))}
      {saving && (
        <SaveSegment
          condition={saving.condition}
          clean={saving.clean}
          parentId={segment?.id ?? null}
          suggested={saving.name}
          close={(id) => {
            setSaving(null)
            if (id !== undefined)
              setParameters((known) => {
                const changed = new URLSearchParams(known)
                changed.set('segment', String(id))
                return changed
              })
          }}
        />
      )}
    </Tabs.Root>
  )
}

const FACETS = ['who', 'happens', 'much', 'sequences', 'around']

function Attributes({
  lens,
  selection,
  parentName,
}: {
  lens: Lens
  selection: Selection
  parentName: string
}) {
  const site = useSite()
  const answer = useCloseUp(site.key, { lens, selection })
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!answer.data) return <Loading />
  return (
    <>
      {selection.type !== 'everyone' && (
        <p className="text-ink-soft">
          Largest differences first.
          {parentName !== EVERYONE_NAME &&
            ` Held against the rest of ${parentName}, which “everyone” means here.`}
        </p>
      )}
      <Who data={answer.data} />
    </>
  )
}

function Happens({
  lens,
  selection,
  parentName,
  cut,
  drop,
}: {
  lens: Lens
  selection: Selection
  parentName: string
  cut: (token: Token) => void
  drop: (token: Token) => void
}) {
  const site = useSite()
  const [level, setLevel] = useState<Level>('page')
  const answer = useContents(site.key, { lens, selection }, level)
  const { data } = answer
  const nameOf = useTokenNames()
  const compared = data && data.against > 0
  return (
    <div>
      <Choice
        label="Events told apart by"
        value={level}
        options={[
          ['page', 'Pages'],
          ['element', 'What is done on them'],
          ['kind', 'Kinds'],
        ]}
        onChange={setLevel}
      />
      {answer.error && <Failure error={answer.error} retry={() => void answer.refetch()} />}
      {!data && <Loading />}
      {data && (
        <table className="mt-2 w-full" data-list aria-label="What happens">
          <thead>
            <tr>
              <th className="cell">What</th>
              <th className="cell cell-n">Of these {count(data.sessions)}</th>
              <th className="cell w-32" aria-label="Share of these" />
              <th className="cell cell-n">Times</th>
              {compared && (
                <>
                  <th className="cell cell-n">
                    Of the other {count(data.against)} in {parentName}
                  </th>
                  <th className="cell cell-n">Difference</th>
                </>
              )}
              <th className="cell" aria-label="Cut" />
            </tr>
          </thead>
          <tbody>
            {data.contents.slice(0, 100).map((row) => (
              <tr key={`${row.kind}/${row.page}/${row.what}`} data-row tabIndex={-1}>
                <td className="cell max-w-80 truncate" title={tokenWords(row)}>
                  {nameOf(row)}
                </td>
                <td className="cell cell-n">
                  {percent(row.selected.share)} · {count(row.selected.hits)}
                </td>
                <td className="cell">
                  <RateBar rate={row.selected} />
                </td>
                <td className="cell cell-n">{count(row.events)}</td>
                {compared && (
                  <>
                    <td className="cell cell-n">
                      {percent(row.against.share)} · {count(row.against.hits)}
                    </td>
                    <td
                      className="cell cell-n"
                      title={
                        row.difference === null
                          ? ''
                          : `${points(row.interval[0])} to ${points(row.interval[1])}`
                      }
                    >
                      {points(row.difference)}
                      {row.difference !== null && row.interval[0] <= 0 && row.interval[1] >= 0 && (
                        <span className="text-ink-soft"> cannot tell</span>
                      )}
                    </td>
                  </>
                )}
                <td className="cell cell-n">
                  <button type="button" className="text-spruce hover:underline" onClick={() => cut(row)}>
                    Cut
                  </button>
                  <button
                    type="button"
                    className="ml-3 text-spruce hover:underline"
                    title="Count as if it had never happened"
                    onClick={() => drop(row)}
                  >
                    As noise
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}

const MEASURES: readonly SessionNumber[] = ['duration', 'pages', 'clicks', 'signals', 'value']

function HowMuch({ lens }: { lens: Lens }) {
  const site = useSite()
  const [measure, setMeasure] = useState<SessionNumber>('duration')
  const answer = useDistribution(
    site.key,
    { lens, selection: EVERYONE },
    { measure, quantiles: [0.05, 0.25, 0.5, 0.75, 0.95], bins: 40 },
  )
  const found = answer.data?.values[0]
  const show = (n: number | null) =>
    n === null ? '–' : measure === 'duration' ? duration(n) : count(Math.round(n * 100) / 100)
  const most = Math.max(1, ...(found?.histogram ?? [1]))
  return (
    <div>
      <Select
        aria-label="Measure"
        className="w-48"
        value={measure}
        onChange={(event) => setMeasure(event.target.value as SessionNumber)}
      >
        {MEASURES.map((one) => (
          <option key={one} value={one}>
            {NUMBER_WORDS[one]}
          </option>
        ))}
      </Select>
      {answer.error && <Failure error={answer.error} />}
      {found && answer.data && (
        <>
          <p className="mt-2">
            Half of {count(found.known)} sessions lie between <b>{show(found.quantiles[1] ?? null)}</b> and{' '}
            <b>{show(found.quantiles[3] ?? null)}</b>; median <b>{show(found.quantiles[2] ?? null)}</b>, mean{' '}
            {show(found.mean)}, one in twenty above {show(found.quantiles[4] ?? null)}.
          </p>
          <div
            className="mt-2 flex h-40 items-end gap-px border-b border-line"
            role="img"
            aria-label={`Histogram of ${NUMBER_WORDS[measure]}`}
          >
            {found.histogram.map((n, k) => (
              <div
                key={k}
                className="min-w-1 flex-1 bg-stone"
                style={{ height: `${(n / most) * 100}%` }}
                title={`${show(answer.data.edges[k]!)} to ${show(answer.data.edges[k + 1]!)}: ${count(n)} sessions`}
              />
            ))}
          </div>
          <div className="flex justify-between text-ink-soft">
            <span>{show(answer.data.edges[0] ?? null)}</span>
            <span>{show(answer.data.edges[answer.data.edges.length - 1] ?? null)}</span>
          </div>
        </>
      )}
    </div>
  )
}

/** So many things that are done are there to choose: the most frequent ones. */
const MOST_AROUND = 150

/** What comes directly before and after something that happens. */
function Around({ lens }: { lens: Lens }) {
  const site = useSite()
  const happens = useContents(site.key, { lens, selection: EVERYONE }, 'element')
  const met = [...(happens.data?.contents ?? [])].sort((a, b) => b.selected.hits - a.selected.hits)
  const pages = met.filter(({ kind }) => kind === 'page')
  const done = met.filter(({ kind }) => kind !== 'page').slice(0, MOST_AROUND)
  const [chosen, setChosen] = useState('')
  const nameOf = useTokenNames()
  const token = [...pages, ...done].find((one) => tokenWords(one) === chosen) ?? pages[0] ?? done[0]
  if (happens.error) return <Failure error={happens.error} retry={() => void happens.refetch()} />
  if (!token)
    return happens.data ? <Empty title="Nothing happened here">Choose other dates.</Empty> : <Loading />
  return (
    <div>
      <Select
        aria-label="Around what"
        className="w-96"
        value={tokenWords(token)}
        onChange={(event) => setChosen(event.target.value)}
      >
        {(
          [
            ['Pages', pages],
            ['What is done', done],
          ] as const
        ).map(([label, tokens]) => (
          <optgroup key={label} label={label}>
            {tokens.map((one) => (
              <option key={tokenWords(one)} value={tokenWords(one)}>
                {nameOf(one)} ({plural(one.selected.hits, 'session')})
              </option>
            ))}
          </optgroup>
        ))}
      </Select>
      <div className="mt-2 grid grid-cols-2 gap-6">
        {(['back', 'onward'] as const).map((direction) => (
          <Neighbours key={direction} lens={lens} token={token} direction={direction} />
        ))}
      </div>
    </div>
  )
}

function Neighbours({ lens, token, direction }: { lens: Lens; token: Token; direction: 'back' | 'onward' }) {
  const site = useSite()
  const nameOf = useTokenNames()
  // Whoever did it, at the first time they did.
  const step = { type: 'event' as const, name: tokenWords(token), event: tokenCondition(token) }
  const answer = usePaths(
    site.key,
    { lens, selection: { type: 'funnel', steps: [step], step: 0, side: 'reached' } },
    { direction, depth: 1, of: 'pages and clicks' },
  )
  const { data } = answer
  const plain = (words: string) => ({ words, exact: words })
  const named = (one: Token) => ({ words: nameOf(one), exact: tokenWords(one) })
  const rows = data
    ? [
        ...data.next.map((node) => ({
          ...named({ kind: node.kind, page: node.page, what: node.selector ?? '' }),
          n: node.sessions,
        })),
        { ...plain(direction === 'back' ? '(began there)' : '(ended there)'), n: data.ended },
      ].sort((a, b) => b.n - a.n)
    : []
  return (
    <section aria-label={direction === 'back' ? 'Directly before' : 'Directly after'}>
      <h2>{direction === 'back' ? 'Directly before' : 'Directly after'} the first time</h2>
      {!data && <Loading rows={3} />}
      <table className="w-full">
        <tbody>
          {rows.slice(0, 15).map(({ words, exact, n }) => (
            <tr key={exact}>
              <td className="cell max-w-64 truncate" title={exact}>
                {words}
              </td>
              <td className="cell cell-n">
                {percent(data?.sessions ? n / data.sessions : null)} · {count(n)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {data && <p className="px-2.5 text-ink-soft">of {count(data.sessions)} sessions that did it</p>}
    </section>
  )
}
