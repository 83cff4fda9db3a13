import type { Realm } from '../../dom.ts'
import {
  headOf,
  isConnected,
  later,
  mediaOf,
  now,
  quiet,
  realmOf,
  redefine,
  replace,
  rootNodeOf,
} from '../../dom.ts'
import type { MorePage } from '../more-page.ts'
import type { Root } from './nodes.ts'
import type { Recorder } from './recorder.ts'
import { ruleText, wrote } from './rule-texts.ts'
import { adoptedNodes, fontRules, hasRules, placeOf, propertyRules, safeRules } from './sheets.ts'
import { changedSheet, versionOf } from './written-sheets.ts'

/** Rules come many at once: they are written down together, so soon. */
const SOON_MS = 30
/** A sheet that is written down as a whole is not written down again so soon. */
const REST_MS = 1000

type Owner = { prototype: object }
type Owners = Record<string, Owner | undefined>
/** Rules that set properties, besides those for elements. */
const STYLED = ['CSSKeyframeRule', 'CSSFontFaceRule', 'CSSNestedDeclarations', 'CSSPositionTryRule']
/** What rules for counters say. */
const COUNTS = [
  'system',
  'symbols',
  'additiveSymbols',
  'negative',
  'prefix',
  'suffix',
  'range',
  'pad',
  'fallback',
  'name',
]

/**
 * Style rules that a script adds, changes or takes away, which no change of the document tells of: the browser's functions
 * are watched, and sheets that belong to no element are looked at now and then.
 */
export class Styles {
  /** rules that came at the end of a sheet */
  readonly #added = new Map<Element, string[]>()
  /** sheets that have changed in another way */
  readonly #changed = new Set<Element>()
  /** the sheets of each root that belong to no element, as they were written down last */
  readonly #adopted = new WeakMap<Root, { sheets: CSSStyleSheet[]; versions: number[] }>()
  /** rules, and sheets with their media, that somebody has taken in hand, with what they said then */
  readonly #held = new Map<CSSRule | CSSStyleSheet, string>()
  /** a frame that goes elsewhere keeps its window, but not what belongs to it */
  readonly #watched = new WeakSet<object>()
  #madeWritten = ''
  #isWaiting = false
  #restUntilMs = 0

  constructor(
    private readonly recorder: Recorder,
    private readonly made: MorePage['made'],
  ) {
    this.#watch(window)
  }

