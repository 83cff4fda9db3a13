import type { Condition, DeviceClass, Lens } from '@dust-trail/core'
import { DEVICE_CLASSES } from '@dust-trail/core'
import { CalendarDays, Check, Command, MonitorSmartphone, Plus, Redo2, Undo2, X } from 'lucide-react'
import { Popover } from 'radix-ui'
import type { ReactNode } from 'react'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useSegments, useSites } from '../api/queries.ts'
import { FilterMenu } from '../lens/filter-menu.tsx'
import { useLensHistory } from '../lens/history.ts'
import { segmentCondition } from '../lens/segments.ts'
import { Beside } from '../lens/sides.tsx'
import { conditionWords, noiseWords } from '../lens/words.ts'
import { Button, Field, IconButton, inputLook, Select } from '../ui/controls.tsx'
import { day } from '../ui/format.ts'
import { comparedLens, shiftDay, today, useLens, useSite, versusFrom } from './lens.ts'

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
        <span
          key={device}
          className="inline-flex h-7 items-center gap-1 rounded-md bg-ochre-soft pl-2.5 text-ochre-text"
        >
          device is {device}
          <button
            type="button"
            aria-label={`Remove: device is ${device}`}
            className="inline-flex size-7 items-center justify-center rounded-md hover:text-ink"
            onClick={() => setLens({ ...lens, devices: lens.devices.filter((other) => other !== device) })}
          >
            <X size={13} />
          </button>
        </span>
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
function Chips({ lens, setLens }: Part) {
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

function Chip({ words, remove }: { words: string; remove: () => void }) {
  return (
    <span className="inline-flex h-7 max-w-80 items-center gap-1 rounded-md bg-ochre-soft pl-2.5 text-ochre-text">
      <span className="truncate" title={words}>
        {words}
      </span>
      <button
        type="button"
        aria-label={`Remove: ${words}`}
        className="inline-flex size-7 shrink-0 items-center justify-center rounded-md hover:text-ink"
        onClick={remove}
      >
        <X size={13} />
      </button>
    </span>
  )
}

function AddFilter({ lens, setLens }: Part) {
  const [open, setOpen] = useState(false)
  return (
    <Drop
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
          const known = lens.where?.type === 'all' ? lens.where.of : lens.where ? [lens.where] : []
          setLens({ ...lens, where: { type: 'all', of: [...known, condition] } })
          setOpen(false)
        }}
      />
    </Drop>
  )
}

function SiteChoice() {
  const site = useSite()
  const sites = useSites()
  const [, setParameters] = useSearchParams()
  if ((sites.data?.length ?? 0) < 2)
    return <span className="mr-1 max-w-56 truncate font-semibold">{site.name}</span>
  return (
    <Select
      aria-label="Site"
      value={site.key}
      onChange={(event) => setParameters({ site: event.target.value })}
    >
      {sites.data?.map(({ key, name }) => (
        <option key={key} value={key}>
          {name}
        </option>
      ))}
    </Select>
  )
}

interface Part {
  lens: Lens
  setLens: (lens: Lens) => void
}

function Dates({ lens, setLens }: Part) {
  const site = useSite()
  const [open, setOpen] = useState(false)
  const now = today(site.timeZone)
  const [parameters] = useSearchParams()
  const compared = comparedLens(lens, versusFrom(parameters))
  const presets: [string, string, string][] = [
    ['Today', now, now],
    ['Yesterday', shiftDay(now, -1), shiftDay(now, -1)],
    ['Last 7 days', shiftDay(now, -6), now],
    ['Last 14 days', shiftDay(now, -13), now],
    ['Last 30 days', shiftDay(now, -29), now],
  ]
  if (site.days) presets.push(['All data', site.days.from, site.days.to])
  return (
    <Drop
      label="Dates"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button aria-label={`Dates: ${day(lens.from)} to ${day(lens.to)}`}>
          <CalendarDays size={14} aria-hidden />
          {lens.from === lens.to ? day(lens.from) : `${day(lens.from)} – ${day(lens.to)}`}
          {compared && (
            <span className="text-iris">
              against {day(compared.from)} – {day(compared.to)}
            </span>
          )}
        </Button>
      }
    >
      <div className="w-64 space-y-3 p-3">
        <div className="grid grid-cols-2 gap-1.5">
          {presets.map(([name, from, to]) => (
            <Button
              key={name}
              aria-pressed={lens.from === from && lens.to === to}
              className="justify-center aria-pressed:bg-spruce-soft"
              onClick={() => {
                setLens({ ...lens, from, to })
                setOpen(false)
              }}
            >
              {name}
            </Button>
          ))}
        </div>
        <Field label="First day">
          <input
            type="date"
            className={inputLook}
            value={lens.from}
            max={lens.to}
            onChange={(event) =>
              event.target.value &&
              setLens({
                ...lens,
                from: event.target.value,
                to: event.target.value > lens.to ? event.target.value : lens.to,
              })
            }
          />
        </Field>
        <Field label="Last day" hint={`Days of the site’s calendar, ${site.timeZone}.`}>
          <input
            type="date"
            className={inputLook}
            value={lens.to}
            min={lens.from}
            onChange={(event) =>
              event.target.value &&
              setLens({
                ...lens,
                to: event.target.value,
                from: event.target.value < lens.from ? event.target.value : lens.from,
              })
            }
          />
        </Field>
        <ComparedWith />
      </div>
    </Drop>
  )
}

