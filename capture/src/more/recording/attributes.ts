import { HIDDEN } from '@dust-trail/core/scrub'
import { attributeOf, baseOf, localNameOf, namespaceOf } from '../../dom.ts'
import { askedValue } from './asked.ts'
import { toldAddress } from './files.ts'
import { privacy } from './privacy.ts'

/** Run, lead somewhere, or hold what was typed or chosen. */
const NEVER =
  /^(on.*|srcdoc|nonce|integrity|value|checked|selected|srcset|sizes|action|formaction|ping|crossorigin|aria-value.*)$/i
const SCRIPT_ADDRESS = /^\s*(javascript|vbscript|data:text\/html)/i
/** What pages are laid out by: words of the page, not of anybody. */
const STRUCTURE =
  /^(class|style|type|role|dir|lang|hidden|disabled|readonly|required|multiple|open|rows|cols|size|width|height|(col|row)?span|allowfullscreen|controls|frameborder|scrolling|marginwidth|marginheight|exportparts|nowrap|noshade|clear|char|charoff|axis|scope|accept|wrap|v?align|border|cell[a-z]+|(bg)?color|for|start|inert|tabindex|contenteditable|popover|slot|part|aria-(?!label$|desc|place|role|value)[a-z]+|data-trail-[a-z]+)$/
/** The same on elements of old pages; elsewhere such a name may hold anything. */
const OLD_STRUCTURE =
  /^(bordercolor|text|[av]?link|face|(top|left|right|bottom)margin|[hv]space|compact|rules|frame)$/
const OLD = /^(body|font|basefont|table|t[rdh]|hr|img|[uod]l)$/
const BACKED = /^(body|table|t[rdh])$/
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
  /** it has just been set: what the browser has made of it is not known yet */
  changed?: boolean
}

/** Of these the value is the page's own, and what is drawn follows from it. */
const MEASURES = /^(progress|meter|li|input|ol)$/
const MEASURE = /^(value|min|max|low|high|optimum|step|start|reversed)$/
const NUMBER = /^-?[\d.]{0,20}$|^any$/

/** Elements of a site's own that can be chosen say so like this; of those that browsers know it is told as a state. */
const CHOSEN = /^(checked|selected)$/
const CONTROL = /^(input|option)$/

/** Which part of a page is open says nothing of anybody. */
const isTab = (element: Element) => /^tab(panel)?$/.test(attributeOf(element, 'role') ?? '')

/** The attribute's value as it may leave, or null where it may not. */
export function safeAttribute(
  element: Element,
  name: string,
  value: string,
  { bare, shown, choice, changed }: Around,
): string | null {
  const plain = name.toLowerCase()
  const tag = localNameOf(element)
  if (!bare && MEASURE.test(plain) && MEASURES.test(tag) && (plain !== 'value' || tag !== 'input'))
    return NUMBER.test(value) && !privacy.isData(value) ? value : null
  if (
    plain === 'value' &&
    tag === 'input' &&
    !bare &&
    /^(button|submit|reset)$/.test((element as HTMLInputElement).type)
  )
    return privacy.clean(value, { labels: true })
  if (!bare && CHOSEN.test(plain) && !CONTROL.test(tag))
    return !choice && (shown || isTab(element)) ? '' : null
  if (NEVER.test(plain) || (value.includes(':') && SCRIPT_ADDRESS.test(value))) return null
  if (
    bare &&
    plain !== 'class' &&
    plain !== 'style' &&
    plain !== 'data-trail-mask' &&
    plain !== 'data-trail-block'
  )
    return null
  if (plain === 'style')
    return safeCss(bare ? value.replaceAll(/url\([^)]*\)/gi, 'none') : value, baseOf(element))
  if (plain === 'class')
    return value
      .split(/(\s+)/)
      .filter((word) => !privacy.isData(word))
      .join('')
  if (plain === 'id') return privacy.isData(value) ? null : value
  if (plain === 'href' || plain === 'xlink:href') {
    if (tag === 'image' || tag === 'feimage') return safePicture(value, baseOf(element))
    return /^#/.test(value) && !privacy.isData(value) ? value : ''
  }
  if (plain === 'src')
    return isPicture(element, tag) ? safePicture(addressOf(element, value, changed), baseOf(element)) : null
  if (plain === 'background' && BACKED.test(tag)) return bare ? null : safePicture(value, baseOf(element))
  if (plain === 'poster') return tag === 'video' ? safePicture(value, baseOf(element)) : null
  if (plain === 'name' && tag === 'slot')
    return PROGRAM_VALUE.test(value) && !privacy.isData(value) ? value : null
  if (choice && /^aria-(checked|selected)$/.test(plain)) return null
  if (privacy.levelNow() === 'chosen') return privacy.clean(value)
  if (TEXT.test(plain)) return shown ? privacy.clean(value, { labels: true }) : null
  if (value === '') return value
  if (STRUCTURE.test(plain) || (OLD.test(tag) && OLD_STRUCTURE.test(plain)))
    return PROGRAM_VALUE.test(value) && !privacy.isData(value) ? value : null
  if (namespaceOf(element) === SVG && !/^(aria|data)-/.test(plain)) return value
  const asked = askedValue(plain, value)
  if (asked === value) return privacy.isData(value) ? '' : value
  if (value.length > LONGEST_STATE || !STATE_VALUE.test(value)) return asked
  return privacy.levelNow() === 'hidden' && !STATE.test(plain)
    ? asked
    : privacy.clean(value, { labels: true })
}

