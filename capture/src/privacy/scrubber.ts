import type { SentLine } from '@dust-trail/core'
import type { TextLevel } from '@dust-trail/core/recording'
import { HIDDEN, scrubAddress, scrubText } from '@dust-trail/core/scrub'
import { recall, typedIn } from './typed.ts'

/*
 * Through here every text leaves the page, whoever sends it: what visitors typed and what looks personal is hidden, and on
 * sites that show no text whatever may be a name.
 */

let level: TextLevel = 'hidden'

export const levelNow = (): TextLevel => level

/** How much text may leave, as the site's owner has set it. */
export function setLevel(next: TextLevel): void {
  level = next
  recall()
}

export function bullets(text: string): string {
  return text.replaceAll(/\S/g, '•')
}

/** The text with the marked characters as bullets. */
export function hideMarked(text: string, marked: Uint8Array | null): string {
  if (!marked) return text
  let out = ''
  for (let i = 0; i < text.length; i++) out += marked[i] && text[i]!.trim() ? '•' : text[i]!
  return out
}

/** A text without what was typed and what looks personal. */
export function clean(text: string, how?: { labels?: boolean; fresh?: boolean }): string {
  const own = hideMarked(text, typedIn(text, how))
  return level === 'chosen' ? own : scrubText(own)
}

/** A first and a last name, or what looks like it. */
const NAMES = /\p{Lu}\p{Ll}+(?: \p{Lu}\p{Ll}+)+/gu
/** What a message quotes. */
const QUOTED = /(["'`“„‘])([^"'`“”„‘’]{1,200})(["'`”’“])/gu
/** Names of things in code, as engines quote them. */
const CODE = /^[\w$.]*$/
const ADDRESS = /https?:\/\/[^\s)'"]+?(?=(?::\d+){0,2}(?:[\s)'"]|$))/g

/** A message or stack of an error: what it quotes of the visitor is hidden, its addresses are cleaned. */
export function cleanError(text: string): string {
  const own = clean(text.replaceAll(ADDRESS, (address) => cleanAddress(address)))
  if (level !== 'hidden') return own
  return own
    .replaceAll(QUOTED, (all, open: string, inside: string, close: string) =>
      CODE.test(inside) && !/^\p{Lu}\p{Ll}+$|\d{3}/u.test(inside) ? all : open + HIDDEN + close,
    )
    .replaceAll(NAMES, HIDDEN)
}

/** An address without what may be personal: of the query only campaign parameters keep their values. */
export function cleanAddress(href: string): string {
  try {
    const url = new URL(href, location.href)
    if (!/^https?:$/.test(url.protocol)) return url.protocol
    const path = url.pathname
      .split('/')
      .map((part) => {
        const plain = decoded(part)
        // A part with a space in it is a text.
        return (level === 'hidden' && /[\s+]/.test(plain)) || clean(plain) !== plain ? HIDDEN : part
      })
      .join('/')
    const query = url.search
      .slice(1)
      .split('&')
      .filter(Boolean)
      .map((pair) => {
        const [name = '', value = ''] = pair.split('=')
        return `${clean(decoded(name)) === decoded(name) ? name : HIDDEN}=${
          /^utm_[a-z]+$/.test(name) && !hides(decoded(value)) ? value : ''
        }`
      })
    return scrubAddress(`${url.origin}${path}${query.length ? `?${query.join('&')}` : ''}`).slice(0, 2048)
  } catch {
    return ''
  }
}

function hides(text: string): boolean {
  return clean(text) !== text || (level === 'hidden' && text.search(NAMES) >= 0)
}

/** A part of an address as people read it. */
export function decoded(part: string): string {
  try {
    return decodeURIComponent(part.replaceAll('+', ' '))
  } catch {
    return part
  }
}

/** How long a text may be once it is clean: half a number would not be known as one. */
const MOST: Record<string, number> = {
  ...{ message: 2000, stack: 8000, title: 500, text: 2000, question: 300, label: 120 },
  ...{ name: 120, experiment: 120, variant: 120 },
}
/** Beyond this nothing is read. */
const MOST_READ = 20_000
const ADDRESSES = new Set(['url', 'referrer', 'source'])
/** Words of ours, and what was cleaned where it was made. */
const OWN = new Set([
  'kind',
  'id',
  't',
  'navigation',
  'effect',
  'method',
  'currency',
  'device',
  'target',
  'button',
])

/** A line as it may leave. */
export function cleanLine<L extends Partial<SentLine>>(line: L): L {
  const out: Record<string, unknown> = { ...line }
  for (const [name, whole] of Object.entries(line)) {
    if (OWN.has(name) || whole === undefined) continue
    const value: unknown = typeof whole === 'string' ? whole.slice(0, MOST_READ) : whole
    if (name === 'props')
      out[name] = Object.fromEntries(
        Object.entries(value as object).map(([key, one]: [string, unknown]) => {
          const hidden = clean(`${one as string}`)
          return [clean(key), typeof one === 'string' || hidden !== `${one as string}` ? hidden : one]
        }),
      )
    else if (typeof value !== 'string') continue
    else if (ADDRESSES.has(name)) out[name] = cleanAddress(value)
    else if (name === 'path')
      out[name] = new URL(cleanAddress(location.origin + value)).pathname.replaceAll(
        encodeURI(HIDDEN),
        HIDDEN,
      )
    else if (name === 'message' || name === 'stack') out[name] = cleanError(value)
    else if (name === 'title') out[name] = cleanTitle(value)
    else out[name] = clean(value)
    const most = MOST[name]
    if (most) out[name] = String(out[name]).slice(0, most)
  }
  return out as L
}

/** The title of a page is text of the page. */
export function cleanTitle(title: string): string {
  return level === 'hidden' ? '' : clean(title).slice(0, 2048)
}

/** Whether an id or a class holds data of somebody. A plain word that was chosen is a word of the page. */
export function isData(name: string): boolean {
  return clean(name, { labels: true }) !== name
}
