import type { Shown } from '@dust-trail/api'
import { addMark, createTrail, listTrails, PINNED } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useLocation } from 'react-router'
import { toast } from 'sonner'
import { call } from '../api/call.ts'
import { useMe } from '../api/use-me.ts'
import { useLens, useSite } from '../app/lens.ts'
import { useSelection } from '../closeup/use-selection.ts'
import { Field, inputLook, Select } from '../ui/controls.tsx'
import { useDraft, useForget } from '../ui/draft.ts'
import { FormDialog } from '../ui/form-dialog.tsx'
import { describeSelection } from '../words/sentences.ts'
import { useOpenTrail } from './use-trail.ts'
import type { View } from './view.tsx'
import { useCurrentView } from './view.tsx'

type Where = 'trail' | 'all' | 'own'

/** @param shown  "figure", "trend", or which of the view's tables */
function shownOf({ tables }: View, shown: string): Shown {
  if (shown === 'trend') return { form: 'trend' }
  return tables?.[Number(shown)] ?? { form: 'figure' }
}

/** Puts what is shown on the open trail, with a sentence; opens a first trail where there is none. */
export function AddMark({ close }: { close: () => void }) {
  const site = useSite()
  const { lens } = useLens()
  const { selection } = useSelection()
  const currentView = useCurrentView()
  const location = useLocation()
  const client = useQueryClient()
  const { trail, pinned, ownPinned, choose, pending } = useOpenTrail()
  const signedIn = useMe().data?.account != null
  const [where, setWhere] = useState<Where>('trail')
  const isPin = where !== 'trail'
  const [shown, setShown] = useState('figure')
  const [sentence, setSentence] = useDraft('mark/sentence', '')
  const [name, setName] = useDraft('mark/name', '')
  const forget = useForget()
  const [view] = useState(() =>
    selection ? { words: describeSelection(selection), question: { lens, selection } } : currentView(),
  )
  const save = useMutation({
    mutationFn: async () => {
      if (!view) throw new Error('This screen shows no numbers that could be kept.')
      const own = where === 'own'
      const make = (called: string) => call(createTrail, { site: site.key }, { name: called, own })
      const there = own ? ownPinned : pinned
      const target = isPin ? (there ?? (await make(PINNED))) : (trail ?? (await make(name)))
      await call(
        addMark,
        { site: site.key, id: target.id },
        {
          address: location.pathname + location.search,
          view: view.words.slice(0, 300),
          sentence,
          question: view.question,
          shows: shownOf(view, shown),
        },
      )
      return target
    },
    onSuccess: (target) => {
      if (!isPin) choose(target.id)
      void client.invalidateQueries({ queryKey: [listTrails.path] })
      forget('mark/')
      toast(`Added to “${target.name}”.`)
      close()
    },
  })
  return (
    <FormDialog
      title="Add to trail"
      description={view ? view.words : 'This screen shows no numbers that could be kept.'}
      close={close}
      submit={() => save.mutate()}
      submitText="Add to trail"
      error={save.error}
      saving={save.isPending}
      ready={view !== null && !pending}
    >
      <Field label="Where to" hint="Pins stand on Aim, the first screen.">
        <Select value={where} onChange={({ target }) => setWhere(target.value as Where)}>
          <option value="trail">
            {trail ? `On the trail “${trail.name}”` : pending ? 'On the open trail' : 'On a new trail'}
          </option>
          <option value="all">Pinned to Aim, for all</option>
          {signedIn && <option value="own">Pinned to Aim, for me alone</option>}
        </Select>
      </Field>
      <Field label="What is kept" hint="It is counted again whenever it is looked at.">
        <Select value={shown} onChange={({ target }) => setShown(target.value)}>
          <option value="figure">The number</option>
          <option value="trend">The number, and how it went over the days</option>
          {view?.tables?.map(({ title, rows }, k) => (
            <option key={title} value={k}>
              The number, and the table “{title}” (first {rows} rows)
            </option>
          ))}
        </Select>
      </Field>
      {!pending && !trail && !isPin && (
        <Field label="Name of the trail" hint="A trail is one investigation: the question you follow.">
          <input
            autoFocus
            required
            maxLength={120}
            className={inputLook}
            value={name}
            placeholder="Why do so few book a night?"
            onChange={(event) => setName(event.target.value)}
          />
        </Field>
      )}
      <Field label="What this shows" hint="One sentence. The view and its numbers are kept with it.">
        <textarea
          // Which field is the first one is known with the trails.
          key={String(pending)}
          autoFocus={!!trail}
          rows={3}
          maxLength={1000}
          className={inputLook}
          value={sentence}
          onChange={(event) => setSentence(event.target.value)}
        />
      </Field>
    </FormDialog>
  )
}
