import { closestCenter, DndContext, MeasuringStrategy } from '@dnd-kit/core'
import { arrayMove, SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable'
import type { FunnelOptions, FunnelAnswer, Selection, Step } from '@dust-trail/core'
import { MOST_STEPS } from '@dust-trail/core'
import { Plus } from 'lucide-react'
import { memo, useState } from 'react'
import { Button } from '../../ui/controls.tsx'
import { StepDialog } from './step-dialog.tsx'
import { Stratum } from './stratum.tsx'
import { useSortSensors } from '../../ui/sort-sensors.ts'

interface Props {
  steps: Step[]
  setSteps: (steps: Step[]) => void
  options: FunnelOptions
  result: FunnelAnswer | undefined
  open: (selection: Selection) => void
}

/** Rows grow when their answers come, even while one is being moved: then, and only then, they are measured again and again. */
const MEASURING = { droppable: { strategy: MeasuringStrategy.WhileDragging, frequency: 150 } }

/** The funnel as layers: one band a step, all on one scale; what is lost lies to the right of what goes on. */
export const Strata = memo(function Strata({ steps, setSteps, options, result, open }: Props) {
  /** index of the step being chosen; steps.length = a new one */
  const [choosing, setChoosing] = useState<number | null>(null)
  const sensors = useSortSensors()
  const ids = steps.map((step, k) => `${k} ${JSON.stringify(step)}`)
  return (
    <>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        measuring={MEASURING}
        onDragEnd={({ active, over }) => {
          if (over && active.id !== over.id)
            setSteps(arrayMove(steps, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))))
        }}
      >
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          <ol aria-label="Steps" className="rounded-md border border-line bg-sheet">
            {steps.map((_, k) => (
              <Stratum
                key={ids[k]}
                id={ids[k]!}
                index={k}
                steps={steps}
                options={options}
                result={result}
                setSteps={setSteps}
                open={open}
                change={setChoosing}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <div className="mt-2 flex items-center gap-3 text-ink-soft">
        <Button disabled={steps.length >= MOST_STEPS} onClick={() => setChoosing(steps.length)}>
          <Plus size={14} aria-hidden /> Add step
        </Button>
        {steps.length >= MOST_STEPS && <span>A funnel has at most {MOST_STEPS} steps.</span>}
        <span>Whiskers are 95 % Wilson intervals. Click any part to open it.</span>
      </div>
      {choosing !== null && (
        <StepDialog
          title={choosing < steps.length ? `Change step ${choosing + 1}` : 'Add a step'}
          close={() => setChoosing(null)}
          choose={(step) => {
            setSteps(
              choosing < steps.length
                ? steps.map((old, k) => (k === choosing ? step : old))
                : [...steps, step],
            )
            setChoosing(null)
          }}
        />
      )}
    </>
  )
})
