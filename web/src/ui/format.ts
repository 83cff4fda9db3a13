import type { Rate } from '@dust-trail/core'

const wholes = new Intl.NumberFormat('en-GB')
const one = new Intl.NumberFormat('en-GB', { minimumFractionDigits: 1, maximumFractionDigits: 1 })

export function count(n: number): string {
  return wholes.format(n)
}

/** A number with one decimal or none, "1,243.8" or "−2". */
export function decimal(n: number, digits: 0 | 1 = 1): string {
  const size = Math.abs(n)
  const text = digits ? one.format(size) : count(Math.round(size))
  return n < 0 && /[1-9]/.test(text) ? `−${text}` : text
}

/** A share as "38.2 %"; "–" where there is no base. */
export function percent(share: number | null): string {
  return share === null ? '–' : `${one.format(share * 100)} %`
}

/** A difference of shares in percentage points, with its sign. */
export function points(difference: number | null): string {
  if (difference === null) return '–'
  const value = one.format(Math.abs(difference) * 100)
  return `${value === '0.0' ? '±' : difference > 0 ? '+' : '−'}${value} pp`
}

/** "38.2 % of 4,310": a rate never stands without its base. */
export function rateText(rate: Rate, of = ''): string {
  return `${percent(rate.share)} of ${count(rate.base)}${of && ` ${of}`}`
}

export function intervalText([low, high]: [number, number]): string {
  return `95 % interval ${one.format(low * 100)} to ${one.format(high * 100)} %`
}

/** A length of time in the unit that reads best. */
export function duration(ms: number | null): string {
  if (ms === null) return '–'
  const s = ms / 1000
  if (s < 10) return `${one.format(s)} s`
  if (s < 60) return `${Math.round(s)} s`
  const whole = Math.round(s)
  const minutes = Math.floor(whole / 60)
  if (minutes < 60) return `${minutes} min ${String(whole % 60).padStart(2, '0')} s`
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')} min`
}

/** How much something weighs, in thousands of bytes. */
export function bytesText(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  const [part, unit] = bytes < 1e6 ? [bytes / 1e3, 'kB'] : [bytes / 1e6, 'MB']
  return `${part.toFixed(part < 10 ? 1 : 0)} ${unit}`
}

/** A place on a timeline, as 3:07. */
export function clock(ms: number): string {
  const s = Math.max(0, Math.floor(ms / 1000))
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`
}

/** A format of times in any time zone, made once for each: to make one takes a hundred times as long as to use it. */
export function inZones(
  language: string,
  options: Intl.DateTimeFormatOptions,
): (ms: number, timeZone: string) => string {
  const made = new Map<string, Intl.DateTimeFormat>()
  return (ms, timeZone) => {
    let format = made.get(timeZone)
    if (!format) made.set(timeZone, (format = new Intl.DateTimeFormat(language, { ...options, timeZone })))
    return format.format(ms)
  }
}

export const moment = inZones('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })

/** The day of an instant, as days are written everywhere. */
export const dayIn = inZones('en-GB', { day: 'numeric', month: 'short' })

const days = new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', day: 'numeric', month: 'short' })

export function day(date: string): string {
  return days.format(new Date(`${date}T12:00:00Z`))
}

/** Days from one to another; with the year where it is another than that of today. */
export function daysText(from: string, to: string, now: string): string {
  const year = [from, to].every((date) => date.slice(0, 4) === now.slice(0, 4)) ? '' : ` ${to.slice(0, 4)}`
  if (from === to) return `${day(to)}${year}`
  const first = from.slice(0, 4) === to.slice(0, 4) ? '' : ` ${from.slice(0, 4)}`
  return `${day(from)}${first} – ${day(to)}${year}`
}

const months = new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', month: 'short', year: 'numeric' })

/** A day, a week (ISO 8601) or a month of a trend, as days are written everywhere: "4 May", "week 19 of 2026", "May 2026". */
export function bucketWords(label: string): string {
  const [, year, week] = /^(\d{4})-W(\d{2})$/.exec(label) ?? []
  if (week) return `week ${Number(week)} of ${year}`
  return label.length === 7 ? months.format(new Date(`${label}-15T12:00:00Z`)) : day(label)
}

export function plural(n: number, one: string, many = `${one}s`): string {
  return `${count(n)} ${n === 1 ? one : many}`
}
