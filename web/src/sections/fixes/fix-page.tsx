import type { Fix, FixEvent } from '@dust-trail/api'
import { deleteFix, getFix, listFixes, updateFix } from '@dust-trail/api'
import { questions } from '@dust-trail/core'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Fragment } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useFix } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { reportMarkdown } from '../../report/report.ts'
import { evidenceOf } from '../../report/evidence.ts'
import { fixReport } from '../../report/reports.ts'
import { goalName, useLens, useLensLink, useSite } from '../../app/lens.ts'
import { useSelection } from '../../closeup/use-selection.ts'
import { useView } from '../../trail/view.tsx'
import { Button } from '../../ui/controls.tsx'
import { useDraft } from '../../ui/draft.ts'
import { count, day, decimal, moment } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { pageOf } from '../../words/selections.ts'
import { describeSelection } from '../../words/sentences.ts'
import type { FixDraft } from './fix-fields.tsx'
import { candidateFor, CandidatePrice } from './candidate-price.tsx'
import { draftOf, FixFields } from './fix-fields.tsx'
import { FixHistory } from './fix-history.tsx'
import { MergeAndSplit } from './merge-and-split.tsx'
import { Verify } from './verify.tsx'
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
  return <Report key={data.fix.id} fix={data.fix} price={data.price} history={data.history} />
}

function Report({ fix, price, history }: { fix: Fix; price: Fix['evidence']; history: readonly FixEvent[] }) {
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
  const page = pageOf(fix.selection)
  const { lens } = useLens()
  const candidates = useQuestion(questions.candidates, lens, {}).data?.candidates ?? []
  const live = candidateFor(candidates, fix.selection)
  /** The text is promised to the clipboard at once: what it waits for would use up the press that allows it. */
  const copyIssue = () => {
    const text = evidenceOf(site.key, lens, fix.selection, false).then(
      (evidence) =>
        new Blob([reportMarkdown(fixReport(site, fix, price, live, evidence))], { type: 'text/plain' }),
    )
    return navigator.clipboard.write([new ClipboardItem({ 'text/plain': text })])
  }
  return (
    <article className="max-w-3xl space-y-5 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1 className="break-words">{fix.title}</h1>
          <p className="text-ink-soft">
            {fix.status}, about {fix.effort} of work{fix.owner && `, ${fix.owner}`} · written down{' '}
            {moment(fix.createdMs, site.timeZone)}
          </p>
        </div>
        {!draft && (
          <Button
            title="Title, reasons, place, errors with their stacks, and the replay as Markdown, to be pasted into a tracker"
            onClick={() =>
              void copyIssue().then(
                () => toast('Copied: paste it into your tracker.'),
                () => toast('The browser does not allow copying; save the list as a report instead.'),
              )
            }
          >
            Copy as issue
          </Button>
        )}
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
            save.mutate({ ...draftOf(draft), links: draft.links.filter((link) => link.trim() !== '') })
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
            <dl className="grid grid-cols-[150px_minmax(0,1fr)] gap-y-1">
              {(
                [
                  ['Because we saw', fix.hypothesis],
                  ['we believe', fix.belief],
                  ['so we change', fix.change],
                  ['and expect', fix.expectation],
                  [
                    'Hoped for',
                    fix.expectedGain === null ? '' : `${fix.expectedGain} conversions more in 30 days`,
                  ],
                  ['Shipped', fix.shippedDay ? day(fix.shippedDay) : ''],
                ] as const
              )
                .filter(([, words]) => words)
                .map(([label, words]) => (
                  <Fragment key={label}>
                    <dt className="text-ink-soft">{label}</dt>
                    <dd className="break-words whitespace-pre-wrap">{words}</dd>
                  </Fragment>
                ))}
            </dl>
          </section>
          {fix.links.length > 0 && (
            <ul aria-label="Links">
              {fix.links.map((link) => (
                <li key={link} className="truncate">
                  <a className="text-spruce underline" href={link} rel="noreferrer noopener" target="_blank">
                    {link}
                  </a>
                </li>
              ))}
            </ul>
          )}
          {fix.shippedDay && <Verify fix={fix} />}
        </>
      )}
      <section>
        <h2 className="mb-1">What it costs, in the lens as it is now</h2>
        <CandidatePrice problem={fix.selection} />
        <p className="mb-1 text-ink-soft">Beside it, as a plain comparison:</p>
        <PriceTable price={price} goal={goalName(site)} />
      </section>
      <section>
        <h2 className="mb-1">
          On the day it was written down: {day(fix.lens.from)} – {day(fix.lens.to)}
          {fix.lens.devices.length > 0 && `, ${fix.lens.devices.join(' and ')}`}
        </h2>
        {fix.priced && (
          <p className="mb-2">
            About {count(Math.round(fix.priced.value))} conversions lost in 30 days (
            {decimal(fix.priced.low, 0)} to {decimal(fix.priced.high, 0)}): {fix.priced.compared}.
          </p>
        )}
        <PriceTable price={fix.evidence} goal={goalName(site)} />
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
      <FixHistory fix={fix} history={history} />
      <MergeAndSplit fix={fix} />
    </article>
  )
}
