import { later, quiet } from '../dom.ts'
import type { MorePage } from './more-page.ts'

/** Rules come many at once: they are written down together, so soon. */
const SOON_MS = 30

/**
 * Style rules that a script adds, changes or takes away, which no change of the document tells of: the browser's functions
 * are watched, and sheets that belong to no element are looked at now and then.
 */
export class Styles {
  /** rules that came at the end of a sheet */
  readonly #added = new Map<Element, string[]>()
  /** sheets that have changed in another way */
  readonly #changed = new Set<Element>()
  /** the document's own sheets, as they were written down last */
  #adopted: { sheet: CSSStyleSheet; text: string }[] = []
  #isWaiting = false

  constructor(private readonly page: MorePage) {
    const note = quiet((rules: CSSRuleList, owner: Node | null | undefined, index: number | null) => {
      if (!(owner instanceof Element)) this.#soon()
      else if (index === rules.length - 1 && !this.#changed.has(owner)) {
        const some = this.#added.get(owner) ?? []
        some.push(rules[index]!.cssText)
        this.#added.set(owner, some)
        this.#soon()
      } else this.#again(owner)
    })
    type Changer = (this: CSSStyleSheet, ...given: unknown[]) => unknown
    const follow = (
      name: 'insertRule' | 'deleteRule' | 'addRule' | 'removeRule' | 'replace' | 'replaceSync',
    ) => {
      const prototype = CSSStyleSheet.prototype as unknown as Record<string, Changer>
      const original = prototype[name]
      if (!original) return
      prototype[name] = function (...given) {
        const result = original.apply(this, given)
        note(this.cssRules, this.ownerNode, name === 'insertRule' ? (result as number) : null)
        return result
      }
    }
    for (const name of [
      'insertRule',
      'deleteRule',
      'addRule',
      'removeRule',
      'replace',
      'replaceSync',
    ] as const)
      follow(name)
    // Rules inside of others, such as those for narrow windows.
    const inner = (window.CSSGroupingRule?.prototype ?? {}) as unknown as Record<
      string,
      (this: CSSRule, ...given: unknown[]) => unknown
    >
    for (const name of ['insertRule', 'deleteRule']) {
      const original = inner[name]
      if (!original) continue
      inner[name] = function (...given) {
        const result = original.apply(this, given)
        if (this.parentStyleSheet) note(this.parentStyleSheet.cssRules, this.parentStyleSheet.ownerNode, null)
        return result
      }
    }
    // What came since the page was written down, before this was there.
    for (const sheet of document.styleSheets)
      if (sheet.ownerNode instanceof Element && !page.hasRules(sheet)) this.#again(sheet.ownerNode)
  }

  /** Sheets that belong to no element: are they still those that were written down? */
  look(): void {
    const sheets = [...(document.adoptedStyleSheets ?? [])]
    const isSame =
      sheets.length === this.#adopted.length &&
      sheets.every((sheet, k) => this.#adopted[k]!.sheet === sheet && this.page.recorder.idOf(sheet))
    if (!isSame) this.#soon()
  }

  #again(owner: Element): void {
    this.#added.delete(owner)
    this.#changed.add(owner)
    this.#soon()
  }

  #soon(): void {
    if (this.#isWaiting) return
    this.#isWaiting = true
    later(() => {
      this.#isWaiting = false
      for (const owner of this.#changed) this.page.recorder.refresh(owner)
      for (const [owner, rules] of this.#added) this.#addRules(owner, rules.join('\n'))
      this.#changed.clear()
      this.#added.clear()
      this.#writeAdopted()
    }, SOON_MS)
  }

  #addRules(owner: Element, rules: string): void {
    const { recorder, safeCss } = this.page
    const id = recorder.idOf(owner)
    if (id) recorder.change({ add: [[id, 0, { id: recorder.number({}), text: safeCss(rules) }]] })
  }

  #writeAdopted(): void {
    const { recorder, safeCss } = this.page
    const head = recorder.idOf(document.head)
    if (!head) return
    const now = [...(document.adoptedStyleSheets ?? [])].map((sheet) => ({
      sheet,
      text: [...sheet.cssRules].map(({ cssText }) => cssText).join('\n'),
    }))
    const isKept = (one: { sheet: CSSStyleSheet; text: string }, k: number) =>
      this.#adopted[k]?.sheet === one.sheet && this.#adopted[k].text === one.text && recorder.idOf(one.sheet)
    if (now.every(isKept) && now.length === this.#adopted.length) return
    const gone = this.#adopted.flatMap(({ sheet }) => recorder.idOf(sheet) ?? [])
    recorder.change({
      ...(gone.length && { gone }),
      add: now.map(({ sheet, text }) => [
        head,
        0,
        {
          ...{ id: recorder.number(sheet), tag: 'style' },
          c: [{ id: recorder.number({}), text: safeCss(text) }],
        },
      ]),
    })
    this.#adopted = now
  }
}
