import type { RecordedNode } from '@dust-trail/core/recording'
import { attributeOf, localNameOf, mediaOf, rootNodeOf } from '../../dom.ts'
import { noteAsked } from './asked.ts'
import { safeCss } from './attributes.ts'
import type { NodeIds, Root } from './nodes.ts'
import { privacy } from './privacy.ts'
import { LOST, rulesText } from './rule-texts.ts'
import { isStill, largeText, lostIn, versionOf, writtenIn } from './written-sheets.ts'

/*
 * Style sheets as the browser has them: with what scripts made of them, with what they import, for the media that hold on
 * the visitor's device.
 */

/** How many rules of a sheet were written down. */
const rulesOf = new WeakMap<CSSStyleSheet, number>()
/** Whether all rules of a sheet have been written down; those of a sheet of another site cannot be read at all. */
export const hasRules = (sheet: CSSStyleSheet) =>
  !rulesOf.has(sheet) || rulesOf.get(sheet) === sheet.cssRules.length

const LINK = /^link$/

/** Features that hold for the visitor's device and not for that of who watches. */
const FEATURE =
  /\(\s*(?:any-(?:hover|pointer)|hover|pointer|prefers-[\w-]+|forced-colors|inverted-colors|update|scripting|color-gamut|dynamic-range|display-mode|(?:-webkit-)?(?:min-|max-)?(?:device-pixel-ratio|device-width|device-height|resolution))\s*(?::[^()]*)?\)/gi

/** What a rule asks an attribute to be. */
const ASKED_TEXT = /=\s*["']([^"'\]]+)["']\s*[is]?\s*\]/g

/** A condition for media in which what holds for the device is settled. */
function settled(media: string): string {
  return media.replaceAll(FEATURE, (feature) =>
    matchMedia(feature).matches ? '(min-width: 0px)' : '(max-width: 0px)',
  )
}

