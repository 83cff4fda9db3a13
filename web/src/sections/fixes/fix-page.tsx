import type { Fix } from '@dust-trail/api'
import { deleteFix, getFix, listFixes, updateFix } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Link, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useFix } from '../../api/queries.ts'
import { useLens, useLensLink, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { useView } from '../../trail/view.tsx'
import { Button } from '../../ui/controls.tsx'
import { useDraft } from '../../ui/draft.ts'
import { day, moment } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { describeSelection } from '../../words/sentences.ts'
import type { FixDraft } from './fix-fields.tsx'
import { FixFields } from './fix-fields.tsx'
import { PriceTable } from './price-table.tsx'

/** One fix as a short report: what, why, what it costs now and on the day it was written down. */
export function FixPage() {
  const site = useSite()
  const { lens } = useLens()
  const { id = '' } = useParams()
  const answer = useFix(site.key, Number(id), lens)
  const { data } = answer
  useView(data ? { words: data.fix.title, question: { lens, selection: data.fix.selection } } : null)
  if (answer.error) return <Failure error={answer.error} retry={() => void answer.refetch()} />
  if (!data) return <Loading />
  return <Report key={data.fix.id} fix={data.fix} price={data.price} />
}

function Report({ fix, price }: { fix: Fix; price: Fix['evidence'] }) {
  const site = useSite()
  const { setSelection } = useSelection()
  const linkTo = useLensLink()
  const navigate = useNavigate()
  const client = useQueryClient()
  const [draft, setDraft] = useDraft<FixDraft | null>(`fix/${fix.id}`, null)
  const save = useMutation({
    mutationFn: (fields: FixDraft) => call(updateFix, { site: site.key, id: fix.id }, fields),
    onSuccess: async () => {
      await Promise.all([
        client.invalidateQueries({ queryKey: [getFix.path] }),
        client.invalidateQueries({ queryKey: [listFixes.path] }),
      ])
      setDraft(null)
      toast('Fix saved.')
    },
  })
  const remove = useMutation({
    mutationFn: () => call(deleteFix, { site: site.key, id: fix.id }),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: [listFixes.path] })
      toast(`Fix “${fix.title}” deleted.`)
      void navigate(linkTo('/fixes'))
    },
    onError: (error) => toast(error.message),
  })
  const page = 'page' in fix.selection && fix.selection.type !== 'funnel' ? fix.selection.page : undefined
  return (
    <article className="max-w-3xl space-y-5 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="break-words">{fix.title}</h1>
          <p className="text-ink-soft">
            {fix.status}, about {fix.effort} of work · written down {moment(fix.createdMs, site.timeZone)}
          </p>
        </div>
        {!draft && <Button onClick={() => setDraft(fix)}>Edit</Button>}
        <Link className="pt-1.5 text-spruce hover:underline" to={linkTo('/fixes')}>
          All fixes
        </Link>
      </header>
      {draft ? (
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault()
            const { title, hypothesis, change, effort, status } = draft
            save.mutate({ title, hypothesis, change, effort, status })
          }}
        >
          <FixFields fields={draft} setFields={setDraft} />
          {save.error && <Failure error={save.error} />}
          <div className="flex gap-2">
            <Button look="danger" onClick={() => remove.mutate()}>
              Delete fix
            </Button>
            <span className="flex-1" />
            <Button onClick={() => setDraft(null)}>Cancel</Button>
            <Button type="submit" look="primary" disabled={save.isPending}>
              Save fix
            </Button>
          </div>
        </form>
      ) : (
        <>
          <section>
            <h2>Hypothesis</h2>
            <p className="whitespace-pre-wrap">{fix.hypothesis}</p>
          </section>
          {fix.change && (
            <section>
              <h2>Proposed change</h2>
              <p className="whitespace-pre-wrap">{fix.change}</p>
            </section>
          )}
        </>
      )}
      <section>
        <h2 className="mb-1">What it costs, in the lens as it is now</h2>
        <PriceTable price={price} goal={site.goal} />
      </section>
      <section>
        <h2 className="mb-1">
          On the day it was written down: {day(fix.lens.from)} – {day(fix.lens.to)}
          {fix.lens.devices.length > 0 && `, ${fix.lens.devices.join(' and ')}`}
        </h2>
        <PriceTable price={fix.evidence} goal={site.goal} />
      </section>
      <section>
        <h2 className="mb-1">Evidence</h2>
        <ul className="space-y-1">
          <li>
            <LinkButton onClick={() => setSelection(fix.selection)}>
              The sessions: {describeSelection(fix.selection)}
            </LinkButton>
          </li>
          {page && (
            <li>
              <Link className="text-spruce hover:underline" to={linkTo('/pages', { page })}>
                The page: clicks on {page}
              </Link>
            </li>
          )}
          {fix.sessionId && (
            <li>
              <Link className="text-spruce hover:underline" to={linkTo(`/replays/${fix.sessionId}`)}>
                A replay that shows it
              </Link>
            </li>
          )}
        </ul>
      </section>
    </article>
  )
}
