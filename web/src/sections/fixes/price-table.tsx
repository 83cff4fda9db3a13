import type { PriceAnswer, Rate } from '@dust-trail/core'
import { count, decimal, percent, points } from '../../ui/format.ts'
import { RateBar } from '../../ui/rate-bar.tsx'

/** Conversion of those who met it beside that of the others, and what that comes to. */
export function PriceTable({ price, goal }: { price: PriceAnswer; goal: string }) {
  const most = Math.max(0.02, price.met.interval[1], price.others.interval[1])
  return (
    <div className="rounded-md border border-line">
      <Row words="Met it" rate={price.met} goal={goal} tone="clay" max={most} />
      <Row words="Saw the page, did not meet it" rate={price.others} goal={goal} tone="spruce" max={most} />
      <p className="border-t border-line px-3 py-2">
        <LostText price={price} />
      </p>
    </div>
  )
}

function Row({
  words,
  rate,
  goal,
  tone,
  max,
}: {
  words: string
  rate: Rate
  goal: string
  tone: 'spruce' | 'clay'
  max: number
}) {
  return (
    <div className="grid grid-cols-[200px_minmax(0,1fr)_230px] items-center gap-3 px-3 py-1.5">
      <span>{words}</span>
      <RateBar rate={rate} tone={tone} max={max} />
      <span className="text-right">
        {percent(rate.share)} of {count(rate.base)}{' '}
        {goal ? `reached “${goal}”` : 'reached a goal (none is chosen in Setup)'}
      </span>
    </div>
  )
}

/** What it costs, in words, with its interval; a cost that may be none says so. */
export function LostText({ price }: { price: PriceAnswer }) {
  if (price.lost === null) return <>Nobody to compare with: everyone, or no one, who saw the page met it.</>
  const [low, high] = price.lostInterval
  const range = `${decimal(low)} to ${decimal(high)}`
  if (low > 0)
    return (
      <>
        <strong>{decimal(price.lost)} conversions lost</strong> in this lens, 95 % interval {range} (
        {points(price.difference)}), by a plain comparison. The groups may differ in more than this.
      </>
    )
  if (high < 0)
    return (
      <>
        Those who met it converted <strong>more</strong> ({points(price.difference && -price.difference)}).
        That does not say it costs nothing: eager visitors meet more of everything.
      </>
    )
  return (
    <>
      <strong>Too few sessions to tell.</strong> The best guess is{' '}
      {price.lost >= 0 ? `${decimal(price.lost)} conversions lost` : `no loss (${decimal(-price.lost)} won)`},
      but the 95 % interval {range} leaves zero in.
    </>
  )
}
