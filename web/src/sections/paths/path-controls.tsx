import type { EventCondition, PathParts, Walk } from '@dust-trail/core'
import { PATH_PARTS } from '@dust-trail/core'
import { SlidersHorizontal } from 'lucide-react'
import { useState } from 'react'
import { EventForm } from '../../lens/event-form.tsx'
import { PageSelect } from '../../lens/page-select.tsx'
import { CheckBox } from '../../ui/check-box.tsx'
import { Chip } from '../../ui/chip.tsx'
import { Button, Select } from '../../ui/controls.tsx'
import { Dialog } from '../../ui/dialog.tsx'
import { percent } from '../../ui/format.ts'
import { Popover } from '../../ui/popover.tsx'
import { RadioGroup } from '../../ui/radio-group.tsx'
import { describeSelection, eventWords } from '../../words/sentences.ts'
import type { PathsAsked } from './use-paths.ts'
import { SHARES, STEPS } from './use-paths.ts'

export const PARTS_WORDS: Record<PathParts, string> = {
  pages: 'pages',
  'pages and clicks': 'pages and clicks',
  'pages and actions': 'pages and actions',
  clicks: 'clicks on elements',
  actions: 'actions',
  addresses: 'addresses',
  titles: 'titles of pages',
}

/** What the paths are of: where they begin, in which direction, how far, and how they are read. */
export function PathControls({
  asked,
  around = true,
  least = true,
}: {
  asked: PathsAsked
  around?: boolean
  least?: boolean
}) {
  const { way, setWay, depth, setDepth } = asked
  return (
    <div className="flex flex-wrap items-center gap-2">
      <Focus asked={asked} />
      <RadioGroup
        label="Direction"
        value={!around && way === 'around' ? 'onward' : way}
        onChange={setWay}
        options={[
          ['onward', 'Onward'],
          ['back', 'Back'],
          ...(around ? ([['around', 'Around']] as const) : []),
        ]}
      />
      <Select
        aria-label="Steps"
        value={String(depth)}
        onChange={({ target }) => setDepth(Number(target.value))}
      >
        {STEPS.map((steps) => (
          <option key={steps} value={steps}>
            {steps} steps
          </option>
        ))}
      </Select>
      {least && (
        <Select
          aria-label="Routes with at least"
          value={String(asked.least)}
          onChange={({ target }) => asked.setLeast(Number(target.value))}
        >
          {SHARES.map((share) => (
            <option key={share} value={share}>
              routes of {percent(share)} and more
            </option>
          ))}
        </Select>
      )}
      <HowRead asked={asked} />
      <LeftOut asked={asked} />
    </div>
  )
}

function Focus({ asked: { page, setPage, origin, setOrigin, way, walk, setWalk } }: { asked: PathsAsked }) {
  if (walk.start)
    return (
      <Chip
        look="outlined"
        words={`From: ${eventWords(walk.start)}`}
        removeLabel="No longer from this"
        remove={() => setWalk({ ...walk, start: undefined, at: undefined })}
      />
    )
  if (origin)
    return (
      <Chip
        look="outlined"
        words={describeSelection(origin)}
        removeLabel="No longer from this selection"
        remove={() => setOrigin(null)}
      />
    )
  return (
    <PageSelect
      label="Page in focus"
      none={way === 'back' ? 'back from where they end' : `from where ${walk.per ?? 'session'}s begin`}
      className="max-w-56"
      page={page ?? ''}
      setPage={(next) => setPage(next || null)}
    />
  )
}

/** What counts as if it had not happened: listed, since every number here is without it. */
function LeftOut({ asked: { walk, setWalk } }: { asked: PathsAsked }) {
  const leftOut = walk.leftOut ?? []
  return (
    <>
      {leftOut.map((event, k) => (
        <Chip
          key={k}
          look="outlined"
          words={`Without ${eventWords(event)}`}
          removeLabel={`Count again: ${eventWords(event)}`}
          remove={() => {
            const rest = leftOut.filter((_, i) => i !== k)
            setWalk({ ...walk, leftOut: rest.length ? rest : undefined })
          }}
        />
      ))}
      {walk.until && (
        <Chip
          look="outlined"
          words={`Until ${eventWords(walk.until)}`}
          removeLabel="No end any more"
          remove={() => setWalk({ ...walk, until: undefined })}
        />
      )}
    </>
  )
}

type Choosing = 'start' | 'leave out' | 'until'
const TITLES: Record<Choosing, string> = {
  start: 'Paths begin at',
  'leave out': 'Leave out, as if it had not happened',
  until: 'Paths end at',
}