const isPicture = (element: Element, tag: string) =>
  tag === 'img' || (tag === 'input' && (element as HTMLInputElement).type === 'image')

/** Where a picture comes from: of several that the page offers, the one that the browser took. */
function addressOf(element: Element, value: string, changed = false): string {
  const { currentSrc } = element as HTMLImageElement
  return currentSrc && (!changed || attributeOf(element, 'srcset')) ? currentSrc : value
}

/** Texts inside of style rules, and the addresses of their pictures. */
export function safeCss(text: string, base = document.baseURI): string {
  return text
    .replaceAll(/url\(\s*(['"]?)([^'")]+)\1\s*\)/gi, (_, quote: string, address: string) =>
      address.startsWith('#') ? `url(${quote}${address}${quote})` : `url("${safePicture(address, base)}")`,
    )
    .replaceAll(
      /((?:content|--[\w-]+)\s*:\s*)(["'])(.*?)\2/gi,
      (_, name: string, quote: string, inside: string) =>
        `${name}${quote}${isHiddenText(name, inside) ? privacy.bullets(inside) : privacy.clean(inside)}${quote}`,
    )
}

/** Words that a rule writes on the page are text of it; signs and pictures of fonts are not. */
const isHiddenText = (property: string, text: string) =>
  privacy.levelNow() === 'hidden' && /^content/i.test(property) && /\p{L}{2,}/u.test(text)

/** Short words and sizes in the query of a picture's address, without which many would not be found. */
const PICTURE_VALUE = /^([a-z]{1,8}|\d{1,4})$/i

/** A picture or a font that stands in its own address; of fonts by all names that they had before they had one. */
const HELD =
  /^data:(image\/|font\/|application\/(x-)?font-|application\/(vnd\.ms-fontobject|octet-stream)[;,])/i

/** The address of a picture or font without what may say whose it is; "" where nothing can be left of it. */
export function safePicture(address: string, base = document.baseURI): string {
  if (HELD.test(address)) return holdsText(address) ? '' : address
  try {
    const url = new URL(address, base)
    if (!/^https?:$/.test(url.protocol)) return ''
    const path = url.pathname.split('/').map((part) => (isPicturePart(part) ? part : HIDDEN))
    const query = [...url.searchParams].map(
      ([name, value]) =>
        `${encodeURIComponent(privacy.clean(name))}=${PICTURE_VALUE.test(value) && privacy.clean(value) === value ? value : ''}`,
    )
    url.hash = ''
    return toldAddress(url.href, `${url.origin}${path.join('/')}${query.length ? `?${query.join('&')}` : ''}`)
  } catch {
    return ''
  }
}

/** Names of files are full of numbers: of those only card numbers say something. */
function isPicturePart(part: string): boolean {
  const plain = privacy
    .decoded(part)
    .replaceAll(/(?<![a-z\d])\d{9,}/gi, (digits) => (isCard(digits) ? digits : ''))
  return privacy.clean(plain) === plain
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
