import type { FunnelAnswer, Rate } from '@dust-trail/core'
import { chiSquare, holm, twoProportions } from '@dust-trail/core'
import { SideHead } from '../../lens/sides.tsx'
import type { DataColumn } from '../../ui/data-table.tsx'
import { DataTable } from '../../ui/data-table.tsx'
import { Difference, pText } from '../../ui/difference.tsx'
import { count, percent, rateText } from '../../ui/format.ts'

export interface Side {
  name: string
  result: FunnelAnswer | undefined
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
  const columns: DataColumn<string>[] = [
    {
      id: 'step',
      head: 'Step, of those at the step before',
      cell: (step, k) => `${k + 1}. ${step}`,
      title: (step) => step,
      className: 'font-semibold',
      width: 240,
    },
    ...sides.map(({ name, result }, side): DataColumn<string> => ({
      id: `side ${side}`,
      head: <SideHead side={side} name={name} />,
      words: name,
      cell: (_, k) => {
        const rate = rateAt(result, k)
        return rate ? rateText(rate) : '…'
      },
      numeric: true,
      width: 160,
    })),
    ...others.map(({ name, result }, side): DataColumn<string> => {
      const words = `${name} less ${first.name}: 95 % interval, p`
      return {
        id: `difference ${side}`,
        head: <span title={words}>{words}</span>,
        words,
        cell: (_, k) => {
          const [a, b] = [rateAt(result, k), rateAt(first.result, k)]
          return a && b ? <Difference a={a} b={b} p={adjusted[side]![k]} /> : '…'
        },
        width: 360,
      }
    }),
  ]
  return (
    <section aria-label="Side by side" className="mt-4 rounded-md border border-line bg-sheet">
      <DataTable name="side-by-side" rows={names} columns={columns} rowKey={(_, k) => String(k)} />
      <p className="border-t border-line px-2.5 py-1.5 text-ink-soft">
        Intervals by Newcombe; p of the two-sided z-test, adjusted for the number of steps by Holm. “Cannot
        tell” means that the interval of the one step holds zero, or p over all steps is 0.05 or more.
      </p>
    </section>
  )
}

function rateAt(result: FunnelAnswer | undefined, k: number): Rate | undefined {
  return result?.steps[k]?.ofPrevious
}

/** Small multiples: the same funnel for each value, most entered first. */
export function Multiples({
  parts,
  names,
}: {
  parts: NonNullable<FunnelAnswer['byValue']>
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
