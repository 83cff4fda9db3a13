import type { Effect } from '@dust-trail/core'
import type { Verdict } from '../../page.ts'
import { attributeOf, closestTo, later, localNameOf, matches, quiet } from '../../dom.ts'
import { listenAgain, on } from '../../listen.ts'
import { intended, targetOf } from '../../target.ts'
import { noteRemoved } from './above.ts'
import type { Between } from './compare.ts'
import { holds, sawChange } from './compare.ts'
import { Pointer, watchDrawings } from './drawings.ts'
import type { At, Looks } from './looks.ts'
import { lookAt } from './looks.ts'
import { leadsOutside, watchOutside } from './outside.ts'
import { elementOf, isTelling, OwnBeat } from './own-beat.ts'
import { isSealed, watchShadows } from '../shadows.ts'

/** How long after a click something must happen, or a request begin, for the click to have done something. */
const WAIT_MS = 1000
/** How long such a request may take to bring something, and how long after its answer that may be seen. */
const ANSWER_MS = 15_000
const AFTER_ANSWER_MS = 500
/** The page is looked at when it has changed: first after the next frames, then now and then. */
const FIRST_LOOK_MS = 50
const LOOK_EVERY_MS = 150
/** What the pointer was moved over changes by itself only where it does so later than this. */
const ANSWERS_POINTER_MS = 500
/** A look from longer ago says nothing about how the page was before a click. */
const FRESH_LOOK_MS = 3000

/** Text is written, chosen or marked in these: the browser itself shows that they were clicked. */
const NATIVE =
  'textarea,select,option,input:not([type=button],[type=submit],[type=reset],[type=image],[type=checkbox],[type=radio]),video[controls],audio[controls],[contenteditable=""],[contenteditable=true]'

/** States that a control has by its role: with a class or a mark of its own they tell that it was switched. */
const STATE = /^aria-(pressed|checked|selected|expanded)$/

interface Open {
  verdict: Verdict
  before: Looks
  /** where the pointer was; drawings are looked at more closely there */
  at: At
  /** what is ticked by it, as it was */
  box: Box | undefined
  between: Omit<Between, 'nowMs' | 'isLast' | 'blurred' | 'beat'> & {
    fresh: Set<Element>
    prompt: Set<Element>
    restyled: Set<Element>
    marked: Set<Element>
    arrived: Set<Element>
    focus: Element | null
  }
  sinceMs: number
  /** requests that began in its time and have not been answered */
  waiting: Set<object>
  /** the control's state by its role was changed, and one that its rules go by */
  isSwitched: boolean
  isMarked: boolean
  /** until when it is looked whether anything comes of it */
  untilMs: number
}

/**
 * Tells for each click what came of it that a person could see or hear: a change of the page, something outside of it, or
 * another page. What the page does by itself does not count.
 */
export class Effects {
  readonly #open = new Set<Open>()
  readonly #beat = new OwnBeat()
  readonly #observer: MutationObserver
  /** how the page was before what the visitor does now */
  #before: { looks: Looks; atMs: number; selection: string; top: number; box: Box | undefined } | undefined
  /** the task in which the visitor's click is handled is under way */
  #isPrompt = false
  #at: At
  /** changes between the pointer going down and the click, as of menus that open at once */
  #early: MutationRecord[] = []
  #isLooking = false
  /** something has changed, or may have, since the page was looked at last */
  #isTouched = true
  #scrolledByHandMs = -Infinity
  readonly #pointer = new Pointer()