/** What looks like an address here is the name of a language, such as that of drawings. */
const NAMESPACE = /(@namespace[^;"'(]*)url\(\s*["']?([^"')]*)["']?\s*\)/gi

export const safeRules = (text: string, base?: string) =>
  safeCss(text.replaceAll(NAMESPACE, '$1"$2"'), base)
    .replaceAll(/@media[^{]+/g, settled)
    .replaceAll(ASKED_TEXT, (all, text: string) => (privacy.isData(text) ? all.replace(text, '') : all))

/** The text of a sheet of a root as it may leave; undefined where it cannot be read. */
function sheetText(sheet: CSSStyleSheet, base: string, root: ParentNode): string | undefined {
  if (sheet.disabled) return ''
  const own = sheet.href ?? base
  let imported = ''
  let text = ''
  try {
    rulesOf.set(sheet, sheet.cssRules.length)
    const large = largeText(sheet)
    for (const rule of sheet.cssRules) {
      if (rule.type === CSSRule.IMPORT_RULE) imported += importText(rule as CSSImportRule, own, root)
      else if (large === undefined) text += `${rule.cssText}\n`
      // Others are imported before there are rules.
      else if (rule.type === CSSRule.STYLE_RULE) break
    }
    if (large !== undefined) text = large
    else {
      const isLost = LOST.test(text)
      lostIn.set(sheet, isLost)
      if (isLost) {
        const written = writtenIn(sheet)
        text = isStill(written, sheet) ? written : rulesText([...sheet.cssRules].filter(isNoImport), root)
      }
    }
  } catch {
    // Of another site: what it says is known where that site has allowed it to be read.
    text = writtenIn(sheet)
    if (!text) return undefined
  }
  noteAsked(text)
  text = imported + safeRules(text, own)
  const media = mediaOf(sheet).mediaText
  return media && !sheet.ownerRule ? `@media ${settled(media)} {\n${text}}\n` : text
}

const isNoImport = ({ type }: CSSRule) => type !== CSSRule.IMPORT_RULE

function importText(rule: CSSImportRule, base: string, root: ParentNode): string {
  const { styleSheet, layerName, supportsText, media } = rule
  let text = (styleSheet && sheetText(styleSheet, base, root)) ?? ''
  if (!text) return ''
  if (layerName !== null && layerName !== undefined) text = `@layer ${layerName} {\n${text}}\n`
  if (supportsText) text = `@supports (${supportsText}) {\n${text}}\n`
  return media.mediaText ? `@media ${settled(media.mediaText)} {\n${text}}\n` : text
}

/** No part of a recording takes texts that are much longer. */
const PIECE = 400_000

/** The text of a sheet as texts one after the other, each but the last ending with a rule. */
function inPieces(text: string, id: number, ids: NodeIds): RecordedNode[] {
  const pieces: RecordedNode[] = []
  let from = 0
  while (text.length - from > PIECE) {
    const end = text.lastIndexOf('}', from + PIECE) + 1
    const to = end > from ? end : from + PIECE
    pieces.push({ id: pieces.length ? ids.of({}) : id, text: text.slice(from, to) })
    from = to
  }
  pieces.push({ id: pieces.length ? ids.of({}) : id, text: text.slice(from) })
  return pieces
}

const textNodes = new WeakMap<object, object>()
/** Stands for the text inside a style sheet, so that it has a number of its own. */
function textNodeOf(owner: object): object {
  let node = textNodes.get(owner)
  if (!node) textNodes.set(owner, (node = {}))
  return node
}

/** Another look of the page, which the visitor may choose and hardly anybody ever does. */
const isAlternate = (element: Element) =>
  /\balternate\b/i.test(attributeOf(element, 'rel') ?? '') && !!attributeOf(element, 'title')

/** A style or link element with its rules; null where it is neither. */
export function styleNode(element: HTMLStyleElement | HTMLLinkElement, ids: NodeIds): RecordedNode | null {
  const { sheet } = element
  // One without rules yet keeps its place for rules to come.
  if (!sheet && LINK.test(localNameOf(element)) && !/\bstylesheet\b/i.test(attributeOf(element, 'rel') ?? ''))
    return null
  const text =
    sheet && !isAlternate(element) ? sheetText(sheet, element.baseURI, rootNodeOf(element) as Document) : ''
  const c = inPieces(text ?? '', ids.of(textNodeOf(element)), ids)
  return {
    ...{ id: ids.of(element), tag: 'style' },
    ...(text === undefined && {
      a: { 'data-trail-unread': privacy.cleanAddress(attributeOf(element, 'href') ?? '') },
    }),
    c,
  }
}

const places = new WeakMap<Root, WeakMap<CSSStyleSheet, object>>()
/** Stands for a sheet in the place where a root uses it. */
export function placeOf(root: Root, sheet: CSSStyleSheet): object {
  let own = places.get(root)
  if (!own) places.set(root, (own = new WeakMap()))
  let place = own.get(sheet)
  if (!place) own.set(sheet, (place = {}))
  return place
}

/** The sheets of a root that belong to no element. One that is used by many is written out once. */
export function adoptedNodes(root: Root, ids: NodeIds): RecordedNode[] {
  return [...(root.adoptedStyleSheets ?? [])].map((sheet) => {
    const id = ids.of(placeOf(root, sheet))
    const version = versionOf(sheet)
    const first = ids.sheets.get(sheet)
    if (first?.version === version && first.id !== id)
      return { id, tag: 'style', a: { 'data-trail-same': String(first.id) } }
    ids.sheets.set(sheet, { id, version })
    const text = sheetText(sheet, document.baseURI, root) ?? ''
    return { id, tag: 'style', c: inPieces(text, ids.of({}), ids) }
  })
}

const FONT_PARTS = [
  ...['style', 'weight', 'stretch', 'unicodeRange', 'featureSettings', 'variationSettings'],
  ...['ascentOverride', 'descentOverride', 'lineGapOverride', 'sizeAdjust'],
]
/** Parts whose names begin with nothing in rules. */
const PLAIN_PART = /^(unicode|ascent|descent|line|size)/

/** Fonts that a script made, as rules. */
export function fontRules(faces: Iterable<[FontFace, string]>): string {
  let text = ''
  for (const [face, source] of faces) {
    text += `@font-face { font-family: ${face.family}; src: ${source}; `
    for (const part of FONT_PARTS) {
      const value = (face as unknown as Record<string, string | undefined>)[part]
      const name = part.replaceAll(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)
      if (value && value !== 'normal') text += `${PLAIN_PART.test(part) ? '' : 'font-'}${name}: ${value}; `
    }
    text += '}\n'
  }
  return safeCss(text)
}

/** Properties that a script has registered, as rules. */
export function propertyRules(properties: Iterable<PropertyDefinition>): string {
  let text = ''
  for (const { name, syntax = '*', inherits, initialValue } of properties)
    text += `@property ${name} { syntax: "${syntax}"; inherits: ${inherits}; ${initialValue === undefined ? '' : `initial-value: ${initialValue}; `}}\n`
  return safeCss(text)
}
