import { later, now, quiet } from '../dom.ts'
import type { MorePage } from './more-page.ts'

/** Rules come many at once: they are written down together, so soon. */
const SOON_MS = 30
/** A sheet that is written down as a whole is not written down again so soon. */
const REST_MS = 1000

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
  #restUntilMs = 0

  constructor(private readonly page: MorePage) {
    const note = quiet((sheet: CSSStyleSheet, index: number | null) => {
      const owner = sheet.ownerNode
      if (!(owner instanceof Element)) this.#soon()
      else if (index === sheet.cssRules.length - 1 && !this.#changed.has(owner)) {
        const some = this.#added.get(owner) ?? []
        some.push(sheet.cssRules[index]!.cssText)
        this.#added.set(owner, some)
        this.#soon()
      } else this.#again(owner)
    })
    type Changer = (this: CSSStyleSheet & CSSRule, ...given: unknown[]) => unknown
    /** Calls through to the browser's function, and tells of the sheet that has changed. */
    const follow = (
      owner: object | undefined,
      names: string,
      changed: (self: CSSStyleSheet & CSSRule, result: unknown) => void,
    ) => {
      const prototype = owner as Record<string, Changer> | undefined
      const tell = quiet(changed)
      for (const name of names.split(' ')) {
        const original = prototype?.[name]
        if (!original) continue
        prototype[name] = function (...given) {
          const result = original.apply(this, given)
          tell(this, result)
          return result
        }
      }
    }
    follow(CSSStyleSheet.prototype, 'insertRule', (sheet, index) => note(sheet, index as number))
    follow(CSSStyleSheet.prototype, 'deleteRule addRule removeRule replaceSync', (sheet) => note(sheet, null))
    follow(CSSStyleSheet.prototype, 'replace', (sheet, done) =>
      (done as Promise<unknown>).then(
        () => note(sheet, null),
        () => undefined,
      ),
    )
    // Rules inside of others, such as those for narrow windows.
    follow(window.CSSGroupingRule?.prototype, 'insertRule deleteRule', ({ parentStyleSheet }) => {
      if (parentStyleSheet) note(parentStyleSheet, null)
    })
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
    later(
      () => {
        this.#isWaiting = false
        if (this.#changed.size) this.#restUntilMs = now() + REST_MS
        for (const owner of this.#changed) this.page.recorder.refresh(owner)
        for (const [owner, rules] of this.#added) this.#addRules(owner, rules.join('\n'))
        this.#changed.clear()
        this.#added.clear()
        this.#writeAdopted()
      },
      Math.max(SOON_MS, this.#restUntilMs - now()),
    )
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
    const sheets = [...(document.adoptedStyleSheets ?? [])].map((sheet) => ({
      sheet,
      text: [...sheet.cssRules].map(({ cssText }) => cssText).join('\n'),
    }))
    const isKept = (one: { sheet: CSSStyleSheet; text: string }, k: number) =>
      this.#adopted[k]?.sheet === one.sheet && this.#adopted[k].text === one.text && recorder.idOf(one.sheet)
    if (sheets.every(isKept) && sheets.length === this.#adopted.length) return
    const gone = this.#adopted.flatMap(({ sheet }) => recorder.idOf(sheet) ?? [])
    recorder.change({
      ...(gone.length && { gone }),
      add: sheets.map(({ sheet, text }) => [
        head,
        0,
        {
          ...{ id: recorder.number(sheet), tag: 'style' },
          c: [{ id: recorder.number({}), text: safeCss(text) }],
        },
      ]),
    })
    this.#adopted = sheets
  }
}
