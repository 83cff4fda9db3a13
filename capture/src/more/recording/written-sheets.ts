import { later, localNameOf, method, textOf, typeOf } from '../../dom.ts'
import { network } from './network.ts'
import { LOST, withoutNotes } from './rule-texts.ts'

/*
 * Sheets as their authors wrote them: to have the browser tell all rules of a large one takes long, and it does not tell
 * all of them in full. They hold as long as the sheet still says the same.
 */

/** How often a sheet was changed by a script. */
const versions = new WeakMap<CSSStyleSheet, number>()
export const versionOf = (sheet: CSSStyleSheet) => versions.get(sheet) ?? 0
export const changedSheet = (sheet: CSSStyleSheet) => versions.set(sheet, versionOf(sheet) + 1)

/** Those that lie in files, as far as they have been asked for; null: in vain. */
const originals = new WeakMap<CSSStyleSheet, string | null>()
/** Sheets of which it is known whether the browser tells them in full. */
const looked = new WeakSet<CSSStyleSheet>()
/** Whether it does not. */
export const lostIn = new WeakMap<CSSStyleSheet, boolean>()

/** Of shorter ones the browser tells all in no time. */
const LARGE = 40_000
/** So long the page may wait to be written down. */
const LATEST_MS = 300
/** So many rules of a large sheet are compared, besides the first few: those hold the variables that themes are made of. */
const COMPARED = 100
const FIRST = 20
/** The browser's own, which tells nobody. */
const fill = method<CSSStyleSheet, [string], void>(CSSStyleSheet.prototype, 'replaceSync')
const IMPORT = /@import\s*(?:url\([^)]*\)|"[^"]*"|'[^']*')[^;{}]*;/gi
/** Pictures named in an unusual way, and letters that were not read right: the browser knows better what is meant. */
const UNSAFE = /@import|image-set\(|url\([^)]*\\|\uFFFD/i

/** What the author of a sheet wrote, without notes and what it imports; "" where that is not known. */
export function writtenIn(sheet: CSSStyleSheet): string {
  const { ownerNode } = sheet
  if (originals.has(sheet)) return originals.get(sheet) ?? ''
  return ownerNode && typeOf(ownerNode) === Node.ELEMENT_NODE && localNameOf(ownerNode as Element) === 'style'
    ? bare(textOf(ownerNode) ?? '')
    : ''
}

const bare = (text: string) => withoutNotes(text).replaceAll(IMPORT, '')

/** The text of a large sheet that nobody has changed; undefined for others. */
export function largeText(sheet: CSSStyleSheet): string | undefined {
  if (versionOf(sheet)) return undefined
  const written = writtenIn(sheet)
  return written.length >= LARGE && isStill(written, sheet, COMPARED) ? written : undefined
}

/**
 * Whether a sheet still is what its author wrote.
 *
 * @param most  so many of its rules are compared, the first few and others as evenly spread as can be
 */
export function isStill(written: string, sheet: CSSStyleSheet, most = Infinity): boolean {
  if (!written || UNSAFE.test(written)) return false
  try {
    const probe = new CSSStyleSheet()
    fill(probe, written)
    let imports = 0
    // These were taken out of what the author wrote.
    while (sheet.cssRules[imports]?.type === CSSRule.IMPORT_RULE) imports++
    return areAlike(probe.cssRules, sheet.cssRules, imports, most)
  } catch {
    // An older browser makes no sheets: what it tells has to do.
    return false
  }
}

function areAlike(ours: CSSRuleList, theirs: CSSRuleList, from: number, most: number): boolean {
  const { length } = ours
  if (theirs.length - from !== length) return false
  const step = Math.max(1, length / most)
  for (let k = 0; k < length; k += k < FIRST ? 1 : step)
    if (!isAlike(ours[k | 0]!, theirs[(k | 0) + from]!, most)) return false
  return !length || isAlike(ours[length - 1]!, theirs.item(theirs.length - 1)!, most)
}

function isAlike(ours: CSSRule, theirs: CSSRule, most: number): boolean {
  if (!isGroup(ours)) return ours.cssText === theirs.cssText
  return (
    isGroup(theirs) && headOf(ours) === headOf(theirs) && areAlike(ours.cssRules, theirs.cssRules, 0, most)
  )
}

const isGroup = (rule: CSSRule): rule is CSSMediaRule =>
  rule.type !== CSSRule.STYLE_RULE && rule.type !== CSSRule.KEYFRAMES_RULE && 'cssRules' in rule

/** For what the rules in it hold. */
const headOf = (rule: CSSMediaRule) =>
  `${rule.type} ${rule.conditionText} ${(rule as { name?: string }).name}`

/** Asks for the large sheets of a page that lie in files of the site, before it is written down. */
export async function askForSheets(page: Document): Promise<void> {
  const large = [...page.styleSheets].filter(({ href, disabled }) => {
    const [loaded] = href && !disabled ? performance.getEntriesByName(href) : []
    return ((loaded as PerformanceResourceTiming | undefined)?.decodedBodySize ?? 0) >= LARGE
  })
  if (!large.length) return
  const late = new Promise<void>((resolve) => later(resolve, LATEST_MS))
  await Promise.race([late, Promise.all(large.map((sheet) => ask(sheet, sheet.href!)))])
}

/** Asks for the text of a sheet that the browser does not tell in full. @returns whether it is known now */
export async function fetchSheet(sheet: CSSStyleSheet): Promise<boolean> {
  const { href } = sheet
  if (!href || looked.has(sheet)) return false
  let isLost = true
  try {
    isLost = lostIn.get(sheet) ?? [...sheet.cssRules].some(({ cssText }) => LOST.test(cssText))
  } catch {
    // Of another site: what it says may still be read where that site allows it.
  }
  looked.add(sheet)
  return isLost && ask(sheet, href)
}

/** It lies in the page's own cache. */
async function ask(sheet: CSSStyleSheet, href: string): Promise<boolean> {
  looked.add(sheet)
  originals.set(sheet, null)
  if (network.isBarred(href)) return false
  const answer = await network.ask(href, { cache: 'force-cache', credentials: 'omit' }).catch(() => undefined)
  if (!answer?.ok) return false
  originals.set(sheet, bare(await answer.text()))
  return true
}
