import type { Left } from '@dust-trail/api'
import { lookAtPage } from '@dust-trail/api'
import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { count, plural } from '../../ui/format.ts'
import { Failure } from '../../ui/states.tsx'

const EVERY_MS = 1500
const MOST_SHOWN = 50
const NOTHING: Left[] = []

const SINK_WORDS: [Left['sink'], string, string][] = [
  ['events', 'What happened', 'views, clicks, scrolling, errors, requests, what the site reports'],
  ['page', 'The page as a tree', 'once for each document, as far as it may be seen'],
  [
    'changes',
    'What changed on it',
    'elements, attributes, texts, how much was typed, how far it was scrolled',
  ],
  ['pointer', 'Pointer and clicks', 'where they were'],
  ['console', 'Console', 'what the page wrote there'],
  ['files', 'Pictures and fonts', 'which address stood for which, and files that were not here yet'],
  ['about', 'About the batch', 'site, name of the visitor, tab, times'],
]

/** Shows an owner what leaves one of their own pages while it leaves, word for word and way by way. */
export function LookAtPage() {
  const [looking, setLooking] = useState(false)
  return (
    <section aria-label="Look at what leaves a page" className="space-y-2">
      <h2>Look at what leaves a page</h2>
      <p className="text-ink-soft">
        Shows word for word what a page of yours sends while you use it, in this browser or on this network.
        Nothing of it is kept for this.
      </p>
      <Button onClick={() => setLooking(!looking)}>{looking ? 'Stop looking' : 'Start looking'}</Button>
      {looking && <Live />}
    </section>
  )
}

function Live() {
  const site = useSite()
  const known = useRef<Left[]>([])
  const { data = NOTHING, error } = useQuery({
    queryKey: [lookAtPage.path, site.key],
    queryFn: async ({ signal }) => {
      const after = known.current.at(-1)?.n ?? 0
      const { left } = await call(lookAtPage, { site: site.key }, { after }, signal)
      if (left.length) known.current = [...known.current, ...left]
      return known.current
    },
    refetchInterval: EVERY_MS,
    refetchIntervalInBackground: true,
    gcTime: 0,
  })
  if (error) return <Failure error={error} />
  return (
    <div className="space-y-1.5">
      <p role="status">
        {data.length
          ? `${plural(data.length, 'part')} so far, ${count(data.reduce((sum, { length }) => sum + length, 0))} characters.`
          : 'Waiting. Open one of the pages in another tab and do something there.'}{' '}
        {site.origins.map((origin) => (
          <a
            key={origin}
            className="mr-2 text-spruce underline"
            href={origin}
            target="_blank"
            rel="noreferrer"
          >
            {origin}
          </a>
        ))}
      </p>
      {SINK_WORDS.map(([sink, name, meaning]) => {
        const own = data.filter((one) => one.sink === sink)
        return (
          <details key={sink} className="rounded-md border border-line bg-sheet">
            <summary className="flex cursor-pointer items-baseline gap-2 px-3 py-1.5">
              <span className="font-semibold">{name}</span>
              <span className="min-w-0 flex-1 truncate text-ink-soft">{meaning}</span>
              <span className="tabular-nums">{count(own.length)}</span>
            </summary>
            <div
              className="max-h-72 space-y-1 overflow-auto border-t border-line px-3 py-2"
              tabIndex={0}
              role="region"
              aria-label={name}
            >
              {own.length > MOST_SHOWN && <p className="text-ink-soft">The last {MOST_SHOWN}.</p>}
              {own.slice(-MOST_SHOWN).map(({ n, text, length }) => (
                <pre key={n} className="font-mono text-xs break-all whitespace-pre-wrap">
                  {text}
                  {length > text.length && ` … ${count(length)} characters in all`}
                </pre>
              ))}
              {!own.length && <p className="text-ink-soft">Nothing so far.</p>}
            </div>
          </details>
        )
      })}
    </div>
  )
}
