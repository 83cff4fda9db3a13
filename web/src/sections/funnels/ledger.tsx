import type { FunnelResult, Rate } from '@dust-trail/core'
import { chiSquare, holm, newcombe, twoProportions } from '@dust-trail/core'
import { count, percent, points, rateText } from '../../ui/format.ts'
import { SideHead } from '../../lens/sides.tsx'

export interface Side {
  name: string
  result: FunnelResult | undefined
}

/** Step by step: what each side did, and for every side but the first whether it differs from the first by more than noise. */
export function Ledger({ sides }: { sides: readonly Side[] }) {
  const [first, ...others] = sides
  if (!first?.result) return null
  const names = first.result.steps.map(({ name }) => name)
  /** p-values of each other side, adjusted for the number of its steps */
  const adjusted = others.map(({ result }) =>
    holm(
      names.map((_, k) => {
        const [a, b] = [rateAt(first.result, k), rateAt(result, k)]
        return a && b ? twoProportions(b.hits, b.base, a.hits, a.base) : null
      }),
    ),
  )
  return (
    <section
      aria-label="Side by side"
      className="mt-4 overflow-x-auto rounded-md border border-line bg-sheet"
    >
      <table className="w-full">
        <thead>
          <tr>
            <th className="cell">Step, of those at the step before</th>
            {sides.map(({ name }, k) => (
              <th key={k} className="cell cell-n">
                <SideHead side={k} name={name} />
              </th>
            ))}
            {others.map(({ name }, k) => (
              <th key={k} className="cell">
                <span className="inline-flex max-w-[34rem] items-center gap-1">
                  <span className="truncate" title={name}>
                    {name}
                  </span>
                  <span className="shrink-0">less {first.name}: 95 % interval, p</span>
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {names.map((step, k) => (
            <tr key={k}>
              <td className="cell max-w-72 truncate font-semibold" title={step}>
                {k + 1}. {step}
              </td>
              {sides.map(({ result }, side) => {
                const rate = rateAt(result, k)
                return (
                  <td key={side} className="cell cell-n">
                    {rate ? rateText(rate) : '…'}
                  </td>
                )
              })}
              {others.map(({ result }, side) => (
                <Difference
                  key={side}
                  a={rateAt(result, k)}
                  b={rateAt(first.result, k)}
                  p={adjusted[side]![k]!}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="border-t border-line px-2.5 py-1.5 text-ink-soft">
        Intervals by Newcombe; p of the two-sided z-test, adjusted for the number of steps by Holm. “Cannot
        tell” means that the interval of the one step holds zero, or p over all steps is 0.05 or more.
      </p>
    </section>
  )
}

function Difference({ a, b, p }: { a: Rate | undefined; b: Rate | undefined; p: number | null }) {
  if (!a || !b) return <td className="cell">…</td>
  const { difference, interval } = newcombe(a.hits, a.base, b.hits, b.base)
  if (difference === null) return <td className="cell text-ink-soft">nobody to compare with</td>
  const [low, high] = interval
  const sure = (p ?? 1) < 0.05 && (low > 0 || high < 0)
  return (
    <td className="cell">
      <span
        className={sure ? (difference > 0 ? 'font-semibold text-spruce' : 'font-semibold text-clay') : ''}
      >
        {points(difference)}
      </span>{' '}
      <span className="text-ink-soft">
        ({points(low)} to {points(high)}), p {pText(p)}
        {sure ? '' : ' · cannot tell'}
      </span>
    </td>
  )
}

function pText(p: number | null): string {
  if (p === null) return '–'
  return p < 0.001 ? '< 0.001' : p.toFixed(3)
}

function rateAt(result: FunnelResult | undefined, k: number): Rate | undefined {
  return result?.steps[k]?.ofPrevious
}

/** Small multiples: the same funnel for each value, most entered first. */
export function Multiples({
  parts,
  names,
}: {
  parts: NonNullable<FunnelResult['byValue']>
  names: string[]
}) {
  const shown = parts.filter(({ entered }) => entered > 0).slice(0, 12)
  const test = chiSquare(
    parts.map(({ converted }) => converted),
    parts.map(({ entered }) => entered),
  )
  return (
    <section
      aria-label="For each value"
      className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(200px,1fr))] gap-3"
    >
      {shown.map((part) => (
        <figure key={part.label} className="rounded-md border border-line bg-sheet p-2.5">
          <figcaption className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1 truncate font-semibold" title={part.label}>
              {part.label || 'not known'}
            </span>
            <span>{percent(part.conversion.share)}</span>
          </figcaption>
          <p className="text-ink-soft">
            {count(part.converted)} of {count(part.entered)} who entered
          </p>
          <div className="mt-1 space-y-0.5">
            {part.reached.map((n, k) => (
              <div
                key={k}
                className="h-2.5 bg-line"
                title={`${names[k]}: ${count(n)}, ${percent(part.entered ? n / part.entered : null)} of ${count(part.entered)} who entered`}
              >
                <div
                  className="h-full bg-spruce"
                  style={{ width: `${part.entered ? (n / part.entered) * 100 : 0}%` }}
                />
              </div>
            ))}
          </div>
        </figure>
      ))}
      {test && (
        <p className="col-span-full text-ink-soft">
          Do they differ in how many went all the way? Chi-square {test.statistic.toFixed(1)} with {test.df}{' '}
          {test.df === 1 ? 'degree' : 'degrees'} of freedom, p {pText(test.p)}:{' '}
          {test.p < 0.05 ? 'more than chance explains.' : 'no more than chance explains.'}
        </p>
      )}
      {parts.length > shown.length && (
        <p className="self-center text-ink-soft">
          {count(parts.length - shown.length)} more with fewer who entered.
        </p>
      )}
    </section>
  )
}
