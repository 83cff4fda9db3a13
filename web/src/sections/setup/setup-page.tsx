import { Plus } from 'lucide-react'
import { useEffect, useState } from 'react'
import { toast } from 'sonner'
import { useMe } from '../../api/use-me.ts'
import { useSite } from '../../app/lens.ts'
import { Button } from '../../ui/controls.tsx'
import { count, moment } from '../../ui/format.ts'
import { SiteAudit } from '../people/site-audit.tsx'
import { SitePeople } from '../people/site-people.tsx'
import { SiteTokens } from '../people/site-tokens.tsx'
import { DataIn } from './import-files.tsx'
import { DeleteSite } from './delete-site.tsx'
import { Goals } from './goals.tsx'
import { NewSite } from './new-site.tsx'
import { MoneyTaken } from './money-taken.tsx'
import { OneVisitor } from './one-visitor.tsx'
import { LookAtPage } from './look-at-page.tsx'
import { NoPeople } from './no-people.tsx'
import { Refused } from './refused.tsx'
import { Retention } from './retention.tsx'
import { SiteForm } from './site-form.tsx'
import { WhatLeaves } from './what-leaves.tsx'

/** The site: whether its data arrives, the script to put on it, data in and out, what is known of it, what is kept. */
export function SetupPage() {
  const site = useSite()
  const [adding, setAdding] = useState(false)
  const collects = useMe().data?.collectUrl ?? location.origin
  const snippet = `<script async src="${collects}/capture.js" data-site="${site.key}"></script>`
  return (
    <div className="max-w-3xl space-y-6 px-5 py-3" key={site.key}>
      <div className="flex items-start gap-4">
        <div className="min-w-0 flex-1">
          <h1>Setup</h1>
          <p className="text-ink-soft">
            {count(site.sessions)} sessions of {site.name} are loaded. Time zone {site.timeZone}; sessions end
            after {site.sessionLimitMin} minutes without activity.
          </p>
        </div>
        <Button onClick={() => setAdding(true)}>
          <Plus size={14} aria-hidden />
          Add a site
        </Button>
      </div>
      {site.damaged.map(({ id, sessions, reason }) => (
        <p key={id} role="alert" className="rounded-md border border-clay px-3 py-2 text-clay">
          Block {id} with {count(sessions)} sessions cannot be read ({reason}). They are missing in every
          answer. Restore the database from a backup; all else goes on.
        </p>
      ))}
      {site.full.length > 0 && (
        <p className="rounded-md border border-line px-3 py-2 text-ink-soft">
          There are more different values of {site.full.join(', ')} than are told apart; the rest counts as
          “(other)”.
        </p>
      )}
      {site.streamed > 0 && (
        <p className="rounded-md border border-line px-3 py-2 text-ink-soft">
          {count(site.streamed)} blocks do not fit into the memory set aside (MEMORY_MB) and are read from the
          database with each question: right, but slower.
        </p>
      )}
      <section>
        <h2 className="mb-1">The script</h2>
        <p className="mb-2">
          Put this into the head of every page. It never sends what visitors type; what else leaves, and of
          whom, is said below.
        </p>
        <div className="flex items-start gap-2">
          <pre
            className="min-w-0 flex-1 overflow-auto rounded-md border border-line bg-sheet p-3 font-mono text-xs"
            tabIndex={0}
          >
            {snippet}
          </pre>
          <Button
            onClick={() => {
              void navigator.clipboard.writeText(snippet).then(
                () => toast('Copied.'),
                () => toast('The browser does not allow copying; select the text instead.'),
              )
            }}
          >
            Copy
          </Button>
        </div>
        <Arrival lastMs={site.lastMs} timeZone={site.timeZone} />
      </section>
      <WhatLeaves />
      <LookAtPage />
      <Goals />
      <SitePeople />
      <SiteTokens />
      <SiteAudit />
      <Refused />
      <NoPeople />
      <DataIn />
      <section>
        <h2 className="mb-1">Take data out</h2>
        <p>
          Everything that was captured or imported, as a clickstream:{' '}
          <a className="text-spruce underline" href={`/api/v1/sites/${site.key}/export.ndjson?gzip`}>
            {site.key}.ndjson.gz
          </a>{' '}
          <span className="text-ink-soft">(one JSON object a line, gzipped; recordings are not in it)</span>
        </p>
      </section>
      <SiteForm />
      <MoneyTaken />
      <Retention />
      <OneVisitor />
      <DeleteSite />
      {adding && <NewSite close={() => setAdding(false)} />}
    </div>
  )
}

/** Whether data arrives: watches for something newer than when the page was opened. */
function Arrival({ lastMs, timeZone }: { lastMs: number | null; timeZone: string }) {
  const [since] = useState(lastMs)
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  const fresh = lastMs !== null && lastMs !== since
  return (
    <p role="status" className={fresh ? 'mt-2 text-spruce' : 'mt-2 text-ink-soft'}>
      {lastMs === null
        ? 'No data has arrived yet. Load a page that has the script on it.'
        : fresh
          ? `✓ Data arrives: last event ${Math.max(0, Math.round((now - lastMs) / 1000))} s ago.`
          : `Waiting for new data. Last event: ${moment(lastMs, timeZone)}. Click around on your site to check.`}
    </p>
  )
}