function HowRead({ asked: { walk, setWalk, depth, page, origin } }: { asked: PathsAsked }) {
  const [open, setOpen] = useState(false)
  const [choosing, setChoosing] = useState<Choosing | null>(null)
  const steps = walk.ofSteps
  const choose = (which: Choosing) => {
    setOpen(false)
    setChoosing(which)
  }
  const take = (event: EventCondition) => {
    const change: Partial<Walk> =
      choosing === 'start'
        ? { start: event }
        : choosing === 'until'
          ? { until: event }
          : { leftOut: [...(walk.leftOut ?? []), event] }
    setWalk({ ...walk, ...change })
    setChoosing(null)
  }
  const canRepeat = walk.start !== undefined || (page !== null && !origin)
  return (
    <>
      <Popover
        label="How paths are read"
        open={open}
        setOpen={setOpen}
        className="w-80 space-y-3 p-3"
        trigger={
          <Button look="quiet">
            <SlidersHorizontal size={14} aria-hidden /> {PARTS_WORDS[steps?.[0] ?? walk.of]}
            {walk.per === 'visitor' && ' of visitors'}
          </Button>
        }
      >
        <div className="flex items-center justify-between gap-2">
          Steps are
          <PartsSelect
            label="Steps are"
            value={walk.of}
            set={(of) => setWalk({ ...walk, of, ofSteps: undefined })}
          />
        </div>
        <CheckBox
          checked={steps !== undefined}
          onChange={(isEach) =>
            setWalk({ ...walk, ofSteps: isEach ? Array.from({ length: depth }, () => walk.of) : undefined })
          }
        >
          another choice for each step
        </CheckBox>
        {steps && (
          <ol className="max-h-48 space-y-1 overflow-auto">
            {Array.from({ length: depth }, (_, k) => (
              <li key={k} className="flex items-center justify-between gap-2">
                {k + 1}. step
                <PartsSelect
                  label={`Step ${k + 1} is`}
                  value={steps[Math.min(k, steps.length - 1)]!}
                  set={(of) =>
                    setWalk({
                      ...walk,
                      ofSteps: Array.from({ length: depth }, (_one, i) =>
                        i === k ? of : steps[Math.min(i, steps.length - 1)]!,
                      ),
                    })
                  }
                />
              </li>
            ))}
          </ol>
        )}
        <CheckBox checked={walk.fold} onChange={(fold) => setWalk({ ...walk, fold })}>
          equal steps one after another are one
        </CheckBox>
        <div className="flex items-center justify-between gap-2">
          Counted are
          <RadioGroup
            label="Counted are"
            value={walk.per ?? 'session'}
            onChange={(per) => setWalk({ ...walk, per: per === 'session' ? undefined : per })}
            options={[
              ['session', 'Sessions'],
              ['visitor', 'Visitors'],
            ]}
          />
        </div>
        {canRepeat && (
          <div className="flex items-center justify-between gap-2">
            Paths begin at
            <Select
              aria-label="Which occurrence"
              value={walk.at ?? 'first'}
              onChange={({ target }) =>
                setWalk({ ...walk, at: target.value === 'first' ? undefined : (target.value as Walk['at']) })
              }
            >
              <option value="first">its first time</option>
              <option value="last">its last time</option>
              <option value="every">every time</option>
            </Select>
          </div>
        )}
        <div className="flex flex-wrap gap-2 border-t border-line pt-2">
          <Button onClick={() => choose('start')}>Begin at an event …</Button>
          <Button onClick={() => choose('until')}>End at …</Button>
          <Button onClick={() => choose('leave out')}>Leave out …</Button>
        </div>
      </Popover>
      {choosing && (
        <Dialog open onClose={() => setChoosing(null)} title={TITLES[choosing]}>
          <div className="flex h-80 flex-col">
            <EventForm draft={`paths/${choosing}/`} first="page" submit={TITLES[choosing]} add={take} />
          </div>
        </Dialog>
      )}
    </>
  )
}

function PartsSelect({
  label,
  value,
  set,
}: {
  label: string
  value: PathParts
  set: (of: PathParts) => void
}) {
  return (
    <Select aria-label={label} value={value} onChange={({ target }) => set(target.value as PathParts)}>
      {PATH_PARTS.map((of) => (
        <option key={of} value={of}>
          {PARTS_WORDS[of]}
        </option>
      ))}
    </Select>
  )
}