/** Which days the days of the lens are held against. */
function ComparedWith() {
  const { lens } = useLens()
  const [parameters, setParameters] = useSearchParams()
  const versus = versusFrom(parameters)
  const kind = typeof versus === 'object' ? 'days' : versus
  const set = (text: string) =>
    setParameters((known) => {
      const next = new URLSearchParams(known)
      if (text === 'none') next.delete('vs')
      else next.set('vs', text)
      return next
    })
  const other = comparedLens(lens, versus)
  return (
    <div>
      <Field label="Compared with">
        <Select
          aria-label="Compared with"
          className="w-full"
          value={kind}
          onChange={(event) =>
            set(
              event.target.value === 'days'
                ? `${shiftDay(lens.from, -7)}..${shiftDay(lens.from, -1)}`
                : event.target.value,
            )
          }
        >
          <option value="none">nothing</option>
          <option value="before">as many days before</option>
          <option value="weekdays">the same weekdays before</option>
          <option value="days">days of one’s own</option>
        </Select>
      </Field>
      {typeof versus === 'object' && (
        <div className="mt-2 grid grid-cols-2 gap-2">
          {(['from', 'to'] as const).map((edge) => (
            <input
              key={edge}
              type="date"
              aria-label={edge === 'from' ? 'First day compared with' : 'Last day compared with'}
              className={inputLook}
              value={versus[edge]}
              onChange={(event) => {
                const next = { ...versus, [edge]: event.target.value }
                if (event.target.value && next.from <= next.to) set(`${next.from}..${next.to}`)
              }}
            />
          ))}
        </div>
      )}
      {other && (
        <p className="mt-1 text-ink-soft">
          {day(other.from)} – {day(other.to)}
        </p>
      )}
    </div>
  )
}

function Devices({ lens, setLens }: Part) {
  const [open, setOpen] = useState(false)
  const toggle = (device: DeviceClass) =>
    setLens({
      ...lens,
      devices: lens.devices.includes(device)
        ? lens.devices.filter((d) => d !== device)
        : [...lens.devices, device],
    })
  return (
    <Drop
      label="Device"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button>
          <MonitorSmartphone size={14} aria-hidden /> Device
        </Button>
      }
    >
      <div className="w-44 p-1.5">
        {DEVICE_CLASSES.map((device) => (
          <button
            key={device}
            type="button"
            role="checkbox"
            aria-checked={lens.devices.includes(device)}
            className="flex h-8 w-full items-center gap-2 rounded-md px-2 hover:bg-ochre-soft"
            onClick={() => toggle(device)}
          >
            <Check size={14} aria-hidden className={lens.devices.includes(device) ? '' : 'invisible'} />
            {device}
          </button>
        ))}
        <p className="px-2 py-1 text-ink-soft">None chosen means all.</p>
      </div>
    </Drop>
  )
}

function Drop({
  label,
  open,
  setOpen,
  trigger,
  children,
}: {
  open: boolean
  setOpen: (open: boolean) => void
  trigger: ReactNode
  children: ReactNode
  /** what it is a choice of */
  label: string
}) {
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label}
          align="start"
          sideOffset={4}
          className="z-40 rounded-md border border-line bg-sheet shadow-lg"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
