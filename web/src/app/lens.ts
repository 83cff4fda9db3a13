import type { Site } from '@dust-trail/api'
import type { Condition, DeviceClass, Lens, Noise } from '@dust-trail/core'
import { conditionSchema, DEVICE_CLASSES, noiseSchema } from '@dust-trail/core'
import { addDays, formatISO, parseISO } from 'date-fns'
import { createContext, useCallback, useContext, useMemo } from 'react'
import { inZones } from '../ui/format.ts'
import { useAddress } from './address.ts'

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
  const to = site.days?.to ?? today(site.timeZone)
  return { from: shiftDay(to, 1 - DEFAULT_DAYS), to, devices: [] }
}

/** The lens that an address holds, or the default where it holds none. */
export function lensFrom(parameters: URLSearchParams, site: Site): Lens {
  const fallback = defaultLens(site)
  const from = parameters.get('from') ?? ''
  const to = parameters.get('to') ?? ''
  const valid = DAY.test(from) && DAY.test(to) && from <= to
  const devices = (parameters.get('device') ?? '')
    .split(',')
    .filter((name): name is DeviceClass => DEVICE_CLASSES.includes(name as DeviceClass))
  const where = parsed<Condition>(parameters.get('where'), (json) => conditionSchema.safeParse(json))
  const clean = parsed<Noise[]>(parameters.get('clean'), (json) =>
    noiseSchema.array().max(10).safeParse(json),
  )
  return {
    from: valid ? from : fallback.from,
    to: valid ? to : fallback.to,
    devices,
    ...(where && { where }),
    ...(clean?.length && { clean }),
  }
}

/** What an address holds as JSON; undefined where it holds nothing of that kind. */
function parsed<T>(
  text: string | null,
  read: (json: unknown) => { success: boolean; data?: T | undefined },
): T | undefined {
  if (!text) return undefined
  try {
    return read(JSON.parse(text)).data
  } catch {
    return undefined
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

export const SiteContext = createContext<Site | null>(null)

export function useSite(): Site {
  const site = useContext(SiteContext)
  if (!site) throw new Error('useSite outside of the frame')
  return site
}

export function useLens(): { lens: Lens; setLens: (lens: Lens) => void } {
  const site = useSite()
  const [parameters, setParameters] = useAddress()
  const text = ['from', 'to', 'device', 'where', 'clean'].map((name) => parameters.get(name) ?? '').join('|')
  // One object as long as the address says the same, so that questions are not asked anew.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const lens = useMemo(() => lensFrom(parameters, site), [text, site.key, site.days?.to])
  const setLens = useCallback(
    (next: Lens) => setParameters((known) => writeLens(known, next)),
    [setParameters],
  )
  return { lens, setLens }
}

/** What the period of the lens is held against. */
export type Versus = 'none' | 'before' | 'weekdays' | { from: string; to: string }

export function versusFrom(parameters: URLSearchParams): Versus {
  const text = parameters.get('vs')
  if (text === 'before' || text === 'weekdays') return text
  const [from = '', to = ''] = text?.split('..') ?? []
  return DAY.test(from) && DAY.test(to) && from <= to ? { from, to } : 'none'
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
