import type { Said } from '@dust-trail/api'
import { addLink, deleteLink, setTags, setWatched } from '@dust-trail/api'
import { useMutation } from '@tanstack/react-query'
import { Check, Copy, Download, Lightbulb, Share2, Tag, X } from 'lucide-react'
import { useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button, Field, IconButton, inputLook, Select } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { clock, moment } from '../../ui/format.ts'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { Failure } from '../../ui/states.tsx'
import type { useSaid } from './use-said.ts'

type Change = ReturnType<typeof useSaid>['change']

/** What one does with a session that one has watched. */
export function SessionTools({
  id,
  said,
  change,
  refetch,
  shownMs,
  propose,
}: {
  id: string
  said: Said
  change: Change
  refetch: () => void
  /** the moment that is shown */
  shownMs: () => number
  propose: () => void
}) {
  const site = useSite()
  const [sharing, setSharing] = useState(false)
  return (
    <div className="flex flex-wrap items-center gap-2">
      <Tags said={said} change={change} />
      <Button
        aria-pressed={said.watched}
        className={said.watched ? 'bg-spruce-soft font-semibold' : ''}
        title={said.watched ? 'You have watched this session' : 'Mark this session as watched by you'}
        onClick={() => change(setWatched, { watched: !said.watched })}
      >
        <Check size={14} aria-hidden /> Watched
      </Button>
      <Button onClick={propose}>
        <Lightbulb size={14} aria-hidden /> Propose a fix
      </Button>
      <Button onClick={() => setSharing(true)}>
        <Share2 size={14} aria-hidden /> Share
      </Button>
      <a
        className="inline-flex h-8 items-center gap-1.5 text-spruce hover:underline"
        title="One file that replays this session without a network"
        href={`/api/v1/sites/${site.key}/sessions/${id}/replay.html`}
        download
      >
        <Download size={14} aria-hidden /> File
      </a>
      {sharing && (
        <Share
          id={id}
          links={said.links}
          atMs={shownMs()}
          takeBack={(link) => change(deleteLink, undefined, { link })}
          made={refetch}
          close={() => setSharing(false)}
        />
      )}
    </div>
  )
}

function Tags({ said, change }: { said: Said; change: Change }) {
  const [text, setText] = useState<string | null>(null)
  const set = (tags: string[]) => change(setTags, { tags })
  return (
    <span className="inline-flex items-center gap-1">
      {said.tags.map((tag) => (
        <span key={tag} className="inline-flex h-6 items-center rounded bg-ochre-soft pl-1.5">
          {tag}
          <IconButton
            label={`Take the tag ${tag} away`}
            className="size-6"
            onClick={() => set(said.tags.filter((other) => other !== tag))}
          >
            <X size={12} />
          </IconButton>
        </span>
      ))}
      {text === null ? (
        <IconButton label="Add a tag" onClick={() => setText('')}>
          <Tag size={14} />
        </IconButton>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            if (text.trim()) set([...said.tags, text.trim()])
            setText(null)
          }}
        >
          <input
            autoFocus
            aria-label="Tag"
            maxLength={40}
            className={`${inputLook} !h-7 !w-28`}
            value={text}
            onChange={({ target }) => setText(target.value)}
            onKeyDown={({ key }) => key === 'Escape' && setText(null)}
            onBlur={() => !text.trim() && setText(null)}
          />
        </form>
      )}
    </span>
  )
}

const CLIP_MS = 30_000

/** Makes links by which somebody without an account sees this session, or a part of it, and takes them back. */
function Share({
  id,
  links,
  atMs,
  takeBack,
  made,
  close,
}: {
  id: string
  links: Said['links']
  atMs: number
  takeBack: (link: number) => void
  made: () => void
  close: () => void
}) {
  const site = useSite()
  const [part, setPart] = useState<'whole' | 'clip'>('whole')
  const [days, setDays] = useState('7')
  const clip = { fromMs: Math.max(0, Math.round(atMs - CLIP_MS / 2)), toMs: Math.round(atMs + CLIP_MS / 2) }
  const create = useMutation({
    mutationFn: () =>
      call(addLink, { site: site.key, id }, { days: Number(days), ...(part === 'clip' && clip) }),
    onSuccess: made,
  })
  const address = create.data && `${location.origin}${create.data.path}`
  return (
    <Dialog
      open
      onClose={close}
      title="Share this session"
      description="Whoever has the link sees this session alone, until the link expires or is taken back. What is hidden stays hidden."
    >
      <div className="space-y-4">
        <div className="flex flex-wrap items-end gap-3">
          <RadioGroup
            label="What is shown"
            value={part}
            onChange={setPart}
            options={[
              ['whole', 'Whole session'],
              ['clip', `${clock(clip.fromMs)} to ${clock(clip.toMs)}`],
            ]}
          />
          <Field label="Can be opened for">
            <Select value={days} onChange={({ target }) => setDays(target.value)}>
              {[
                ['1', 'one day'],
                ['7', 'a week'],
                ['30', '30 days'],
                ['90', '90 days'],
              ].map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </Select>
          </Field>
          <Button look="primary" disabled={create.isPending} onClick={() => create.mutate()}>
            Make a link
          </Button>
        </div>
        {create.error && <Failure error={create.error} />}
        {address && (
          <div className="flex items-center gap-2">
            <input aria-label="Link" readOnly className={inputLook} value={address} />
            <Button
              onClick={() =>
                void navigator.clipboard?.writeText(address).then(
                  () => toast('Link copied.'),
                  () => toast.error('The browser does not allow copying: mark the link and copy it.'),
                )
              }
            >
              <Copy size={14} aria-hidden /> Copy
            </Button>
          </div>
        )}
        {address && <p className="text-ink-soft">The link is shown this once and kept nowhere.</p>}
        {links.length > 0 && (
          <section aria-label="Links that can be opened">
            <h3>Links that can be opened</h3>
            <ul className="divide-y divide-line">
              {links.map(({ id: link, fromMs, toMs, untilMs, who }) => (
                <li key={link} className="flex items-center gap-2 py-1">
                  <span className="min-w-0 flex-1 truncate">
                    {toMs === null ? 'Whole session' : `${clock(fromMs)} to ${clock(toMs)}`}, by {who}, until{' '}
                    {moment(untilMs, site.timeZone)}
                  </span>
                  <Button look="danger" onClick={() => takeBack(link)}>
                    Take back
                  </Button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </Dialog>
  )
}
