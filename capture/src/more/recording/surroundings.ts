import type { Realm } from '../../dom.ts'
import { aroundOf, closestAround, later, localNameOf, quiet, realmOf, rootNodeOf, rootOf } from '../../dom.ts'
import { on } from '../../listen.ts'
import { targetOf } from '../../target.ts'
import type { MorePage } from '../more-page.ts'
import { watchShadows, watchShadowsIn } from '../shadows.ts'
import { watchAnimations } from './animations.ts'
import { drawingValues } from './drawings.ts'
import { DrawnNumbers } from './drawn-numbers.ts'
import { HeldRules } from './held-rules.ts'
import { highlightsNow } from './highlights.ts'
import type { Root } from './nodes.ts'
import { Pictures } from './pictures.ts'
import { privacy } from './privacy.ts'
import type { Recorder, Watcher } from './recorder.ts'
import { isNumber, layerOf, pageIn } from './serialise.ts'
import { is } from './state.ts'
import { bringSymbols } from './symbols.ts'
import { Stills } from './stills.ts'
import type { Styles } from './styles.ts'
import { watchSlots } from './watch-slots.ts'
import { fetchSheet } from './written-sheets.ts'

const SCROLL_MS = 60
/** So often is looked what no event tells of. */
const LOOK_MS = 1000
const SOON_MS = 100
const SELECTION_MS = 200
const ROOMS = 'iframe,video,object,embed,select,input[type=number],[data-trail-block]'

/** What a recording needs besides the tree: how controls stand, what has the focus, how far panes are scrolled, sizes, pictures. */
export class Surroundings implements Watcher {
  readonly #met = new WeakSet<Root>()
  readonly #panes = new Set<EventTarget>()
  readonly #rooms: ResizeObserver
  readonly #awaited = new Set<string>()
  readonly #pictures: Pictures
  readonly #stills: Stills
  readonly #numbers: DrawnNumbers
  readonly #heldRules: HeldRules
  readonly #watchAnimations: (realm: Realm) => void
  /** known by their elements: a frame that goes elsewhere keeps its window */
  readonly #realms = new WeakSet<object>()
  #target: Element | null = null
  #isSelected = false
  #highlights = ''
  #isLooking = false
  #isStanding = false

