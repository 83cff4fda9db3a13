import type { Segment } from '@dust-trail/api'
import { createSegment, listSegments } from '@dust-trail/api'
import type { Condition, Lens, Noise, Selection, Token } from '@dust-trail/core'
import { patternCondition, patternSteps, questions, tokenCondition, tokenWords } from '@dust-trail/core'
import { useQueryClient } from '@tanstack/react-query'
import { Tabs } from 'radix-ui'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../api/call.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue, useFacet } from '../../app/address.ts'
import { TEXT, useLensLink, useSite } from '../../app/lens.ts'
import { SaveSegment } from '../../closeup/save-segment.tsx'
import { Who } from '../../closeup/who.tsx'
import { keptTable } from '../../trail/kept-table.ts'
import { useKeptTables } from '../../trail/view.tsx'
import { Facet } from '../../ui/facets.tsx'
import { lastOwner } from '../../app/note-fields.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { EVERYONE } from '../../words/selections.ts'
import { Patterns } from '../paths/patterns.tsx'
import { Around } from './inspect-around.tsx'
import { Happens } from './inspect-contents.tsx'
import { HowMuch } from './inspect-numbers.tsx'
import { Sequences } from './sequences.tsx'

/** what those are called that nothing was cut from */
export const EVERYONE_NAME = 'everyone in the lens'

/** A node of the tree from close by: who, what happens, how much, event by event. */
export function Inspect({
  segment,
  lens,
  parentLens,
  parentName,
  kept,
}: {
  segment: Segment | undefined
  /** the lens narrowed down to the node, and to the one it was cut from */
  lens: Lens
  parentLens: Lens
  parentName: string
  /** the node through the lens of the view, for tables that are kept */
  kept: Selection
}) {
  const site = useSite()
  const client = useQueryClient()
  const navigate = useNavigate()
  const [, setChosen] = useAddressValue('segment', TEXT)
  const linkTo = useLensLink()
  const [saving, setSaving] = useState<{ condition: Condition | null; clean: Noise[]; name: string } | null>(
    null,
  )
  const [facet, setFacet] = useFacet('who')
  // Held against its parent: the parent's sessions are everyone, the node's are the selected.
  const condition = segment?.cut.condition
  const selection: Selection = condition ? { type: 'where', condition: condition } : EVERYONE
  const base: Lens = condition ? parentLens : lens
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
      void navigate(linkTo('/funnels', { steps: JSON.stringify(patternSteps(pattern)), ...options }))
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
        <Facet value="patterns">Patterns</Facet>
      </Tabs.List>
      <Tabs.Content value={facet} tabIndex={0} className="flex min-h-0 flex-1 flex-col overflow-auto pt-2">
        {facet === 'who' && (
          <Attributes lens={base} selection={selection} parentName={parentName} kept={kept} />
        )}
        {facet === 'happens' && (
          <Happens
            lens={base}
            selection={selection}
            parentName={parentName}
            kept={kept}
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
        {facet === 'patterns' && <Patterns lens={lens} selection={EVERYONE} kept={kept} />}
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
            if (id !== undefined) setChosen(String(id))
          }}
        />
      )}
    </Tabs.Root>
  )
}

const FACETS = ['who', 'happens', 'much', 'sequences', 'around', 'patterns']

function Attributes({
  lens,
  selection,
  parentName,
  kept,
}: {
  lens: Lens
  selection: Selection
  parentName: string
  kept: Selection
}) {
  const answer = useQuestion(questions.closeUp, lens, { selection }, { keep: false })
  useKeptTables([
    keptTable(questions.closeUp, 'Who they are', { selection: kept }, [
      ['attribute', 'What'],
      ['value', 'Which'],
      ['selected.share', 'Of these', 'percent'],
      ['selected.base', 'Sessions', 'count'],
      ['everyone.share', 'Of everyone', 'percent'],
      ['difference', 'Difference', 'percent'],
    ]),
  ])
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
      <Who data={answer.data} className="rounded-md border border-line bg-sheet" />
    </>
  )
}