  /** Follows what scripts do with the rules of a window: each frame has functions of its own for them. */
  #watch(realm: Realm): void {
    this.#watched.add(realm.Element)
    const note = quiet((sheet: CSSStyleSheet, index: number | null, text?: unknown) => {
      const owner = sheet.ownerNode as Element | null
      changedSheet(sheet)
      if (index !== null) wrote(sheet.cssRules[index]!, text)
      if (!owner) this.#soon()
      else if (index !== null && index === sheet.cssRules.length - 1 && !this.#changed.has(owner)) {
        const some = this.#added.get(owner) ?? []
        some.push(ruleText(sheet.cssRules[index]!, rootNodeOf(owner) as Document))
        this.#added.set(owner, some)
        this.#soon()
      } else this.#again(owner)
    })
    type Changer = (this: CSSStyleSheet & CSSRule, ...given: unknown[]) => unknown
    /** Calls through to the browser's function, and tells of the sheet that has changed. */
    const follow = (
      owner: object | undefined,
      names: string,
      changed: (self: CSSStyleSheet & CSSRule, result: unknown, given: unknown) => void,
    ) => {
      const prototype = owner as Record<string, Changer> | undefined
      const tell = quiet(changed)
      for (const name of names.split(' ')) {
        const original = prototype?.[name]
        if (!original) continue
        const watched: Changer = function (...given) {
          const result = original.apply(this, given)
          tell(this, result, given[0])
          return result
        }
        replace(prototype, name, watched)
      }
    }
    follow(realm.CSSStyleSheet.prototype, 'insertRule', (sheet, index, text) =>
      note(sheet, index as number, text),
    )
    follow(realm.CSSStyleSheet.prototype, 'deleteRule addRule removeRule replaceSync', (sheet) =>
      note(sheet, null),
    )
    follow(realm.CSSStyleSheet.prototype, 'replace', (sheet, done) =>
      (done as Promise<unknown>).then(
        () => note(sheet, null),
        () => undefined,
      ),
    )
    // Rules inside of others, such as those for narrow windows.
    for (const owner of [realm.CSSGroupingRule, realm.CSSStyleRule])
      follow(owner?.prototype, 'insertRule deleteRule', (rule, index, text) => {
        const { parentStyleSheet } = rule
        if (typeof index === 'number') wrote((rule as CSSStyleSheet).cssRules[index]!, text)
        if (parentStyleSheet) note(parentStyleSheet, null)
      })
    follow(realm.CSSKeyframesRule?.prototype, 'appendRule deleteRule', ({ parentStyleSheet }) => {
      if (parentStyleSheet) note(parentStyleSheet, null)
    })
    const hold = quiet((one: CSSRule | CSSStyleSheet) => {
      if (this.#held.has(one)) return
      this.#held.set(one, saysNow(one))
      this.#soon()
    })
    // What a rule sets is changed on the rule itself, and for what it holds on a list: who reads one may be about to.
    const holdFrom = (owner: object | undefined, name: string) => {
      const property = owner && Object.getOwnPropertyDescriptor(owner, name)
      if (!owner || !property?.get) return
      redefine(owner, name, {
        ...property,
        get(this: CSSRule | CSSStyleSheet) {
          hold(this)
          return property.get!.call(this) as unknown
        },
        ...(property.set && {
          set(this: CSSRule | CSSStyleSheet, value: unknown) {
            hold(this)
            property.set!.call(this, value)
          },
        }),
      })
    }
    for (const name of ['style', 'styleMap']) holdFrom(realm.CSSStyleRule.prototype, name)
    for (const name of STYLED) holdFrom((realm as unknown as Owners)[name]?.prototype, 'style')
    holdFrom(realm.CSSMediaRule?.prototype, 'media')
    holdFrom(realm.StyleSheet.prototype, 'media')
    const setting = (owner: Owner | undefined, name: string) =>
      afterSetting(owner?.prototype, name, ({ parentStyleSheet }: CSSRule) => {
        if (parentStyleSheet) note(parentStyleSheet, null)
      })
    setting(realm.CSSStyleRule, 'selectorText')
    setting(realm.CSSKeyframesRule, 'name')
    setting(realm.CSSKeyframeRule, 'keyText')
    for (const name of COUNTS) setting(realm.CSSCounterStyleRule, name)
    afterSetting(realm.StyleSheet.prototype, 'disabled', (sheet: CSSStyleSheet) => note(sheet, null))
    afterSetting(realm.HTMLStyleElement.prototype, 'disabled', ({ sheet }: HTMLStyleElement) => {
      if (sheet) note(sheet, null)
    })
  }

  /** The page has been written down anew: what came since, before this was there? */
  begun(): void {
    this.#madeWritten = ''
    for (const root of this.recorder.roots()) {
      for (const sheet of root.styleSheets)
        if (sheet.ownerNode && isReadable(sheet) && !hasRules(sheet)) this.#again(sheet.ownerNode as Element)
    }
  }

