import type { ReachAnswer, Snapshot } from '@dust-trail/core'
import { clsx } from 'clsx'
import { count, percent } from '../../ui/format.ts'
import { heatColour } from './ramp.ts'
import { RecordedPage } from './recorded-page.tsx'

export type BandMap = 'reach' | 'attention'

/** So much of the ramp's cover that the page stays readable beneath. */
const COVER = 0.42
/** Shares of the views at whose ends a line stands. */
const MARKS = [0.75, 0.5, 0.25]

/** The recorded page under its bands: how many saw each, or how long it was in view. */
export function BandPage({
  snapshot,
  answer,
  map,
}: {
  snapshot: Snapshot
  answer: ReachAnswer
  map: BandMap
}) {
  const { bands, measured, folds } = answer
  const longest = Math.max(...bands.map(({ seconds }) => seconds ?? 0))
  const valueOf = ({ reached, seconds }: ReachAnswer['bands'][number]) =>
    map === 'reach' ? (measured ? reached / measured : 0) : longest ? (seconds ?? 0) / longest : 0
  const fold = folds.find(({ of }) => of === 0.5)
  const words = (band: ReachAnswer['bands'][number]) =>
    map === 'reach'
      ? `${percent(measured ? band.reached / measured : null)}, ${count(band.reached)} of ${count(measured)} views`
      : `${(band.seconds ?? 0).toFixed(1)} s in view`
  return (
    <RecordedPage
      snapshot={snapshot}
      label={`${map === 'reach' ? 'Reach' : 'Attention'} on ${snapshot.title}`}
      overlay={({ height }) => (
        <div className="absolute inset-0 z-40">
          {bands.map((band, k) => {
            const [r, g, b, a] = heatColour(valueOf(band))
            return (
              <div
                key={k}
                title={`${percent(k / bands.length)} to ${percent((k + 1) / bands.length)} of the page: ${words(band)}`}
                className="absolute inset-x-0"
                style={{
                  top: (k / bands.length) * height,
                  height: height / bands.length,
                  backgroundColor: `rgb(${r} ${g} ${b} / ${(a / 255) * COVER})`,
                }}
              />
            )
          })}
          {map === 'reach' &&
            MARKS.map((share) => {
              const end = bands.findIndex(({ reached }) => reached < share * measured)
              return (
                measured > 0 &&
                end > 0 && (
                  <Line key={share} top={(end / bands.length) * height} dashed={false}>
                    {percent(share)} of {count(measured)} views come as far as here
                  </Line>
                )
              )
            })}
          {fold && fold.px < height && (
            <Line top={fold.px} dashed>
              half of the windows end above this line: {count(fold.px)} px
            </Line>
          )}
        </div>
      )}
    />
  )
}

function Line({ top, dashed, children }: { top: number; dashed: boolean; children: React.ReactNode }) {
  return (
    <div
      className={clsx('pointer-events-none absolute inset-x-0 border-t-2', dashed && 'border-dashed')}
      style={{ top, borderColor: dashed ? '#5A5794' : '#341028' }}
    >
      <span
        className="absolute right-0 px-2 py-0.5 text-sm font-semibold whitespace-nowrap text-white"
        style={{ backgroundColor: dashed ? '#5A5794' : '#341028' }}
      >
        {children}
      </span>
    </div>
  )
}