  constructor() {
    this.#observer = new MutationObserver(quiet((records: MutationRecord[]) => this.#changed(records)))
    this.observe()
    watchShadows((root) => this.observe(root))
    watchDrawings(this.#pointer, this.#beat, () => this.#open.size > 0)
    watchOutside((effect) => this.happened(effect))
    this.#listen()
  }

  /** Hears of changes of the document, or of a shadow tree. */
  private observe(root: Node = document): void {
    this.#observer.observe(root, {
      ...{ subtree: true, childList: true, characterData: true },
      ...{ attributes: true, attributeOldValue: true },
    })
  }

  /** The document has begun anew: all who listened to it are gone. */
  again(): void {
    listenAgain()
    this.observe()
  }

  #listen(): void {
    // On the window, so that no listener of the page has run before.
    on(window, 'pointerdown', (event) => {
      this.#at = { x: event.clientX, y: event.clientY }
      this.#act(event, true)
    })
    for (const name of ['pointerup', 'mousedown', 'mouseup'] as const)
      on(window, name, (event) => this.#act(event, false))
    on(window, 'keydown', (event) => {
      if (event.key === 'Enter' || event.key === ' ') this.#act(event, true)
      else this.#interrupted()
    })
    const byHand = () => {
      this.#scrolledByHandMs = performance.now()
      this.#interrupted()
    }
    on(window, 'wheel', byHand)
    on(window, 'touchmove', byHand)
    on(document, 'scroll', (event) => {
      const now = performance.now()
      const pane = event.target instanceof Element ? event.target : document.documentElement
      // It is told late of a page that was scrolled before.
      if (event.target === document && scrollY === this.#before?.top) return
      if (!this.#open.size && this.#beat.isQuiet(now)) this.#beat.learnSign(pane, now)
      else if (now - this.#scrolledByHandMs > WAIT_MS && !this.#beat.isOwnSign(pane, now))
        this.happened('change')
    })
    for (const name of ['change', 'input', 'copy', 'fullscreenchange', 'play', 'pause'] as const)
      on(document, name as 'change', (event) => {
        // A box that is ticked may be put back at once by the page: of these the look counts.
        if (
          event.isTrusted &&
          !(event.target instanceof HTMLInputElement && /^(checkbox|radio)$/.test(event.target.type))
        )
          this.happened('change')
      })
    const touched = () => (this.#isTouched = true)
    for (const name of ['scroll', 'focusin', 'transitionend', 'animationend', 'toggle'] as const)
      on(document, name as 'scroll', touched)
    on(document, 'load', (event) => {
      touched()
      for (const { between } of this.#open) between.arrived.add(event.target as Element)
    })
    on(document, 'visibilitychange', () => document.hidden && this.happened('navigate'))
  }

  /** The visitor acts: how was the page before, and what changes at once. */
  #act(event: Event, begins: boolean): void {
    const now = performance.now()
    if (begins) {
      const target = targetOf(event)
      // What comes from now on may come of something else.
      for (const open of [...this.#open]) if (!target || !isSame(open, target)) this.#decide(open, now)
      this.#early = []
      this.#before = {
        ...{ looks: lookAt(this.#at), atMs: now, selection: selected(), top: scrollY },
        box: target && boxAt(target),
      }
    }
    this.#beat.input(now)
    if (this.#isPrompt) return
    this.#isPrompt = true
    rightAfter(() => (this.#isPrompt = false))
  }

  /** The visitor does something else: what is seen of earlier clicks has been seen. */
  #interrupted(): void {
    const now = performance.now()
    for (const open of [...this.#open]) if (!open.waiting.size) this.#decide(open, now)
    this.#beat.input(now)
  }

  /** Calls back once, with what came of a click or of sending a form that happens now. */
  after(event: Event, verdict: Verdict): void {
    try {
      this.#begin(event, verdict)
    } catch {
      // The click is told all the same, once.
      for (const open of this.#open) if (open.verdict === verdict) this.#open.delete(open)
      verdict(undefined)
    }
  }

  #begin(event: Event, verdict: Verdict): void {
    const now = performance.now()
    const hit = targetOf(event)!
    this.#act(event, !this.#before || now - this.#before.atMs > FRESH_LOOK_MS)
    const { looks, selection, box } = this.#before!
    const control = intended(hit).element
    const open: Open = {
      ...{ verdict, before: looks, at: this.#at, box },
      between: {
        ...{ hit, control, fresh: new Set(), prompt: new Set(), restyled: new Set() },
        ...{ marked: new Set(), arrived: new Set(), ownChange: false, focus: document.activeElement },
      },
      sinceMs: now,
      waiting: new Set(),
      isSwitched: false,
      isMarked: false,
      untilMs: now + WAIT_MS,
    }
    this.#open.add(open)
    this.#isTouched = true
    this.#credit(open, stillThere(this.#early), now)
    this.#takeRecords()
    const chosen = selected()
    if ((chosen && chosen !== selection) || isNative(hit)) this.#close(open, 'change')
    // Only when the page has had its say is it known whether a link leads on.
    else later(() => this.#handled(open, event))
    this.#lookLater(FIRST_LOOK_MS)
  }

  #handled(open: Open, event: Event): void {
    const { hit, control } = open.between
    const link = closestTo(hit, 'a[href],area[href]') ?? closestTo(control, 'a[href],area[href]')
    if (event.type === 'click' && !event.defaultPrevented && link && leadsOutside(link))
      this.#close(open, 'navigate')
    else if (event.type === 'submit' && !event.defaultPrevented) this.#close(open, 'navigate')
  }

  /** Something happened that is known to be seen or heard: it answers all clicks that are open. */
  happened(effect: 'change' | 'navigate'): void {
    for (const open of [...this.#open]) this.#close(open, effect)
  }

  /** A request begins. @returns what tells that it has ended */
  request(path: string): () => void {
    const now = performance.now()
    const own = this.#beat.isOwnSign(path, now)
    if (!this.#open.size && this.#beat.isQuiet(now)) this.#beat.learnSign(path, now)
    const request = {}
    if (!own)
      for (const { waiting, sinceMs } of this.#open) if (now - sinceMs <= WAIT_MS) waiting.add(request)
    return () => {
      for (const open of this.#open)
        if (open.waiting.delete(request))
          open.untilMs = Math.max(open.untilMs, performance.now() + AFTER_ANSWER_MS)
      if (this.#open.size) this.#lookLater(FIRST_LOOK_MS)
    }
  }

  #takeRecords(): void {
    const records = this.#observer.takeRecords()
    if (records.length) this.#changed(records)
  }

  #changed(records: MutationRecord[]): void {
    const now = performance.now()
    this.#isTouched = true
    records.forEach(noteRemoved)
    if (!this.#open.size) {
      if (this.#beat.isQuiet(now)) this.#beat.learn(this.#notOfPointer(records, now), now)
      else {
        if (this.#isPrompt) this.#early.push(...records)
        this.#beat.goOn(records, now)
      }
      return
    }
    for (const open of this.#open) this.#credit(open, records, now)
    this.#beat.goOn(records, now)
    this.#lookLater(FIRST_LOOK_MS)
  }

  /** Changes without those of what the pointer has just come over or left: they may answer to it. */
  #notOfPointer(records: readonly MutationRecord[], now: number): readonly MutationRecord[] {
    const { over, movedMs } = this.#pointer
    if (!over || now - movedMs > ANSWERS_POINTER_MS) return records
    return records.filter(({ target }) => {
      const element = elementOf(target)
      return !element || !(holds(element, over) || holds(over, element))
    })
  }

  #credit(open: Open, records: readonly MutationRecord[], now: number): void {
    const { between } = open
    const kept = new Set(stillThere(records))
    for (const record of records) {
      const element = elementOf(record.target)
      if (!element) continue
      if (element === between.control && STATE.test(record.attributeName ?? '')) open.isSwitched = true
      if (this.#isPrompt && !this.#beat.isFast(element, now)) {
        if (!isTelling(record)) continue
        between.prompt.add(element)
      } else if (this.#beat.has(element, now)) {
        between.ownChange = true
        continue
      } else if (!isTelling(record)) continue
      between.fresh.add(element)
      if (record.type === 'attributes' && kept.has(record)) between.marked.add(element)
      if (element === between.control && /^data-/.test(record.attributeName ?? '')) open.isMarked = true
      if (/^(class|style)$/.test(record.attributeName ?? '')) between.restyled.add(element)
    }
  }

  #lookLater(ms: number): void {
    if (this.#isLooking) return
    this.#isLooking = true
    later(() => {
      this.#isLooking = false
      this.#lookNow()
    }, ms)
  }

  #lookNow(): void {
    const now = performance.now()
    if (!this.#open.size) return
    const isTouched = this.#isTouched
    this.#isTouched = false
    for (const open of [...this.#open])
      try {
        // Looking takes time: where nothing was heard of, the last look is enough. Drawings tell nobody.
        if (isTouched || now >= open.untilMs || document.getElementsByTagName('canvas').length)
          this.#lookFor(open, now)
      } catch {
        this.#close(open, undefined)
      }
    if (this.#open.size) this.#lookLater(LOOK_EVERY_MS)
  }

  #lookFor(open: Open, now: number): void {
    const looks = lookAt(open.at)
    if (this.#sees(open, looks, now)) this.#close(open, 'change')
    else if (now >= open.untilMs && (!open.waiting.size || now - open.sinceMs > ANSWER_MS))
      this.#conclude(open, looks)
  }

  #sees({ before, between, box, isSwitched, isMarked, untilMs }: Open, looks: Looks, nowMs: number): boolean {
    if (box && isTicked(box.field) !== box.was) return true
    // What is shown under the pointer may hide that it was switched.
    if (isSwitched && (isMarked || between.restyled.has(between.control))) return true
    const { focus } = looks
    // The focus went on to a field, or to something that was not clicked.
    if (focus && focus !== before.focus && isNative(focus)) return true
    return sawChange(before, looks, {
      ...between,
      nowMs,
      blurred: before.focus,
      isLast: nowMs >= untilMs,
      beat: this.#beat,
    })
  }

  #decide(open: Open, now: number): void {
    this.#takeRecords()
    const { before, between } = open
    // Where nothing was touched nothing need be looked at.
    const isTouched = between.fresh.size > 0 || between.ownChange || document.activeElement !== between.focus
    const looks = isTouched ? lookAt(open.at) : before
    if (isTouched && this.#sees(open, looks, now)) this.#close(open, 'change')
    else this.#conclude(open, looks)
  }

  /** Nothing was seen. */
  #conclude(open: Open, looks: Looks): void {
    const { hit, fresh } = open.between
    const hidden =
      isSealed(hit, localNameOf(hit)) || looks.unreadable.has(hit) || matches(hit, 'embed,object,iframe')
    const missed = fresh.size > 0 && !(looks.whole && open.before.whole)
    this.#close(open, hidden || missed ? undefined : 'none')
  }

  #close(open: Open, effect: Effect | undefined): void {
    if (this.#open.delete(open)) open.verdict(effect)
  }
}

/**
 * Does something as the very next task. A timer would run after those of the page that are overdue, where the page was busy:
 * a clock's would be taken to be of the click. Browsers without such tasks get a timer.
 */
function rightAfter(work: () => void): void {
  try {
    void window.scheduler.postTask(quiet(work), { priority: 'user-blocking' })
  } catch {
    later(work)
  }
}

function isSame({ between }: Open, target: Element): boolean {
  return between.hit === target || between.control === intended(target).element
}

/** Changes without those that were put back: what is set while a control is held down tells of the press alone. */
function stillThere(records: readonly MutationRecord[]): MutationRecord[] {
  const first = new Map<Node, Map<string, string | null>>()
  for (const { type, target, attributeName, oldValue } of records) {
    if (type !== 'attributes') continue
    const own = first.get(target) ?? new Map<string, string | null>()
    if (!own.has(attributeName!)) own.set(attributeName!, oldValue)
    first.set(target, own)
  }
  return records.filter(
    ({ type, target, attributeName }) =>
      type !== 'attributes' ||
      told(attributeName!, attributeOf(target as Element, attributeName!)) !==
        told(attributeName!, first.get(target)!.get(attributeName!)!),
  )
}

/** An empty class or style says as little as none. */
const told = (name: string, value: string | null) => (/^(class|style)$/.test(name) ? (value ?? '') : value)

/** A box that a click may tick: it is often hidden, and what is seen of it is drawn by rules. */
interface Box {
  field: HTMLInputElement
  was: string
}

function boxAt(target: Element): Box | undefined {
  const label = closestTo(target, 'label')
  const field = label instanceof HTMLLabelElement ? label.control : target
  if (!(field instanceof HTMLInputElement) || !/^(checkbox|radio)$/.test(field.type)) return undefined
  return { field, was: isTicked(field) }
}

const isTicked = ({ checked, indeterminate }: HTMLInputElement) => `${checked} ${indeterminate}`

function isNative(element: Element): boolean {
  const field = closestTo(element, NATIVE)
  return !!field && !matches(field, ':disabled')
}

function selected(): string {
  const selection = getSelection()
  return selection && !selection.isCollapsed ? selection.toString().slice(0, 200) : ''
}
