import { DndContext, closestCenter } from '@dnd-kit/core'
import { SortableContext, verticalListSortingStrategy, useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { useQueryClient, useMutation } from '@tanstack/react-query'
import { GripVertical, Heading2, Lightbulb, Trash2 } from 'lucide-react'
import { useId, useState } from 'react'
import { questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { toast } from 'sonner'
import type { Trail, Mark } from '../../../api/src/endpoints.ts'
import { listTrails, deleteMark, updateMark } from '../../../api/src/endpoints.ts'
import { call } from '../api/call.ts'
import { useQuestion } from '../api/use-question.ts'
import { useSite } from '../app/lens.ts'
import { ProposeFix } from '../sections/fixes/propose-fix.tsx'
import { Button, IconButton, inputLook } from '../ui/controls.tsx'
import { count, moment, percent, plural, points } from '../ui/format.ts'
import { RateBar } from '../ui/rate-bar.tsx'
import { PictureView } from './picture.tsx'
import { nameOf, useMarkOrder } from './use-mark-order.ts'

export function Marks({ trail }: { trail: Trail }) {
  const site = useSite()
  const client = useQueryClient()
  const { groups, ids, sensors, onDragEnd } = useMarkOrder(trail)
  const remove = useMutation({
    mutationFn: (id: number) => call(deleteMark, { site: site.key, id }),
    onError: (error) => toast(error.message),
    onSettled: () => client.invalidateQueries({ queryKey: [listTrails.path] }),
  })
  const headings = groups.map(({ heading }) => heading).filter(Boolean)
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {groups.map(({ heading, marks }) => (
          <section key={heading} aria-label={heading || 'Marks'}>
            {heading && <h3 className="border-b border-line bg-paper px-2 py-1 break-words">{heading}</h3>}
            <ol>
              {marks.map((mark) => (
                <MarkItem
                  key={mark.id}
                  mark={mark}
                  headings={headings}
                  remove={() => remove.mutate(mark.id)}
                />
              ))}
            </ol>
          </section>
        ))}
      </SortableContext>
    </DndContext>
  )
}

function MarkItem({
  mark,
  headings,
  remove,
}: {
  mark: Mark
  headings: readonly string[]
  remove: () => void
}) {
  const site = useSite()
  const { setNodeRef, attributes, listeners, transform, transition } = useSortable({ id: mark.id })
  const difference =
    mark.then.share === null || mark.now.share === null ? null : mark.now.share - mark.then.share
  const [proposing, setProposing] = useState(false)
  const [grouping, setGrouping] = useState(false)
  const holds = mark.then.hits === mark.now.hits && mark.then.base === mark.now.base
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className="group flex gap-1 border-b border-line bg-sheet py-2 pr-2"
    >
      <button
        type="button"
        aria-label="Move this mark"
        className="mt-0.5 h-6 cursor-grab px-1 text-ink-soft"
        {...attributes}
        {...listeners}
      >
        <GripVertical size={14} />
      </button>
      <div className="min-w-0 flex-1">
        <Link to={mark.address} className="block font-semibold hover:underline">
          {nameOf(mark)}
        </Link>
        {mark.question.selection.type === 'everyone' ? (
          <p>{plural(mark.then.hits, 'session')}</p>
        ) : (
          <>
            <RateBar rate={mark.then} tone="stone" className="my-1.5" />
            <p>
              {percent(mark.then.share)} · {count(mark.then.hits)} of {count(mark.then.base)}
            </p>
          </>
        )}
        <p className={mark.dead ? 'text-clay' : holds ? 'text-spruce' : 'text-ochre-text'}>
          {mark.dead
            ? `✕ finds nothing any more. ${mark.dead}`
            : holds
              ? '✓ holds'
              : `↻ has moved by ${points(difference)}: now ${percent(mark.now.share)}, ${count(mark.now.hits)} of ${count(mark.now.base)}`}
        </p>
        {mark.picture && (
          <div className="mt-1">
            <PictureView short shows={mark.shows} picture={mark.picture} />
          </div>
        )}
        <Sentence mark={mark} />
        {grouping && <Heading mark={mark} headings={headings} done={() => setGrouping(false)} />}
        <div className="mt-1 flex items-center text-ink-soft">
          <span className="flex-1">{moment(mark.createdMs, site.timeZone)}</span>
          <IconButton
            label="Put this mark under a heading"
            className="-my-1 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
            onClick={() => setGrouping(true)}
          >
            <Heading2 size={14} />
          </IconButton>
          <IconButton
            label="Propose a fix from this mark"
            className="-my-1 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
            onClick={() => setProposing(true)}
          >
            <Lightbulb size={14} />
          </IconButton>
          <IconButton
            label="Remove this mark"
            className="-my-1 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100"
            onClick={remove}
          >
            <Trash2 size={14} />
          </IconButton>
        </div>
      </div>
      {proposing && <FixFromMark mark={mark} close={() => setProposing(false)} />}
    </li>
  )
}

/** What the sessions of a mark met, to write a fix for, through the mark's own lens. */
function FixFromMark({ mark: { question }, close }: { mark: Mark; close: () => void }) {
  const { lens, selection } = question
  const met = useQuestion(questions.closeUp, lens, { selection })
  const first = useQuestion(questions.sessions, lens, { selection, order: 'telling', limit: 1 })
  if (!met.data || first.isPending) return <p className="text-ink-soft">Looking at what they met …</p>
  return (
    <ProposeFix
      selection={selection}
      troubles={met.data.troubles}
      sessionId={first.data?.sessions[0]?.id ?? null}
      through={lens}
      close={close}
    />
  )
}

/** Under which heading a mark stands in its trail: one that is there already, or a new one. */
function Heading({ mark, headings, done }: { mark: Mark; headings: readonly string[]; done: () => void }) {
  const site = useSite()
  const client = useQueryClient()
  const [heading, setHeading] = useState(mark.heading)
  const list = useId()
  const save = useMutation({
    mutationFn: () => call(updateMark, { site: site.key, id: mark.id }, { heading }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: [listTrails.path] })
      done()
    },
    onError: (error) => toast(error.message),
  })
  return (
    <form
      className="mt-1 flex gap-1"
      onSubmit={(event) => {
        event.preventDefault()
        save.mutate()
      }}
    >
      <input
        autoFocus
        aria-label="Heading of this mark"
        placeholder="Heading; empty = none"
        maxLength={80}
        list={list}
        className={inputLook}
        value={heading}
        onChange={({ target }) => setHeading(target.value)}
        onKeyDown={({ key }) => key === 'Escape' && done()}
      />
      <datalist id={list}>
        {headings.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      <Button type="submit">Set</Button>
    </form>
  )
}

function Sentence({ mark }: { mark: Mark }) {
  const site = useSite()
  const client = useQueryClient()
  const [draft, setDraft] = useState<string | null>(null)
  const save = useMutation({
    mutationFn: (sentence: string) => call(updateMark, { site: site.key, id: mark.id }, { sentence }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: [listTrails.path] })
      setDraft(null)
    },
    onError: (error) => toast(error.message),
  })
  if (draft === null)
    return (
      <button
        type="button"
        className="mt-1 block w-full text-left break-words hover:bg-ochre-soft"
        onClick={() => setDraft(mark.sentence)}
      >
        {mark.sentence || <span className="text-ink-soft">Add a sentence</span>}
      </button>
    )
  return (
    <textarea
      autoFocus
      aria-label="Sentence of this mark"
      rows={3}
      className={`${inputLook} mt-1`}
      value={draft}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={() => (draft === mark.sentence ? setDraft(null) : save.mutate(draft))}
    />
  )
}
