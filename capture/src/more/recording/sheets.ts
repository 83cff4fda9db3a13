import type { RecordedNode } from '@dust-trail/core/recording'
import { attributeOf, localNameOf, mediaOf, rootNodeOf, textOf } from '../../dom.ts'
import { noteAsked } from './asked.ts'
import { safeCss } from './attributes.ts'
import { network } from './network.ts'
import type { NodeIds, Root } from './nodes.ts'
import { privacy } from './privacy.ts'
import { LOST, rulesText, withoutNotes } from './rule-texts.ts'

/*
 * Style sheets as the browser has them: with what scripts made of them, with what they import, for the media that hold on
 * the visitor's device.
 */

/** How many rules of a sheet were written down. */
const rulesOf = new WeakMap<CSSStyleSheet, number>()
/** Whether all rules of a sheet have been written down; those of a sheet of another site cannot be read at all. */
export const hasRules = (sheet: CSSStyleSheet) =>
  !rulesOf.has(sheet) || rulesOf.get(sheet) === sheet.cssRules.length

/** How often a sheet was changed by a script. */
const versions = new WeakMap<CSSStyleSheet, number>()
export const versionOf = (sheet: CSSStyleSheet) => versions.get(sheet) ?? 0
export const changedSheet = (sheet: CSSStyleSheet) => versions.set(sheet, versionOf(sheet) + 1)

/** Sheets as their authors wrote them, where the browser does not tell all; null: it was asked for in vain. */
const originals = new WeakMap<CSSStyleSheet, string | null>()
/** Whether there were any when a sheet was written down: to read all rules of a large one takes a while. */
const lostIn = new WeakMap<CSSStyleSheet, boolean>()
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

export const safeRules = (text: string, base?: string) =>
  safeCss(text, base)
    .replaceAll(/@media[^{]+/g, settled)
    .replaceAll(ASKED_TEXT, (all, text: string) => (privacy.isData(text) ? all.replace(text, '') : all))

/** The text of a sheet of a root as it may leave; undefined where it cannot be read. */
function sheetText(sheet: CSSStyleSheet, base: string, root: ParentNode): string | undefined {
  if (sheet.disabled) return ''
  const original = originals.get(sheet)
  const own = sheet.href ?? base
  let imported = ''
  let text = ''
  try {
    for (const rule of sheet.cssRules) {
      if (rule.type === CSSRule.IMPORT_RULE) imported += importText(rule as CSSImportRule, own, root)
      else text += `${rule.cssText}\n`
    }
    rulesOf.set(sheet, sheet.cssRules.length)
    const isLost = LOST.test(text)
    lostIn.set(sheet, isLost)
    if (isLost) {
      const { ownerNode } = sheet
      const written =
        original ??
        (ownerNode instanceof Element && !LINK.test(localNameOf(ownerNode)) ? (textOf(ownerNode) ?? '') : '')
      text = isSame(written, text)
        ? withoutNotes(written)
        : rulesText([...sheet.cssRules].filter(isNoImport), root)
    }
  } catch {
    if (original == null) return undefined
    text = original
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

/** Whether a sheet still is what its author wrote. */
function isSame(written: string, rules: string): boolean {
  if (!written || /@import/.test(written)) return false
  try {
    const probe = new CSSStyleSheet()
    probe.replaceSync(written)
    let text = ''
    for (const rule of probe.cssRules) text += `${rule.cssText}\n`
    return text === rules
  } catch {
    // An older browser makes no sheets: what it tells has to do.
    return false
  }
}

/** Sheets of which it is known whether the browser tells them in full. */
const looked = new WeakSet<CSSStyleSheet>()

/** Asks for the text of sheets that the browser does not tell in full; it lies in the page's own cache. */
export async function fetchSheet(sheet: CSSStyleSheet): Promise<boolean> {
  const { href } = sheet
  if (!href || looked.has(sheet)) return false
  looked.add(sheet)
  let isLost = true
  try {
    isLost = lostIn.get(sheet) ?? [...sheet.cssRules].some(({ cssText }) => LOST.test(cssText))
  } catch {
    // Of another site: what it says may still be read where that site allows it.
  }
  if (!isLost) return false
  originals.set(sheet, null)
  const answer = await network.ask(href, { cache: 'force-cache', credentials: 'omit' }).catch(() => undefined)
  if (!answer?.ok) return false
  originals.set(sheet, withoutNotes(await answer.text()))
  return true
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
  const c = [{ id: ids.of(textNodeOf(element)), text: text ?? '' }]
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
    return { id, tag: 'style', c: [{ id: ids.of({}), text }] }
  })
}

/** Fonts that a script made, as rules. */
export function fontRules(faces: Iterable<[FontFace, string]>): string {
  let text = ''
  for (const [face, source] of faces)
    text += `@font-face { font-family: ${face.family}; font-style: ${face.style}; font-weight: ${face.weight}; font-stretch: ${face.stretch}; unicode-range: ${face.unicodeRange}; src: ${source}; }\n`
  return safeCss(text)
}

/** Properties that a script has registered, as rules. */
export function propertyRules(properties: Iterable<PropertyDefinition>): string {
  let text = ''
  for (const { name, syntax = '*', inherits, initialValue } of properties)
    text += `@property ${name} { syntax: "${syntax}"; inherits: ${inherits}; ${initialValue === undefined ? '' : `initial-value: ${initialValue}; `}}\n`
  return safeCss(text)
}
