import type { PathPart, Place, Route, Selection, Step } from '@dust-trail/core'
import { MOST_STEPS, pageGoal, placeText, questions } from '@dust-trail/core'
import { Link } from 'react-router'
import { useSizes } from '../../api/queries.ts'
import { useQuestionThrough } from '../../api/use-question.ts'
import { goalName, useLens, useLensLink, useSite } from '../../app/lens.ts'
import { count, duration, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { placeName, together } from '../../words/sentences.ts'
import { lanesPicture } from './lanes-picture.ts'
import { savePng, saveSvg } from './steps-picture.ts'
import { partOf } from './use-paths.ts'

const LENGTH = {
  selection: { type: 'everyone' as const },
  options: { measure: 'duration' as const, quantiles: [0.5], bins: 0 },
}

/** More lanes than this are no picture any more. */
const MOST_LANES = 12

/** The common routes as lanes, read from left to right, each with its share, what became of it, and how many it ends for. */
export function Lanes({
  routes,
  entered,
  least,
  focus,
  page,
  direction,
  open,
  pathOf,
}: {
  routes: readonly Route[]
  entered: number
  least: number
  focus: string
  /** the page in focus; null: it is something else */
  page: string | null
  direction: 'onward' | 'back'
  open: (parts: PathPart[], ended?: boolean) => void
  pathOf: (parts: PathPart[]) => Selection
}) {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const lanes = routes.slice(0, MOST_LANES)
  const shown = lanes.reduce((sum, { sessions }) => sum + sessions, 0)
  // What became of those who walked each lane.
  const through = lanes.map(({ parts }) => ({
    ...lens,
    where: together([lens.where, { type: 'selected', selection: pathOf(parts.map(partOf)) }])!,
  }))
  const main = site.goals[0] ?? (site.goal ? pageGoal(site.goal) : undefined)
  const reached = useSizes(
    site.key,
    main
      ? through.map((own) => ({
          lens: own,
          selection: { type: 'where', condition: { type: 'event', event: main.event } },
        }))
      : [],
  ).data?.sizes
  const lengths = useQuestionThrough(questions.distribution, through, LENGTH)
  const strains = useQuestionThrough(questions.strain, through, {})
  const goal = goalName(site)
  const most = Math.max(1, ...lanes.map(({ sessions }) => sessions))
  const picture = () =>
    lanesPicture(
      lanes.map(({ parts: places, sessions, ended }, k) => {
        const won = reached?.[k]
        const length = lengths[k]?.data?.values[0]?.quantiles[0]
        const strain = strains[k]?.data?.mean
        const told = [
          goal && won && `${percent(won.share)} ${goal}`,
          length !== undefined && length !== null && duration(length),
          strain !== undefined && strain !== null && `strain ${strain.toFixed(0)}`,
        ]
        return {
          places,
          sessions,
          ended,
          told: told.filter((one) => typeof one === 'string' && one !== '') as string[],
        }
      }),
      { focus, back: direction === 'back', entered },
    )
  return (
    <section aria-label="Routes">
      <div className="flex items-baseline gap-3">
        <h2 className="flex-1">Routes</h2>
        {lanes.length > 0 && (
          <>
            <LinkButton onClick={() => saveSvg(picture(), 'routes')}>Routes as SVG</LinkButton>
            <LinkButton onClick={() => void savePng(picture(), 'routes')}>Routes as PNG</LinkButton>
          </>
        )}
      </div>
      <p className="mb-1 text-ink-soft">
        {lanes.length
          ? `${plural(lanes.length, 'route')} that at least ${percent(least)} of ${count(entered)} walk, ${percent(shown / entered)} together; the others went rarer ways or ended earlier.`
          : `No route is walked by ${percent(least)} of ${count(entered)}: choose a smaller share.`}
      </p>
      {lanes.length > 0 && (
        <ol className="divide-y divide-line rounded-md border border-line bg-sheet">
          {lanes.map(({ parts: places, sessions, ended }, k) => {
            const won = reached?.[k]
            const parts = places.map(partOf)
            const length = lengths[k]?.data?.values[0]?.quantiles[0]
            const strain = strains[k]?.data?.mean
            return (
              <li
                key={places.map(placeText).join('\n')}
                className="grid grid-cols-[96px_minmax(0,1fr)_136px_124px_164px] items-center gap-3 px-3 py-1.5"
              >
                <span>
                  <LinkButton
                    className="font-semibold"
                    title="Open the sessions that walked this route"
                    onClick={() => open(parts)}
                  >
                    {percent(sessions / entered)}
                  </LinkButton>{' '}
                  <span className="text-ink-soft">{count(sessions)}</span>
                  <span aria-hidden className="mt-0.5 block h-1.5 bg-line">
                    <span
                      className="block h-full bg-spruce"
                      style={{ width: `${(sessions / most) * 100}%` }}
                    />
                  </span>
                </span>
                <span className="flex min-w-0 items-center gap-2">
                  <Way places={places} focus={focus} back={direction === 'back'} open={open} />
                  <Link
                    className="ml-auto shrink-0 text-xs text-spruce hover:underline"
                    title="This route as the steps of a funnel"
                    to={linkTo('/funnels', { steps: JSON.stringify(stepsOf(places, page, direction)) })}
                  >
                    as a funnel
                  </Link>
                </span>
                <span className="text-right">
                  <LinkButton
                    title={
                      direction === 'onward'
                        ? 'Open those who went nowhere further'
                        : 'Open those who began there'
                    }
                    onClick={() => open(parts, true)}
                  >
                    {percent(ended / sessions)}
                  </LinkButton>{' '}
                  <span className="text-ink-soft">
                    {direction === 'onward' ? 'ended here' : 'began here'}
                  </span>
                </span>
                <span className="text-right" title={won && `${count(won.hits)} of ${count(won.base)}`}>
                  {goal ? (
                    won ? (
                      <>
                        {percent(won.share)} <span className="text-ink-soft">{goal}</span>
                      </>
                    ) : (
                      '…'
                    )
                  ) : (
                    ''
                  )}
                </span>
                <span
                  className="text-right"
                  title="Median length of these sessions; mean strain of them, from 0 to 100"
                >
                  {length === undefined || length === null ? '…' : duration(length)}{' '}
                  <span className="text-ink-soft">
                    · strain {strain === undefined || strain === null ? '…' : strain.toFixed(0)}
                  </span>
                </span>
              </li>
            )
          })}
        </ol>
      )}
    </section>
  )
}

/** The places of a route, the one in focus at its end or beginning; each opens the route as far as it. */
function Way({
  places,
  focus,
  back,
  open,
}: {
  places: readonly Place[]
  focus: string
  back: boolean
  open: (parts: PathPart[]) => void
}) {
  const steps = places.map((place, k) => ({ name: placeName(place), to: places.slice(0, k + 1).map(partOf) }))
  const shown = back ? steps.toReversed() : steps
  const own = (
    <span className="max-w-44 truncate rounded border border-ochre px-1.5" title={focus}>
      {focus}
    </span>
  )
  return (
    <span className="flex min-w-0 flex-wrap items-center gap-x-1 gap-y-1">
      {!back && own}
      {shown.map(({ name, to }, k) => (
        <span key={k} className="flex min-w-0 items-center gap-1">
          {(!back || k > 0) && <Arrow />}
          <LinkButton className="rounded bg-spruce-soft px-1.5" title={name} onClick={() => open(to)}>
            <span className="block max-w-44 truncate">{name}</span>
          </LinkButton>
        </span>
      ))}
      {back && (
        <>
          <Arrow />
          {own}
        </>
      )}
    </span>
  )
}

const Arrow = () => (
  <span aria-hidden className="text-ink-soft">
    →
  </span>
)

/** A route as the steps of a funnel, the page in focus among them. */
function stepsOf(places: readonly Place[], page: string | null, direction: 'onward' | 'back'): Step[] {
  const steps = places.map(({ kind, page: on, selector, name }): Step => {
    if (kind === 'page') return { type: 'page', page: on }
    if (kind === 'click') return { type: 'click', page: on, selector: selector ?? '' }
    if (kind === 'action') return { type: 'event', name: name ?? '', event: { action: name ?? '' } }
    const test = { is: 'equal' as const, to: on }
    return {
      ...{ type: 'event', name: on },
      event: { kinds: ['page'], ...(kind === 'address' ? { path: test } : { text: test }) },
    }
  })
  const focus: Step[] = page === null ? [] : [{ type: 'page', page }]
  return (direction === 'onward' ? [...focus, ...steps] : [...steps.toReversed(), ...focus]).slice(
    0,
    MOST_STEPS,
  )
}
