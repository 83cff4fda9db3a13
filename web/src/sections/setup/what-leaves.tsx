import type { Site } from '@dust-trail/api'
import { setCapture } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button, Field, Select } from '../../ui/controls.tsx'
import { Failure } from '../../ui/states.tsx'

type Capture = Site['capture']

const TEXT_WORDS: [Capture['text'], string, string][] = [
  [
    'hidden',
    'Controls and headings alone',
    'All other text leaves as bullets, titles of pages not at all. Mark with data-trail-show what may be seen.',
  ],
  [
    'patterns',
    'All but what looks personal',
    'E-mail addresses, phone, card and other long numbers and tokens leave as bullets. Names and addresses in plain text do leave, unless they are marked.',
  ],
  [
    'chosen',
    'All but what is marked',
    'Text of the page leaves as it is. Only what lies under data-trail-mask or data-trail-block does not.',
  ],
]
const CONSENT_WORDS: [Capture['consent'], string, string][] = [
  ['free', 'At once', 'Visitors are watched, and known again on later visits.'],
  [
    'visit',
    'At once, known again when allowed',
    'Each visit is one of somebody new until the page says that the visitor allows more.',
  ],
  ['asked', 'When allowed', 'Nothing is watched before the page says that the visitor allows it.'],
]
const DRAWING_WORDS: ['no' | 'yes', string, string][] = [
  ['no', 'As empty boxes', 'Of a canvas, and of pictures that are made on the page, only the size leaves.'],
  [
    'yes',
    'As pictures',
    'Charts, maps and signatures drawn on a canvas leave as pictures, at most one in two seconds. What is written in them is not looked at.',
  ],
]
const PICTURE_WORDS: [Capture['pictures'], string, string][] = [
  [
    'kept',
    'Kept here',
    'Those that are for everybody are kept here once, as far as the page may read them. Who watches asks nobody else.',
  ],
  [
    'asked',
    'Kept here, others asked for at the site',
    'What could not be kept is asked for at the recorded site by the browser of who watches. The site learns that somebody does.',
  ],
  ['none', 'As boxes', 'Of pictures only the size is in recordings; texts stand in fonts of who watches.'],
]
const SHARES = [1, 0.5, 0.25, 0.1, 0.05, 0.01] as const

/** What leaves the pages of the site: how much text, of whom, and from when on. Typed text never does. */
export function WhatLeaves() {
  const site = useSite()
  const client = useQueryClient()
  const [draft, setDraft] = useState<Capture>(site.capture)
  const changed = JSON.stringify(draft) !== JSON.stringify(site.capture)
  const save = useMutation({
    mutationFn: () => call(setCapture, { site: site.key }, draft),
    onSuccess: () => {
      void client.invalidateQueries()
      toast('Saved. Pages follow within a minute.')
    },
  })
  return (
    <form
      aria-label="What leaves the pages"
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        save.mutate()
      }}
    >
      <h2>What leaves the pages</h2>
      <p className="text-ink-soft">
        What visitors type never leaves, nor does anything under data-trail-mask or data-trail-block but how
        much room it takes. For the rest:
      </p>
      <div className="grid grid-cols-2 gap-3">
        <Choice
          label="Text of the page"
          words={TEXT_WORDS}
          value={draft.text}
          set={(text) => setDraft({ ...draft, text })}
        />
        <Choice
          label="Watching begins"
          words={CONSENT_WORDS}
          value={draft.consent}
          set={(consent) => setDraft({ ...draft, consent })}
        />
        <Field label="Of all visitors" hint="Always the same visitors, chosen by chance.">
          <Select
            className="w-full"
            value={String(draft.share)}
            onChange={({ target }) => setDraft({ ...draft, share: Number(target.value) })}
          >
            {[...new Set([...SHARES, draft.share])]
              .sort((a, b) => b - a)
              .map((share) => (
                <option key={share} value={share}>
                  {share === 1 ? 'all' : `${Math.round(share * 1000) / 10} %`}
                </option>
              ))}
          </Select>
        </Field>
        <Choice
          label="Drawings"
          words={DRAWING_WORDS}
          value={draft.drawings ? 'yes' : 'no'}
          set={(drawings) => setDraft({ ...draft, drawings: drawings === 'yes' })}
        />
        <Choice
          label="Pictures and fonts"
          words={PICTURE_WORDS}
          value={draft.pictures}
          set={(pictures) => setDraft({ ...draft, pictures })}
        />
      </div>
      {draft.consent !== 'free' && (
        <p>
          Each page says so, before the script is loaded or at any time:{' '}
          <code className="font-mono text-xs">
            {"(window.dustTrail ??= []).push({ kind: 'consent', allowed: true })"}
          </code>
          , and the same with false when it is taken back.
        </p>
      )}
      {save.error && <Failure error={save.error} />}
      <Button type="submit" disabled={!changed || save.isPending}>
        Save what leaves
      </Button>
    </form>
  )
}

/** One of several, with what it means below it. */
function Choice<T extends string>({
  label,
  words,
  value,
  set,
}: {
  label: string
  words: readonly (readonly [value: T, words: string, meaning: string])[]
  value: T
  set: (value: T) => void
}) {
  return (
    <Field label={label} hint={words.find(([one]) => one === value)?.[2] ?? ''}>
      <Select className="w-full" value={value} onChange={({ target }) => set(target.value as T)}>
        {words.map(([one, name]) => (
          <option key={one} value={one}>
            {name}
          </option>
        ))}
      </Select>
    </Field>
  )
}
