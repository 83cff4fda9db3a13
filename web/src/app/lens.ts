import type { Site } from '@dust-trail/api'
import type { Lens, SessionClass } from '@dust-trail/core'
import { conditionSchema, noiseSchema, SESSION_CLASSES } from '@dust-trail/core'
import { addDays, formatISO, parseISO } from 'date-fns'
import { createContext, useCallback, useContext, useMemo } from 'react'
import { z } from 'zod'
import { inZones } from '../ui/format.ts'
import { readValue, useAddress, useAddressValue } from './address.ts'

/** Any text of an address. */
export const TEXT = z.string()

const DAY = /^\d{4}-\d{2}-\d{2}$/
/** Days shown where nothing was chosen: the last two weeks with data. */
const DEFAULT_DAYS = 14
/** What the lens keeps in the address; taken along to every section. */
export const LENS_PARAMETERS = ['site', 'from', 'to', 'device', 'where', 'clean', 'vs', 'segments'] as const

export function shiftDay(date: string, days: number): string {
  return formatISO(addDays(parseISO(date), days), { representation: 'date' })
}

const calendar = inZones('en-CA', { year: 'numeric', month: '2-digit', day: '2-digit' })

/** Today in the site's calendar. */
export function today(timeZone: string): string {
  return calendar(Date.now(), timeZone)
}

export function defaultLens(site: Site): Lens {
  const now = today(site.timeZone)
  // Whatever the data says: days that are still to come show nothing.
  const to = site.days && site.days.to < now ? site.days.to : now
  return { from: shiftDay(to, 1 - DEFAULT_DAYS), to, devices: [] }
}

/** Full days that the first screen shows where none were chosen. */
const FULL_DAYS = 28

/** The last full days with data; undefined for a site whose first data came today. */
export function lastFullDays(site: Site): Pick<Lens, 'from' | 'to'> | undefined {
  const yesterday = shiftDay(today(site.timeZone), -1)
  if (!site.days || site.days.from > yesterday) return undefined
  const to = site.days.to < yesterday ? site.days.to : yesterday
  return { from: shiftDay(to, 1 - FULL_DAYS), to }
}

const cleanSchema = noiseSchema.array().max(10)

/** The lens that an address holds, or the default where it holds none. */
export function lensFrom(parameters: URLSearchParams, site: Site): Lens {
  const fallback = defaultLens(site)
  const from = parameters.get('from') ?? ''
  const to = parameters.get('to') ?? ''
  const valid = DAY.test(from) && DAY.test(to) && from <= to
  const devices = (parameters.get('device') ?? '')
    .split(',')
    .filter((name): name is SessionClass => SESSION_CLASSES.includes(name as SessionClass))
  const where = readValue(parameters.get('where'), conditionSchema)
  const clean = readValue(parameters.get('clean'), cleanSchema)
  return {
    from: valid ? from : fallback.from,
    to: valid ? to : fallback.to,
    devices,
    ...(where && { where }),
    ...(clean?.length && { clean }),
  }
}

export function writeLens(parameters: URLSearchParams, lens: Lens): URLSearchParams {
  const next = new URLSearchParams(parameters)
  next.set('from', lens.from)
  next.set('to', lens.to)
  if (lens.devices.length) next.set('device', lens.devices.join(','))
  else next.delete('device')
  const conditions = lens.where?.type === 'all' ? lens.where.of.length : lens.where ? 1 : 0
  if (conditions) next.set('where', JSON.stringify(lens.where))
  else next.delete('where')
  if (lens.clean?.length) next.set('clean', JSON.stringify(lens.clean))
  else next.delete('clean')
  return next
}

/** An address of another section that keeps the lens. */
export function keepLens(
  path: string,
  parameters: URLSearchParams,
  more: Record<string, string> = {},
): string {
  const kept = new URLSearchParams()
  for (const name of LENS_PARAMETERS) {
    const value = parameters.get(name)
    if (value) kept.set(name, value)
  }
  for (const [name, value] of Object.entries(more)) kept.set(name, value)
  const query = kept.toString()
  return query ? `${path}?${query}` : path
}

/** Makes addresses of other sections that keep the lens, or take another one along. */
export function useLensLink(): (path: string, more?: Record<string, string>, through?: Lens) => string {
  const [parameters] = useAddress()
  return (path, more, through) => keepLens(path, through ? writeLens(parameters, through) : parameters, more)
}

export const SiteContext = createContext<Site | null>(null)

export function useSite(): Site {
  const site = useContext(SiteContext)
  if (!site) throw new Error('useSite outside of the frame')
  return site
}

/** The main goal of a site by its name; "" where it has none. */
export const goalName = ({ goals, goal }: Site): string => goals[0]?.name ?? goal

export function useLens(): { lens: Lens; setLens: (lens: Lens) => void } {
  const site = useSite()
  const [parameters, setParameters] = useAddress()
  const text = ['from', 'to', 'device', 'where', 'clean'].map((name) => parameters.get(name) ?? '').join('|')
  // One object as long as the address says the same, so that questions are not asked anew.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const lens = useMemo(() => lensFrom(parameters, site), [text, site.key, site.days?.to])
  const setLens = useCallback(
    (next: Lens) => setParameters((before) => writeLens(before, next)),
    [setParameters],
  )
  return { lens, setLens }
}

/** What the period of the lens is held against. */
export type Versus = 'none' | 'before' | 'weekdays' | { from: string; to: string }

/** As it stands in an address: a word, or two days as 2026-05-01..2026-05-07. */
const versusSchema = z.string().transform((text, context): Versus => {
  if (text === 'before' || text === 'weekdays') return text
  const [from = '', to = ''] = text.split('..')
  if (DAY.test(from) && DAY.test(to) && from <= to) return { from, to }
  context.addIssue({ code: 'custom' })
  return z.NEVER
})

/** What the period of the lens is held against, and a way to change it. */
export function useVersus(): [Versus, (versus: Versus) => void] {
  const [versus] = useAddressValue('vs', versusSchema)
  const [, write] = useAddressValue('vs', TEXT)
  const set = (next: Versus) =>
    write(next === 'none' ? null : typeof next === 'object' ? `${next.from}..${next.to}` : next)
  return [versus ?? 'none', set]
}

/**
 * The lens over the days it is compared with: as many days just before; the nearest days before that fall on the same
 * weekdays; or days of one's own. Null where nothing is compared.
 */
export function comparedLens(lens: Lens, versus: Versus): Lens | null {
  if (versus === 'none') return null
  if (typeof versus === 'object') return { ...lens, ...versus }
  const length = Math.round((parseISO(lens.to).getTime() - parseISO(lens.from).getTime()) / 86_400_000) + 1
  const back = versus === 'before' ? length : Math.ceil(length / 7) * 7
  return { ...lens, from: shiftDay(lens.from, -back), to: shiftDay(lens.to, -back) }
}
