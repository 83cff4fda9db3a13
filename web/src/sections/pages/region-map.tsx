import type { ClickHeatAnswer, ReachAnswer, Snapshot } from '@dust-trail/core'
import { questions } from '@dust-trail/core'
import type { ReactNode } from 'react'
import { useMemo } from 'react'
import { z } from 'zod'
import { useSnapshot } from '../../api/queries.ts'
import { useQuestion } from '../../api/use-question.ts'
import { useAddressValue } from '../../app/address.ts'
import { useLens, useSite } from '../../app/lens.ts'
import { keptTable } from '../../trail/kept-table.ts'
import { useView } from '../../trail/view.tsx'
import { Select } from '../../ui/controls.tsx'
import { count, percent, plural } from '../../ui/format.ts'
import { Empty, Failure, Loading, Settling } from '../../ui/states.tsx'
import { Legend } from './legend.tsx'
import { placeClicks } from './place-clicks.ts'
import { heatColour } from './ramp.ts'
import type { BuiltPage } from './recorded-page.tsx'
import { RecordedPage } from './recorded-page.tsx'
import type { Region } from './regions.ts'
import { measureRegions, regionsOf } from './regions.ts'

const MEASURES = ['clicks', 'seen', 'time'] as const
type Measure = (typeof MEASURES)[number]
const measureSchema = z.enum(MEASURES)
const MEASURE_WORDS: Record<Measure, string> = {
  clicks: 'clicks for each view',
  seen: 'share that saw it',
  time: 'seconds in view',
}

/** The parts of a page, shaded by what is clicked in them, who saw them, or how long. */
export function RegionMap({ page, choice }: { page: string; choice: ReactNode }) {
  const { lens } = useLens()
  const [chosen, setMeasure] = useAddressValue('by', measureSchema)
  const measure = chosen ?? 'clicks'
  const reach = useQuestion(questions.reach, lens, { page })
  const heat = useQuestion(questions.clickHeat, lens, { page, which: 'all' })
  const snapshot = useSnapshot(useSite().key, heat.data?.snapshot?.hash)
  useView({
    words: `Those who saw ${page}`,
    question: { lens, selection: { type: 'page', page } },
    tables: [
      keptTable(questions.clickHeat, 'Elements', { page, which: 'all' }, [
        ['text', 'Element'],
        ['clicks', 'Clicks', 'count'],
        ['rate.share', 'Of viewers', 'percent'],
        ['next', 'Then'],
      ]),
    ],
  })
  const error = reach.error ?? heat.error ?? snapshot.error
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 py-3">
        <div className="min-w-72 flex-1">
          <h1 className="truncate" title={page}>
            {page}
          </h1>
          <p>
            {reach.data
              ? `${plural(reach.data.views, 'view')}: which parts of the page are used?`
              : 'Reading views …'}
          </p>
        </div>
        <Select
          aria-label="Shaded by"
          value={measure}
          onChange={({ target }) => setMeasure(measureSchema.parse(target.value))}
        >
          {MEASURES.map((one) => (
            <option key={one} value={one}>
              {MEASURE_WORDS[one]}
            </option>
          ))}
        </Select>
        <Legend from="0" to="the most" title={`${MEASURE_WORDS[measure]}, against the part with most`} />
        {choice}
      </div>
      {error && <Failure error={error} retry={() => void heat.refetch()} />}
      <Settling stale={heat.isPlaceholderData} className="min-h-0 flex-1 border-t border-line">
        {snapshot.data && heat.data && reach.data ? (
          <RegionPage snapshot={snapshot.data} heat={heat.data} reach={reach.data} measure={measure} />
        ) : heat.data && !heat.data.snapshot ? (
          <Empty title="This page was not recorded">There is no picture to lay parts on.</Empty>
        ) : (
          !error && <Loading label="Loading the page" />
        )}
      </Settling>
    </div>
  )
}

interface PageProps {
  snapshot: Snapshot
  heat: ClickHeatAnswer
  reach: ReachAnswer
  measure: Measure
}

function RegionPage({ snapshot, heat, reach, measure }: PageProps) {
  return (
    <RecordedPage
      snapshot={snapshot}
      label={`Regions of ${snapshot.title}`}
      overlay={(page) => <Regions {...{ page, snapshot, heat, reach, measure }} />}
    />
  )
}

const valueOf = ({ clicks, seen, seconds }: Region, measure: Measure) =>
  measure === 'clicks' ? clicks : measure === 'seen' ? seen : seconds

function Regions({ page, snapshot, heat, reach, measure }: PageProps & { page: BuiltPage }) {
  const regions = useMemo(() => {
    const { points } = placeClicks(page.document, heat.elements)
    return measureRegions(regionsOf(page.document, snapshot.width, page.height), points, page.height, reach)
  }, [page, snapshot, heat.elements, reach])
  const most = Math.max(...regions.map((region) => valueOf(region, measure) ?? 0))
  const words = (region: Region) => {
    const value = valueOf(region, measure)
    if (value === null) return 'not measured'
    if (measure === 'seen') return `${percent(value)} of ${plural(reach.measured, 'view')}`
    if (measure === 'time') return `${value.toFixed(1)} s`
    return `${count(value)} clicks in ${plural(reach.views, 'view')}`
  }
  return (
    <div className="absolute inset-0 z-40">
      {regions.map((region, k) => {
        const [r, g, b, a] = heatColour(most ? (valueOf(region, measure) ?? 0) / most : 0)
        return (
          <div
            key={k}
            title={`${region.name}: ${words(region)}`}
            className="absolute overflow-hidden border border-[#341028]"
            style={{ ...region.box, backgroundColor: `rgb(${r} ${g} ${b} / ${(a / 255) * 0.6})` }}
          >
            <span className="absolute top-0 right-0 bg-[#341028] px-1.5 text-sm whitespace-nowrap text-white">
              {words(region)}
            </span>
          </div>
        )
      })}
    </div>
  )
}
