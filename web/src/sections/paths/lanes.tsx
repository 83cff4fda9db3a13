import type { Route, Selection } from '@dust-trail/core'
import { pageGoal } from '@dust-trail/core'
import { useSizes } from '../../api/queries.ts'
import { goalName, useLens, useSite } from '../../app/lens.ts'
import { count, percent, plural } from '../../ui/format.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { together } from '../../words/sentences.ts'

/** More lanes than this are no picture any more. */
const MOST_LANES = 12

/** The common routes as lanes, read from left to right, each with its share, what became of it, and how many it ends for. */
export function Lanes({
  routes,
  entered,
  least,
  focus,
  direction,
  open,
  pathOf,
}: {
  routes: readonly Route[]
  entered: number
  least: number
  focus: string
  direction: 'onward' | 'back'
  open: (parts: string[], ended?: boolean) => void
  pathOf: (parts: string[]) => Selection
}) {
  const site = useSite()
  const { lens } = useLens()
  const lanes = routes.slice(0, MOST_LANES)
  const shown = lanes.reduce((sum, { sessions }) => sum + sessions, 0)
  // What became of those who walked each lane.
  const main = site.goals[0] ?? (site.goal ? pageGoal(site.goal) : undefined)
  const reached = useSizes(
    site.key,
    main
      ? lanes.map(({ parts }) => ({
          lens: { ...lens, where: together([lens.where, { type: 'selected', selection: pathOf(parts) }])! },
          selection: { type: 'where', condition: { type: 'event', event: main.event } },
        }))
      : [],
  ).data?.sizes
  const goal = goalName(site)
  const most = Math.max(1, ...lanes.map(({ sessions }) => sessions))
  return (
    <section aria-label="Routes">
      <h2>Routes</h2>
      <p className="mb-1 text-ink-soft">
        {lanes.length
          ? `${plural(lanes.length, 'route')} that at least ${percent(least)} of ${count(entered)} walk, ${percent(shown / entered)} together; the others went rarer ways or ended earlier.`
          : `No route is walked by ${percent(least)} of ${count(entered)}: choose a smaller share.`}
      </p>
      {lanes.length > 0 && (
        <ol className="divide-y divide-line rounded-md border border-line bg-sheet">
          {lanes.map(({ parts, sessions, ended }, k) => {
            const won = reached?.[k]
            return (
              <li
                key={parts.join('\n')}
                className="grid grid-cols-[110px_minmax(0,1fr)_150px_150px] items-center gap-3 px-3 py-1.5"
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
                <Way parts={parts} focus={focus} back={direction === 'back'} open={open} />
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
              </li>
            )
          })}
        </ol>
      )}
    </section>
  )
}

/** The pages of a route, the one in focus at its end or beginning; each opens the route as far as it. */
function Way({
  parts,
  focus,
  back,
  open,
}: {
  parts: readonly string[]
  focus: string
  back: boolean
  open: (parts: string[]) => void
}) {
  const places = parts.map((part, k) => ({ part, to: parts.slice(0, k + 1) }))
  const shown = back ? places.toReversed() : places
  const own = <span className="rounded border border-ochre px-1.5">{focus}</span>
  return (
    <span className="flex min-w-0 flex-wrap items-center gap-x-1 gap-y-1">
      {!back && own}
      {shown.map(({ part, to }, k) => (
        <span key={k} className="flex min-w-0 items-center gap-1">
          {(!back || k > 0) && <Arrow />}
          <LinkButton className="rounded bg-spruce-soft px-1.5" title={part} onClick={() => open(to)}>
            <span className="block max-w-44 truncate">{part}</span>
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
