import { addMark, createTrail, listTrails, PINNED } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useLocation } from 'react-router'
import { toast } from 'sonner'
import { call } from '../api/call.ts'
import { useLens, useSite } from '../app/lens.ts'
import { useSelection } from '../closeup/use-selection.ts'
import { Field, inputLook } from '../ui/controls.tsx'
import { useDraft, useForget } from '../ui/draft.ts'
import { FormDialog } from '../ui/form-dialog.tsx'
import { describeSelection } from '../words/sentences.ts'
import { useOpenTrail } from './use-trail.ts'
import { useCurrentView } from './view.tsx'

/** Puts what is shown on the open trail, with a sentence; opens a first trail where there is none. */
export function AddMark({ close }: { close: () => void }) {
  const site = useSite()
  const { lens } = useLens()
  const { selection } = useSelection()
  const currentView = useCurrentView()
  const location = useLocation()
  const client = useQueryClient()
  const { trail, pinned, choose } = useOpenTrail()
  const [isPin, setPin] = useState(false)
  const [sentence, setSentence] = useDraft('mark/sentence', '')
  const [name, setName] = useDraft('mark/name', '')
  const forget = useForget()
  const [view] = useState(() =>
    selection ? { words: describeSelection(selection), question: { lens, selection } } : currentView(),
  )
  const save = useMutation({
    mutationFn: async () => {
      if (!view) throw new Error('This screen shows no numbers that could be kept.')
      const make = (called: string) => call(createTrail, { site: site.key }, { name: called })
      const target = isPin ? (pinned ?? (await make(PINNED))) : (trail ?? (await make(name)))
      await call(
        addMark,
        { site: site.key, id: target.id },
        {
          address: location.pathname + location.search,
          view: view.words.slice(0, 300),
          sentence,
          question: view.question,
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
      ready={view !== null}
    >
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={isPin} onChange={({ target }) => setPin(target.checked)} />
        Pin it to Aim, the first screen, in place of the trail
      </label>
      {!trail && !isPin && (
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
