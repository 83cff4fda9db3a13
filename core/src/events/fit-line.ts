import { scrubAddress, scrubText } from './scrub.ts'

/*
 * What a visitor's browser sends is made to fit before it is checked: a text that is too long is cut, a number that must
 * be whole is rounded down, what makes no sense in one optional field costs that field, never the line.
 */

/** Characters that a text may have; of any other text field so many as of a text. */
const TEXTS: Readonly<Record<string, number>> = {
  ...{ url: 2048, referrer: 2048, source: 2048, path: 2048, title: 500, label: 120, button: 500 },
  ...{ message: 2000, stack: 8000, method: 10, name: 120, experiment: 120, variant: 120, question: 300 },
  ...{ text: 2000, tab: 64 },
}
const TARGET_TEXTS: Readonly<Record<string, number>> = { selector: 500, tag: 40, text: 80 }
const DEVICE_TEXTS: Readonly<Record<string, number>> = { os: 40, browser: 40 }
/** Whole numbers from 0 on. */
const COUNTS = ['line', 'column', 'length', 'corrections', 'results', 'status'] as const
/** Milliseconds and the like: not below 0. */
const AMOUNTS = ['load', 'ms'] as const
const SHARES = ['rx', 'ry', 'depth'] as const

/** Properties that one line may have, and how long their names and texts may be. */
export interface PropLimits {
  props: number
  name: number
  text: number
}
export const PROP_LIMITS: PropLimits = { props: 50, name: 100, text: 1000 }

type Fields = Record<string, unknown>

/** What is an address: there values go as well. */
const ADDRESSES = new Set(['url', 'referrer', 'source', 'path'])
/** What is no text of the page. */
const NAMES = new Set(['tag', 'tab', 'method', 'os', 'browser'])

/**
 * A line as it was sent, in a shape that may pass.
 *
 * @returns a copy; something that is no object is given back as it is
 */
export function fitLine(raw: unknown, limits = PROP_LIMITS): unknown {
  if (!isFields(raw)) return raw
  const line = { ...raw }
  cutTexts(line, TEXTS)
  for (const field of COUNTS) wholeFrom(line, field, 0)
  wholeFrom(line, 'height', 1)
  for (const field of AMOUNTS) if (isNumber(line[field])) line[field] = Math.max(0, line[field])
  for (const field of SHARES) if (isNumber(line[field])) line[field] = Math.min(1, Math.max(0, line[field]))
  if (isFields(line['target'])) {
    const target = { ...line['target'] }
    cutTexts(target, TARGET_TEXTS)
    // The ground of a page that is shorter than its window is the page itself.
    if (target['selector'] === '') target['selector'] = target['tag'] || 'html'
    for (const field of ['w', 'h']) if (isNumber(target[field])) target[field] = Math.max(0, target[field])
    line['target'] = target
  }
  if (isFields(line['device'])) {
    const device = { ...line['device'] }
    cutTexts(device, DEVICE_TEXTS)
    // A frame without size has neither width nor height.
    for (const field of ['width', 'height']) {
      wholeFrom(device, field, 0)
      const px = device[field]
      if (isNumber(px) && (px < 1 || px > 20_000)) delete device[field]
    }
    line['device'] = device
  }
  if (isFields(line['campaign'])) {
    const campaign = { ...line['campaign'] }
    for (const [field, value] of Object.entries(campaign))
      if (typeof value === 'string') campaign[field] = scrubText(value)
    line['campaign'] = campaign
  }
  if (isFields(line['props'])) line['props'] = fitProps(line['props'], limits)
  return line
}

/** Whether properties of a line, as it was sent, go beyond what one may have. */
export function exceedsProps(raw: unknown, limits = PROP_LIMITS): boolean {
  if (!isFields(raw) || !isFields(raw['props'])) return false
  const props = Object.entries(raw['props'])
  return (
    props.length > limits.props ||
    props.some(
      ([name, value]) =>
        name.length > limits.name || (typeof value === 'string' && value.length > limits.text),
    )
  )
}

function fitProps(props: Fields, limits: PropLimits): Fields {
  return Object.fromEntries(
    Object.entries(props)
      .slice(0, limits.props)
      .map(([name, value]) => [
        scrubText(name).slice(0, limits.name),
        typeof value === 'string' ? scrubText(value).slice(0, limits.text) : value,
      ]),
  )
}

function cutTexts(fields: Fields, most: Readonly<Record<string, number>>): void {
  for (const [name, length] of Object.entries(most)) {
    const value = fields[name]
    // Hidden before it is cut: half a number is no number any more.
    if (typeof value === 'string') fields[name] = scrubbed(name, value).slice(0, length)
  }
}

/** A text of a line without what may say who somebody is. */
function scrubbed(name: string, value: string): string {
  if (NAMES.has(name)) return value
  return ADDRESSES.has(name) ? scrubAddress(value) : scrubText(value)
}

function wholeFrom(fields: Fields, name: string, least: number): void {
  const value = fields[name]
  if (isNumber(value)) fields[name] = Math.max(least, Math.floor(value))
}

function isNumber(value: unknown): value is number {
  return typeof value === 'number' && Number.isFinite(value)
}

function isFields(value: unknown): value is Fields {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}
