import type { FrictionAnswer, SignalKind } from '@dust-trail/core'
import { questions, SIGNAL_KINDS, signalTraits, worseSpots } from '@dust-trail/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { comparedLens, useLens, useLensLink, useVersus } from '../../app/lens.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Select } from '../../ui/controls.tsx'
import { count, day, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { FrictionViews } from './friction-views.tsx'
import { FewSee } from './few-see.tsx'
import { HotSpots } from './hot-spots.tsx'
import { OwnSignals } from './own-signals.tsx'
import { NewOrWorse } from './new-or-worse.tsx'

const SIGNAL = z.enum(SIGNAL_KINDS)

/** Where it hurts, and since when: first what is new or worse, then every spot. */
export function FrictionPage() {
  const { lens } = useLens()
  const linkTo = useLensLink()
  const [versus] = useVersus()
  const [kind, setKind] = useAddressValue('signal', SIGNAL)
  // Something is always new or worse than something: where nothing is chosen, than in as many days just before.
  const earlier = comparedLens(lens, versus === 'none' ? 'before' : versus)!
  const now = useQuestion(questions.friction, lens, {})
  const before = useQuestion(questions.friction, earlier, {})
  useView({
    words: 'All sessions in the lens',
    question: { lens, selection: { type: 'everyone' } },
    tables: [
      keptTable(questions.friction, 'Hot spots', {}, [
        ['kind', 'Signal'],
        ['page', 'Page'],
        ['text', 'Element'],
        ['met.share', 'Met it', 'percent'],
        ['met.hits', 'Sessions', 'count'],
        ['perThousandViews', 'Per 1,000 views', 'decimal'],
      ]),
    ],
  })
  const { data } = now
  const worse = useMemo(() => (data && before.data ? worseSpots(data, before.data) : []), [data, before.data])
  const error = now.error ?? before.error
  const again = () => void Promise.all([now.refetch(), before.refetch()])
  const spots = data?.spots.filter((spot) => !kind || spot.kind === kind) ?? []
  return (
    <div className="space-y-4 px-5 py-3">
      <header className="flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <h1>Friction</h1>
          <p className="text-ink-soft">
            Where does it hurt, and since when?
            {data && ` ${plural(data.sessions, 'session')} in the lens.`}
          </p>
        </div>
        <FrictionViews />
      </header>
      {error && <Failure error={error} retry={again} />}
      {(now.isPending || before.isPending) && !error && <Loading />}
      {data && before.data && (
        <Settling stale={now.isPlaceholderData || before.isPlaceholderData} className="space-y-5">
          <NewOrWorse
            worse={worse}
            days={`${day(earlier.from)} – ${day(earlier.to)}`}
            sessionsBefore={before.data.sessions}
          />
          <FewSee />
          <section aria-label="Hot spots">
            <div className="mb-1 flex items-baseline gap-3">
              <h2>Hot spots</h2>
              <Select
                aria-label="Kind of signal"
                value={kind ?? ''}
                onChange={({ target }) => setKind((target.value || null) as SignalKind | null)}
              >
                <option value="">all kinds</option>
                {kindsIn(data).map(([one, spotsOfKind]) => (
                  <option key={one} value={one}>
                    {one} ({count(spotsOfKind)})
                  </option>
                ))}
              </Select>
              {kind && (
                <p className="text-ink-soft">
                  {signalTraits(kind).means} ·{' '}
                  <Link className="text-spruce hover:underline" to={linkTo(`/friction/${kind}`)}>
                    what counts as one
                  </Link>
                </p>
              )}
            </div>
            {spots.length ? (
              <HotSpots spots={spots} answer={data} />
            ) : (
              <Empty title="Nothing that we detect went wrong">
                {kind && data.notMeasured.includes(kind)
                  ? 'This kind is not measured: the data of the lens do not tell it.'
                  : 'Choose other dates, or another kind of signal.'}
              </Empty>
            )}
            <Footnotes data={data} />
          </section>
          <OwnSignals />
        </Settling>
      )}
    </div>
  )
}

/** Kinds of signal that were met, each with at how many spots. */
function kindsIn({ spots }: FrictionAnswer): [SignalKind, number][] {
  const counts = new Map<SignalKind, number>()
  for (const { kind } of spots) counts.set(kind, (counts.get(kind) ?? 0) + 1)
  return SIGNAL_KINDS.flatMap((kind): [SignalKind, number][] => {
    const spotsOfKind = counts.get(kind)
    return spotsOfKind ? [[kind, spotsOfKind]] : []
  })
}

function Footnotes({ data: { more, notMeasured } }: { data: FrictionAnswer }) {
  return (
    <div className="mt-2 space-y-1 text-xs text-ink-soft">
      <p>
        Conversion afterwards is a plain comparison: those who met it can differ in more than that from the
        others who viewed the page.
      </p>
      {notMeasured.length > 0 && <p>Not measured, since these data do not tell: {notMeasured.join(', ')}.</p>}
      {more > 0 && <p>{plural(more, 'further spot')} met by fewer sessions are not listed.</p>}
    </div>
  )
}