  /** Sheets that belong to no element: are they still those that were written down? */
  look(): void {
    if (this.recorder.roots().some((root) => !this.#isSame(root)) || this.#madeNow() !== this.#madeWritten)
      this.#soon()
  }

  #isSame(root: Root): boolean {
    const now = [...(root.adoptedStyleSheets ?? [])]
    const before = this.#adopted.get(root)
    if (!before) return !now.length
    return (
      now.length === before.sheets.length &&
      now.every((sheet, k) => before.sheets[k] === sheet && before.versions[k] === versionOf(sheet))
    )
  }

  /** A root has just been written down with its sheets. */
  met(root: Root): void {
    const realm = realmOf(root)
    if (realm && !this.#watched.has(realm.Element)) this.#watch(realm)
    const sheets = [...(root.adoptedStyleSheets ?? [])]
    this.#adopted.set(root, { sheets, versions: sheets.map(versionOf) })
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
        for (const [one, before] of this.#held) {
          const sheet = 'cssText' in one ? one.parentStyleSheet : one
          if (!sheet || saysNow(one) === before) continue
          changedSheet(sheet)
          if (sheet.ownerNode) this.#changed.add(sheet.ownerNode as Element)
        }
        this.#held.clear()
        for (const owner of this.#changed) {
          this.#added.delete(owner)
          if (isConnected(owner)) this.recorder.refresh(owner)
        }
        for (const [owner, rules] of this.#added) this.#addRules(owner, rules.join('\n'))
        this.#changed.clear()
        this.#added.clear()
        this.#writeAdopted()
      },
      Math.max(SOON_MS, this.#restUntilMs - now()),
    )
  }

  #addRules(owner: Element, rules: string): void {
    const id = this.recorder.idOf(owner)
    if (id) this.recorder.change({ add: [[id, 0, { id: this.recorder.number({}), text: safeRules(rules) }]] })
  }

  #writeAdopted(): void {
    const { recorder } = this
    for (const root of recorder.roots()) {
      if (this.#isSame(root)) continue
      const before = this.#adopted.get(root)
      const place = 'defaultView' in root ? headOf(root) : root
      const id = place && recorder.idOf(place)
      if (!id) continue
      const gone = before?.sheets.flatMap((sheet) => recorder.idOf(placeOf(root, sheet)) ?? []) ?? []
      const add = adoptedNodes(root, recorder.ids).map((node): [number, number, typeof node] => [id, 0, node])
      if (gone.length || add.length)
        recorder.change({ ...(gone.length && { gone }), ...(add.length && { add }) })
      this.met(root)
    }
    const made = this.#madeNow()
    const head = recorder.idOf(headOf(document)!)
    if (made === this.#madeWritten || !head) return
    this.#madeWritten = made
    const id = recorder.number(this.made.fonts)
    const text = fontRules(this.#usedFonts()) + propertyRules(this.made.properties.values())
    const node = { id, tag: 'style', c: [{ id: recorder.number({}), text }] }
    recorder.change({ gone: [id], add: [[head, 0, node]] })
  }

  /** Which of what scripts have made is in use; "" where nothing is. */
  #madeNow(): string {
    const used = [...this.made.fonts.keys()].map((font) => (document.fonts.has(font) ? 1 : 0))
    return used.includes(1) || this.made.properties.size
      ? `${used.join('')} ${this.made.properties.size}`
      : ''
  }

  #usedFonts(): [FontFace, string][] {
    return [...this.made.fonts]
      .filter(([font]) => document.fonts.has(font))
      .flatMap(([font, source]) => {
        const text = typeof source === 'string' ? source : textOfFont(source)
        return text ? [[font, text]] : []
      })
  }
}

/** The bytes of a font as what a rule would say of where it comes from. */
function textOfFont(source: BufferSource): string | undefined {
  const bytes = ArrayBuffer.isView(source)
    ? new Uint8Array(source.buffer, source.byteOffset, source.byteLength)
    : new Uint8Array(source)
  if (!bytes.length) return undefined
  let text = ''
  for (const byte of bytes) text += String.fromCharCode(byte)
  return `url("data:font/woff2;base64,${btoa(text)}")`
}

const saysNow = (one: CSSRule | CSSStyleSheet) => ('cssText' in one ? one.cssText : mediaOf(one).mediaText)

function isReadable(sheet: CSSStyleSheet): boolean {
  try {
    return sheet.cssRules.length >= 0
  } catch {
    return false
  }
}

/** Calls through to the browser's setter of a property, and tells of the object on which it was set. */
function afterSetting<T extends object>(
  prototype: object | undefined,
  name: string,
  changed: (self: T) => void,
): void {
  const property = prototype && Object.getOwnPropertyDescriptor(prototype, name)
  if (!prototype || !property?.set) return
  const tell = quiet(changed)
  redefine(prototype, name, {
    ...property,
    set(this: T, value: unknown) {
      property.set!.call(this, value)
      tell(this)
    },
  })
}
