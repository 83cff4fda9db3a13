import { decimal } from '../../ui/format.ts'

interface Props {
  value: number
  low: number
  high: number
  /** where the bar ends */
  most: number
}

/** What is lost as a mark on the bar of its interval. */
export function PriceBar({ value, low, high, most }: Props) {
  const at = (n: number) => `${(Math.min(most, Math.max(0, n)) / most) * 100}%`
  return (
    <span className="grid grid-cols-[1fr_118px] items-center gap-2">
      <span className="relative block h-2.5 bg-line">
        <span
          className="absolute inset-y-0 bg-clay-soft"
          style={{ left: at(low), width: `calc(${at(high)} - ${at(low)})` }}
        />
        <span className="absolute inset-y-0 w-0.5 bg-clay" style={{ left: at(value) }} />
      </span>
      <span>
        {decimal(value, 0)}{' '}
        <span className="text-ink-soft">
          ({decimal(low, 0)} to {decimal(high, 0)})
        </span>
      </span>
    </span>
  )
}
