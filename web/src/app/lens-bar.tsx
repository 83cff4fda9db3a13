import type { Condition } from '@dust-trail/core'
import { Command, Plus, Redo2, Undo2 } from 'lucide-react'
import { useState } from 'react'
import { useSegments } from '../api/queries.ts'
import { FilterMenu } from '../lens/filter-menu.tsx'
import { useLensHistory } from '../lens/history.ts'
import { segmentCondition } from '../lens/segments.ts'
import { Beside } from '../lens/sides.tsx'
import { Chip } from '../ui/chip.tsx'
import { Button, IconButton } from '../ui/controls.tsx'
import { Popover } from '../ui/popover.tsx'
import { conditionWords, noiseWords } from '../words/sentences.ts'
import { Dates } from './date-choice.tsx'
import { Devices } from './device-choice.tsx'
import type { LensPart } from './lens-part.ts'
import { useLens, useSite } from './lens.ts'
import { SiteChoice } from './site-choice.tsx'

/** What is being looked at, on every screen, kept in the address. */
export function LensBar({ openCommands }: { openCommands: () => void }) {
  const { lens, setLens } = useLens()
  const { undo, redo } = useLensHistory()
  return (
    <header
      className="flex min-h-12 shrink-0 flex-wrap items-center gap-2 border-b border-line bg-sheet px-4 py-1.5"
      aria-label="Lens"
    >
      <SiteChoice />
      <Dates lens={lens} setLens={setLens} />
      <Devices lens={lens} setLens={setLens} />
      {lens.devices.map((device) => (
        <Chip
          key={device}
          words={`device is ${device}`}
          remove={() => setLens({ ...lens, devices: lens.devices.filter((other) => other !== device) })}
        />
      ))}
      <Chips lens={lens} setLens={setLens} />
      <AddFilter lens={lens} setLens={setLens} />
      <Beside />
      <span className="flex-1" />
      <IconButton label="Undo the change of the lens" disabled={!undo} onClick={undo}>
        <Undo2 size={15} />
      </IconButton>
      <IconButton label="Redo the change of the lens" disabled={!redo} onClick={redo}>
        <Redo2 size={15} />
      </IconButton>
      <Button look="quiet" onClick={openCommands} className="text-ink-soft">
        <Command size={14} aria-hidden /> Go to{' '}
        <kbd className="rounded border border-line px-1 font-sans text-[11px]">Ctrl K</kbd>
      </Button>
    </header>
  )
}

/** Everything that narrows the lens down, each with a way to take it out again. */
function Chips({ lens, setLens }: LensPart) {
  const site = useSite()
  const segments = useSegments(site.key)
  const conditions = lens.where?.type === 'all' ? lens.where.of : lens.where ? [lens.where] : []
  const nameOf = (condition: Condition) => {
    const text = JSON.stringify(condition)
    const segment = segments.data?.find(
      (one) => JSON.stringify(segmentCondition(one, segments.data)) === text,
    )
    return segment ? `segment: ${segment.name}` : conditionWords(condition)
  }
  return (
    <>
      {conditions.map((condition, k) => (
        <Chip
          key={k}
          words={nameOf(condition)}
          remove={() =>
            setLens({ ...lens, where: { type: 'all', of: conditions.filter((_, i) => i !== k) } })
          }
        />
      ))}
      {lens.clean?.map((noise, k) => (
        <Chip
          key={`clean ${k}`}
          words={noiseWords(noise)}
          remove={() => setLens({ ...lens, clean: lens.clean!.filter((_, i) => i !== k) })}
        />
      ))}
    </>
  )
}

function AddFilter({ lens, setLens }: LensPart) {
  const [open, setOpen] = useState(false)
  return (
    <Popover
      label="Filter"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button look="quiet">
          <Plus size={14} aria-hidden /> Filter
        </Button>
      }
    >
      <FilterMenu
        add={(condition) => {
          const conditions = lens.where?.type === 'all' ? lens.where.of : lens.where ? [lens.where] : []
          setLens({ ...lens, where: { type: 'all', of: [...conditions, condition] } })
          setOpen(false)
        }}
      />
    </Popover>
  )
}
