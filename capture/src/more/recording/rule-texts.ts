/*
 * Of a short form that holds a variable, and of which one part is set again (border: 1px solid var(--line); border-bottom-color:
 * red), browsers tell nothing but the names of its other parts. What a script wrote is kept then; of rules that were there
 * before, the parts are read off an element for which they hold.
 */

/** Properties without a value. */
export const LOST = /[{;]\s*(?!--)[\w-]+: ?;/
const EACH = /([\w-]+): ?;/g
const PART = /^([^,]+?)::?(before|after)$/
/** To look for elements takes a while: a sheet of more such rules keeps the others as the browser tells them. */
const MOST_LOOKED_FOR = 1000

/** Rules as scripts wrote them, each with what the browser told of it then. */
const written = new WeakMap<CSSRule, { told: string; text: string }>()

/** What authors say to one another is not part of how a page looks. */
export const withoutNotes = (text: string) => text.replaceAll(/\/\*[^]*?\*\//g, '')

/** Notes what a script has written. */
export function wrote(rule: CSSRule, text: unknown): void {
  // Only of what refers to a variable something is lost.
  if (typeof text !== 'string' || !text.includes('var(')) return
  const told = rule.cssText
  if (LOST.test(told)) written.set(rule, { told, text: withoutNotes(text) })
}

/** A rule in full, as far as it can be known; what it holds for is looked for in a root. */
export function ruleText(rule: CSSRule, root: ParentNode): string {
  const told = rule.cssText
  if (!LOST.test(told)) return told
  const own = written.get(rule)
  if (own?.told === told) return own.text
  const inside = (rule as CSSGroupingRule).cssRules
  if (!inside?.length) return filled(rule as CSSStyleRule, told, root)
  let text = told
  for (const one of inside) text = text.replace(one.cssText, () => ruleText(one, root))
  return text
}

/** All rules of a sheet, one to a line. */
export function rulesText(rules: Iterable<CSSRule>, root: ParentNode): string {
  let text = ''
  let looked = 0
  for (const rule of rules) {
    const told = rule.cssText
    text += `${LOST.test(told) && looked++ < MOST_LOOKED_FOR ? ruleText(rule, root) : told}\n`
  }
  return text
}

function filled({ selectorText }: CSSStyleRule, told: string, root: ParentNode): string {
  const style = styleOf(selectorText, root)
  if (!style) return told
  return told.replaceAll(EACH, (all, name: string, at: number) => {
    const value = /[{;]\s*$/.test(told.slice(Math.max(0, at - 20), at)) && style.getPropertyValue(name)
    return value ? `${name}: ${value};` : all
  })
}

function styleOf(selector: string, root: ParentNode): CSSStyleDeclaration | undefined {
  const [, of, part] = PART.exec(selector) ?? []
  try {
    const element = root.querySelector(of ?? selector)
    return element ? getComputedStyle(element, part && `::${part}`) : undefined
  } catch {
    // A selector of a later browser, or of another language than that of elements.
    return undefined
  }
}
