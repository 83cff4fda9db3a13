import { HIDDEN } from '@dust-trail/core/scrub'
import { localNameOf, namespaceOf } from '../dom.ts'
import { clean, decoded, levelNow } from './scrubber.ts'

/** Run, lead somewhere, or hold what was typed or chosen. */
const NEVER =
  /^(on.*|srcdoc|nonce|integrity|value|checked|selected|srcset|sizes|action|formaction|ping|crossorigin|aria-value.*)$/i
const SCRIPT_ADDRESS = /^\s*(javascript|vbscript|data:text\/html)/i
/** What pages are laid out by: words of the page, not of anybody. */
const STRUCTURE =
  /^(class|style|type|role|dir|lang|hidden|disabled|readonly|required|multiple|open|rows|cols|size|width|height|(col|row)?span|v?align|border|cell[a-z]+|(bg)?color|for|start|inert|tabindex|contenteditable|popover|slot|part|aria-(?!label$|desc|place|role|value)[a-z]+|data-trail-[a-z]+)$/
const TEXT =
  /^(alt|title|placeholder|label|summary|aria-(label|description|placeholder|roledescription|valuetext))$/
const STATE =
  /^data-(state|side|align|orientation|theme|size|variant|color|active|open|highlighted|disabled|motion|show|visible|loading|expanded|collapsed|status|type|level|position|layout|direction)$/
/** Values that programs write, not people. */
const STATE_VALUE = /^(true|false|-?\d{1,3}|[a-z]+(-[a-z]+)*)$/
/** Ids of elements, sizes, colours and key words. */
const PROGRAM_VALUE = /^[\w#.%:;,()-]{1,100}$|^(?=[^A-Z]*$)[\w# .%:;,()-]{1,200}$/
const LONGEST_STATE = 24
const SVG = 'http://www.w3.org/2000/svg'

/** What is known of the element whose attribute it is. */
export interface Around {
  /** nothing but structure leaves from here */
  bare: boolean
  /** its text may be seen */
  shown: boolean
  /** says which of several was chosen */
  choice?: boolean
}

/** The attribute's value as it may leave, or null where it may not. */
export function safeAttribute(
  element: Element,
  name: string,
  value: string,
  { bare, shown, choice }: Around,
): string | null {
  const plain = name.toLowerCase()
  if (NEVER.test(plain) || (value.includes(':') && SCRIPT_ADDRESS.test(value))) return null
  if (
    bare &&
    plain !== 'class' &&
    plain !== 'style' &&
    plain !== 'data-trail-mask' &&
    plain !== 'data-trail-block'
  )
    return null
  if (plain === 'style') return safeCss(bare ? value.replaceAll(/url\([^)]*\)/gi, 'none') : value)
  if (plain === 'class')
    return value
      .split(/(\s+)/)
      .filter((word) => !isData(word))
      .join('')
  if (plain === 'id') return isData(value) ? null : value
  if (plain === 'href' || plain === 'xlink:href') return /^#/.test(value) && !isData(value) ? value : ''
  if (plain === 'src')
    return localNameOf(element) === 'img'
      ? safePicture((element as HTMLImageElement).currentSrc || value)
      : null
  if (choice && /^aria-(checked|selected)$/.test(plain)) return null
  if (levelNow() === 'chosen') return clean(value)
  if (TEXT.test(plain)) return shown ? clean(value, { labels: true }) : null
  if (value === '') return value
  if (STRUCTURE.test(plain)) return PROGRAM_VALUE.test(value) && !isData(value) ? value : null
  if (namespaceOf(element) === SVG && !/^(aria|data)-/.test(plain)) return value
  if (value.length > LONGEST_STATE || !STATE_VALUE.test(value)) return null
  return levelNow() === 'hidden' && !STATE.test(plain) ? null : clean(value, { labels: true })
}

/** Whether an id or a class holds data of somebody. A plain word that was chosen is a word of the page. */
export function isData(name: string): boolean {
  return clean(name, { labels: true }) !== name
}

/** Texts inside of style rules, and the addresses of their pictures. */
export function safeCss(text: string, base = document.baseURI): string {
  return text
    .replaceAll(/url\(\s*(['"]?)([^'")]+)\1\s*\)/gi, (_, quote: string, address: string) =>
      address.startsWith('#') ? `url(${quote}${address}${quote})` : `url("${safePicture(address, base)}")`,
    )
    .replaceAll(
      /((?:content|--[\w-]+)\s*:\s*)(["'])(.*?)\2/gi,
      (_, name: string, quote: string, inside: string) => `${name}${quote}${clean(inside)}${quote}`,
    )
}

/** Short words and sizes in the query of a picture's address, without which many would not be found. */
const PICTURE_VALUE = /^([a-z]{1,8}|\d{1,4})$/i

/** The address of a picture or font without what may say whose it is; "" where nothing can be left of it. */
export function safePicture(address: string, base = document.baseURI): string {
  if (/^data:(image|font)\//i.test(address)) return holdsText(address) ? '' : address
  try {
    const url = new URL(address, base)
    if (!/^https?:$/.test(url.protocol)) return ''
    const path = url.pathname.split('/').map((part) => (isPicturePart(part) ? part : HIDDEN))
    const query = [...url.searchParams].map(
      ([name, value]) =>
        `${encodeURIComponent(clean(name))}=${PICTURE_VALUE.test(value) && clean(value) === value ? value : ''}`,
    )
    return `${url.origin}${path.join('/')}${query.length ? `?${query.join('&')}` : ''}`
  } catch {
    return ''
  }
}

/** Names of files are full of numbers: of those only card numbers say something. */
function isPicturePart(part: string): boolean {
  const plain = decoded(part).replaceAll(/(?<![a-z\d])\d{9,}/gi, (digits) => (isCard(digits) ? digits : ''))
  return clean(plain) === plain
}

/** Whether digits could be the number of a card, by their check digit (ISO/IEC 7812-1). */
function isCard(digits: string): boolean {
  if (digits.length < 13 || digits.length > 19) return false
  let sum = 0
  for (let i = 0; i < digits.length; i++) {
    const twice = Number(digits[digits.length - 1 - i]) * (1 + (i % 2))
    sum += twice > 9 ? twice - 9 : twice
  }
  return sum % 10 === 0
}

/** Whether a drawing in an address has text in it. */
function holdsText(address: string): boolean {
  if (!/^data:image\/svg/i.test(address)) return false
  const [head = '', body = ''] = address.split(/,(.*)/s)
  try {
    return /<(text|title|desc|foreignObject)/i.test(
      /base64/i.test(head) ? atob(body) : decodeURIComponent(body),
    )
  } catch {
    return true
  }
}
