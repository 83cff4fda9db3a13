import type { EventCondition, Step } from '@dust-trail/core'
import { questions, stepName } from '@dust-trail/core'
import { clsx } from 'clsx'
import { useState } from 'react'
import { useActions } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { EventForm } from '../../lens/event-form.tsx'
import { Button, inputLook } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { useDraft } from '../../ui/draft.ts'
import { count, plural } from '../../ui/format.ts'
import { Empty, Loading } from '../../ui/states.tsx'
import { elementName } from '../../words/selections.ts'
import { eventWords } from '../../words/sentences.ts'

/** So many pages and elements are there at once: the most used ones. */
const FIRST = 30

/** Choice of what makes a step: a page seen, or an element clicked. */
export function StepDialog({
  title,
  choose,
  close,
}: {
  title: string
  choose: (step: Step) => void
  close: () => void
}) {
  const site = useSite()
  const { lens } = useLens()
  const catalogue = useQuestion(questions.catalogue, lens, {}).data
  const actions = useActions(site.key)
  const [search, setSearch] = useState('')
  /** several things of which any is the step; null = the first one chosen is it */
  const [several, setSeveral] = useState<Step[] | null>(null)
  const pick = (step: Step) => (several ? setSeveral([...several, step]) : choose(step))
  const wanted = search.trim().toLowerCase()
  const pages =
    catalogue?.pages.filter(({ page, pattern }) => `${page} ${pattern}`.toLowerCase().includes(wanted)) ?? []
  const elements =
    catalogue?.elements.filter(({ page, text, selector }) =>
      `${page} ${text} ${selector}`.toLowerCase().includes(wanted),
    ) ?? []
  const named = actions.data?.filter(({ name }) => name.toLowerCase().includes(wanted)) ?? []
  const [free, setFree] = useDraft('step/free', false)
  /** lists that are shown as a whole, however long */
  const [whole, setWhole] = useState<readonly string[]>([])
  const shown = <T,>(list: string, all: readonly T[]) => (whole.includes(list) ? all : all.slice(0, FIRST))
  const rest = (list: string, length: number) =>
    length > FIRST &&
    !whole.includes(list) && (
      <button
        type="button"
        data-row
        className={clsx(row, 'text-spruce underline')}
        onClick={() => setWhole([...whole, list])}
      >
        {count(length - FIRST)} more {list}
      </button>
    )
  const row =
    'flex h-8 w-full items-center gap-3 px-2 text-left hover:bg-ochre-soft focus-visible:bg-ochre-soft'
  return (
    <Dialog
      open
      onClose={close}
      title={title}
      description="A page that is seen, an element that is clicked, or anything else that happens. It counts for the past as well."
      wide
    >
      <input
        autoFocus
        type="search"
        aria-label="Search pages and elements"
        placeholder="Search by name, address or text"
        className={inputLook}
        value={search}
        onChange={(event) => setSearch(event.target.value)}
      />
      <div className="mt-2 flex min-h-8 flex-wrap items-center gap-2">
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={several !== null}
            onChange={(event) => setSeveral(event.target.checked ? [] : null)}
          />
          Any of several
        </label>
        <label className="flex items-center gap-1.5">
          <input type="checkbox" checked={free} onChange={(event) => setFree(event.target.checked)} />
          By a condition
        </label>
        {several?.map((step, k) => (
          <Button key={k} title="Take it out" onClick={() => setSeveral(several.filter((_, i) => i !== k))}>
            {stepName(step)} ×
          </Button>
        ))}
        {several && several.length > 1 && (
          <Button look="primary" onClick={() => choose(anyOf(several))}>
            Use any of these {several.length}
          </Button>
        )}
      </div>
      {free && (
        <div className="mt-2 rounded-md border border-line p-3">
          <EventForm
            draft="step/"
            submit="Use this"
            add={(event) => pick({ type: 'event', name: eventWords(event).slice(0, 120), event })}
          />
        </div>
      )}
      {!catalogue && <Loading />}
      <div className="mt-2 max-h-[50vh] overflow-auto" data-list>
        {named.length > 0 && <h2 className="px-2 pt-2">Actions</h2>}
        {named.map(({ id, name, description }) => (
          <button
            key={id}
            type="button"
            data-row
            className={row}
            onClick={() => pick({ type: 'event', name, event: { action: name } })}
          >
            <span className="min-w-0 flex-1 truncate">{name}</span>
            <span className="truncate text-ink-soft">{description}</span>
          </button>
        ))}
        {pages.length > 0 && <h2 className="px-2 pt-2">Pages</h2>}
        {shown('pages', pages).map(({ page, pattern, sessions }) => (
          <button
            key={page}
            type="button"
            data-row
            className={row}
            onClick={() => pick({ type: 'page', page })}
          >
            <span className="min-w-0 flex-1 truncate">{page}</span>
            <span className="min-w-0 truncate font-mono text-xs text-ink-soft">
              {pattern === page ? '' : pattern}
            </span>
            <span className="w-28 text-right text-ink-soft">{plural(sessions, 'session')}</span>
          </button>
        ))}
        {rest('pages', pages.length)}
        {elements.length > 0 && <h2 className="px-2 pt-3">Clicks</h2>}
        {shown('elements', elements).map(({ page, selector, text, sessions }) => (
          <button
            key={`${page}/${selector}`}
            type="button"
            data-row
            className={row}
            title={selector}
            onClick={() => pick({ type: 'click', page, selector, ...(text && { text }) })}
          >
            <span className="min-w-0 flex-1 truncate">{elementName(text, selector)}</span>
            <span className="truncate text-ink-soft">{page}</span>
            <span className="w-28 text-right text-ink-soft">{plural(sessions, 'session')}</span>
          </button>
        ))}
        {rest('elements', elements.length)}
        {catalogue && !pages.length && !elements.length && !named.length && (
          <Empty title="Nothing by that name">Widen the dates of the lens to see more pages.</Empty>
        )}
      </div>
    </Dialog>
  )
}

/** A step that any of several makes. */
function anyOf(steps: readonly Step[]): Step {
  return {
    type: 'event',
    name: steps.map(stepName).join(' or ').slice(0, 120),
    event: { any: steps.map(eventOf) },
  }
}

function eventOf(step: Step): EventCondition {
  if (step.type === 'event') return step.event
  return {
    kinds: [step.type],
    ...(step.page !== undefined && { page: { is: 'equal', to: step.page } }),
    ...(step.type === 'click' && { element: { is: 'equal', to: step.selector } }),
  }
}