  constructor(
    private readonly recorder: Recorder,
    private readonly page: MorePage,
    private readonly styles: Styles,
  ) {
    this.#pictures = new Pictures(recorder, page.drawings)
    this.#stills = new Stills(recorder)
    this.#numbers = new DrawnNumbers(recorder)
    this.#heldRules = new HeldRules(recorder)
    this.#rooms = new ResizeObserver(
      quiet((entries: ResizeObserverEntry[]) => {
        for (const { target } of entries) recorder.room(target)
      }),
    )
    watchShadows((root) => recorder.shadow(root))
    this.#watchAnimations = watchAnimations(recorder)
    watchSlots(recorder)
    // A page that has become too wide is shown smaller, and the window says nothing.
    window.visualViewport?.addEventListener(
      'resize',
      quiet(() => recorder.viewport()),
    )
    for (const name of ['input', 'change', 'reset', 'click', 'keyup'] as const)
      on(document, name, () => this.#stand())
    on(document, 'focusin', (event) => this.#focus(event, true))
    on(document, 'focusout', (event) => this.#focus(event, false))
    let waiting = false
    on(document, 'selectionchange', () => {
      if (waiting) return
      waiting = true
      later(() => {
        waiting = false
        this.#select()
      }, SELECTION_MS)
    })
    on(document, 'fullscreenchange', ({ target }) => {
      const element = target === document ? document.fullscreenElement : (target as Element)
      if (element) recorder.tell(element, 'layer', is(element, ':fullscreen') ? 'fullscreen' : null)
    })
    setInterval(
      quiet(() => {
        if (!document.hidden) this.#glance()
      }),
      LOOK_MS,
    )
    on(window, 'hashchange', () => this.#aim())
    on(window, 'popstate', () => this.#aim())
  }

  met(root: Root): void {
    if (this.#met.has(root)) return
    this.#met.add(root)
    const { recorder } = this
    const listen = (name: string, hear: (event: Event) => void) =>
      root.addEventListener(name, quiet(hear), { capture: true, passive: true })
    listen('scroll', ({ target }) => this.#scroll(target))
    // An animation inside of a drawing has come to its end.
    listen('endEvent', ({ target }) => {
      const drawing = target && aroundOf(target as Element)
      const id = drawing && recorder.idOf(drawing)
      if (id)
        recorder.change({
          attr: Object.entries(drawingValues(drawing)).map(([name, value]) => [id, name, value]),
        })
    })
    // It goes no further than the tree that something popped up in.
    listen('toggle', ({ target }) => {
      if (target) recorder.tell(target as Element, 'layer', layerOf(target as Element))
    })
    listen('load', ({ target }) => this.#loaded(target as Element | null))
    if (root !== document) listen('change', () => this.#stand())
    if ((root as ShadowRoot).mode === 'closed') this.page.treeIn(root as ShadowRoot)
    if (root === document || root.nodeType !== Node.DOCUMENT_NODE) return
    // A page in a frame: what happens in it does not reach the outer one.
    const realm = realmOf(root)
    if (realm && !this.#realms.has(realm.Element)) {
      this.#realms.add(realm.Element)
      watchShadowsIn(realm)
      this.#watchAnimations(realm)
    }
    for (const name of ['input', 'reset', 'click', 'keyup']) listen(name, () => this.#stand())
    listen('focusin', (event) => this.#focus(event, true))
    listen('focusout', (event) => this.#focus(event, false))
    this.page.pageIn(root as Document)
  }

  begun(): void {
    this.#target = null
    this.#isSelected = false
    this.#highlights = ''
    const active = deepActive(document)
    if (active && active !== document.body) this.#tellFocus(active, true)
    this.#aim()
    this.#look()
  }

  changed(): void {
    if (this.#isLooking) return
    this.#isLooking = true
    later(() => this.#look(), LOOK_MS / 2)
  }

  /** Somebody does something: how do controls stand then? */
  #stand(): void {
    if (this.#isStanding) return
    this.#isStanding = true
    later(() => {
      this.#isStanding = false
      this.recorder.states()
    }, SOON_MS)
  }

  /** Looks for what has come, and how things stand. */
  #look(): void {
    this.#isLooking = false
    const { recorder } = this
    this.#glance()
    this.#heldRules.look(recorder.roots())
    for (const root of recorder.roots()) {
      for (const element of root.querySelectorAll(ROOMS))
        if (localNameOf(element) !== 'input' || isNumber(element)) this.#rooms.observe(element)
      for (const element of root.querySelectorAll(':not(:defined)')) this.#await(localNameOf(element))
      for (const sheet of root.styleSheets) this.#fetch(sheet)
      for (const frame of root.querySelectorAll('iframe')) recorder.frame(frame)
      for (const image of root.querySelectorAll<HTMLImageElement>('img[srcset],picture>img'))
        if (image.complete) this.#pictures.loaded(image)
      bringSymbols(root, recorder)
    }
  }

  /** What scripts set without a change of the document. */
  #glance(): void {
    const { recorder } = this
    recorder.states()
    this.styles.look()
    this.#numbers.look()
    const highlights = highlightsNow((node) => recorder.idOf(node))
    if (highlights !== this.#highlights)
      recorder.tell(rootOf(document)!, 'highlights', (this.#highlights = highlights) || null)
    if (this.page.drawings) for (const root of recorder.roots()) this.#stills.look(root)
  }

  #scroll(target: EventTarget | null): void {
    if (!target) return
    if (!this.#panes.size)
      later(() => {
        for (const pane of this.#panes) this.recorder.scroll(pane)
        this.#panes.clear()
      }, SCROLL_MS)
    this.#panes.add(target)
  }

  #loaded(target: Element | null): void {
    if (!target || target.nodeType !== Node.ELEMENT_NODE) return
    const tag = localNameOf(target)
    // Of a style, too: what it imports is there.
    if (tag === 'link' || (tag === 'style' && hasImports(target as HTMLStyleElement)))
      this.recorder.refresh(target)
    else if (tag === 'iframe') {
      if (pageIn(target as HTMLIFrameElement)) this.recorder.frame(target as HTMLIFrameElement)
    } else if (tag === 'img') this.#pictures.loaded(target as HTMLImageElement)
  }

  #await(name: string): void {
    if (this.#awaited.has(name)) return
    this.#awaited.add(name)
    customElements
      .whenDefined(name)
      .then(() => {
        for (const root of this.recorder.roots())
          for (const element of root.querySelectorAll(name.replaceAll(/[^\w-]/g, String.raw`\$&`)))
            this.recorder.tell(element, 'undefined', null)
      })
      .catch(() => undefined)
  }

  #fetch(sheet: CSSStyleSheet): void {
    const { ownerNode } = sheet
    void fetchSheet(sheet).then(
      quiet((isNew: boolean) => {
        if (isNew && ownerNode) this.recorder.refresh(ownerNode as Element)
      }),
    )
  }

  #focus(event: Event, isFocused: boolean): void {
    const target = targetOf(event)
    if (target) this.#tellFocus(target, isFocused)
  }

  #tellFocus(element: Element, isFocused: boolean): void {
    // Where the focus is among choices would tell which was made.
    if (privacy.choiceOf(element) || closestAround(element, '[data-trail-mask],[data-trail-block]')) return
    let at: Element | undefined = element
    while (at) {
      this.recorder.tell(at, 'focus', isFocused ? (is(at, ':focus-visible') ? 'visible' : '') : null)
      // What hands the focus on to something inside of it has it, too.
      const { delegatesFocus, host } = rootNodeOf(at) as Partial<ShadowRoot>
      at = delegatesFocus ? host : undefined
    }
  }

  /** What the address points at. */
  #aim(): void {
    const target = document.querySelector(':target')
    if (target === this.#target) return
    if (this.#target) this.recorder.tell(this.#target, 'target', null)
    if (target) this.recorder.tell(target, 'target', '')
    this.#target = target
  }

  #select(): void {
    const { recorder } = this
    const html = rootOf(document)!
    const selection = document.getSelection()
    const from = selection?.anchorNode
    const to = selection?.focusNode
    const ids = [from, to].map((node) => node && recorder.idOf(node))
    const isKept = selection && !selection.isCollapsed && ids.every(Boolean)
    if (!isKept && !this.#isSelected) return
    this.#isSelected = !!isKept
    recorder.tell(
      html,
      'selection',
      isKept ? `${ids[0]}:${selection.anchorOffset}:${ids[1]}:${selection.focusOffset}` : null,
    )
  }
}

/** Whether what a sheet says lies in others, too. */
function hasImports({ sheet }: HTMLStyleElement): boolean {
  return sheet?.cssRules[0]?.type === CSSRule.IMPORT_RULE || sheet?.cssRules[1]?.type === CSSRule.IMPORT_RULE
}

/** What has the focus, in shadow trees too. */
function deepActive(root: Root): Element | null {
  const { activeElement } = root
  return (activeElement?.shadowRoot && deepActive(activeElement.shadowRoot)) ?? activeElement
}
