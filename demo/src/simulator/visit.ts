import type { Device, Effect, Kind, Line, RecordItem } from '@dust-trail/core'
import type { Layouts, MeasuredElement, MeasuredPage } from '../layout.ts'
import { VIEWPORTS } from '../layout.ts'
import type { Dice } from './chance.ts'
import type { Point } from './motion.ts'
import { fittsMs, reach } from './motion.ts'
import type { Arrival, Visitor } from './population.ts'
import type { DecoyName, FaultName } from './scenario.ts'

export interface SimulatedDocument {
  document: string
  startMs: number
  /** key into the layouts */
  layout: string
  items: RecordItem[]
}

/** What somebody did that is worth money. */
export interface Conversion {
  kind: 'night' | 'hire' | 'membership' | 'letter'
  /** in the site's currency */
  value: number
}

export interface SimulatedSession {
  visitor: string
  lines: Line[]
  documents: SimulatedDocument[]
  /** faults and decoys that the visitor ran into; never leaves the simulator */
  met: (FaultName | DecoyName)[]
  converted: Conversion | null
}

/** What the capture script tells of when it comes into view: see capture/src/seen.ts. */
const WORTH_SEEING = /^(button|input|select|textarea|h[123])$/
/** So many on one view of a page. */
const MOST_SEEN = 150

const worthSeeing = new WeakMap<readonly MeasuredElement[], MeasuredElement[]>()

/** Calls to action, fields and headings of a page, as it lies. */
function worthSeeingOf(elements: readonly MeasuredElement[]): MeasuredElement[] {
  let own = worthSeeing.get(elements)
  if (!own) {
    own = elements
      .filter(
        ({ tag, selector }) => WORTH_SEEING.test(tag) || (tag === 'a' && /\.button[^>]*$/.test(selector)),
      )
      .slice(0, MOST_SEEN)
    worthSeeing.set(elements, own)
  }
  return own
}

const LONGEST_AWAY_MS = 25 * 60_000
const ORIGIN = 'http://127.0.0.1:4181'
/** As in the capture script: see capture/src/more/rests.ts. */
const LEAST_REST_MS = 1000
const LONGEST_REST_MS = 30_000
const RESTS = 3
/**
 * Words a minute of silent reading. @see Brysbaert (2019), J. Mem. Lang. 109:104047 (238 for non-fiction; written down from
 * memory)
 */
const WORDS_PER_MINUTE = 238

/** Thrown where a visitor leaves in the middle of something. */
export class Left extends Error {}

/**
 * One session as it unfolds: hands and eyes of a visitor on the measured pages. Writes what the capture script would
 * send: the lines, and the recording.
 */
export class Visit {
  readonly lines: Line[] = []
  readonly documents: SimulatedDocument[] = []
  readonly met = new Set<FaultName | DecoyName>()
  /** of the page that is open, without query */
  path = ''
  #page!: MeasuredPage
  #elements: readonly MeasuredElement[] = []
  #height = 0
  #document!: SimulatedDocument
  #top = 0
  #deepest = 0
  #pointer: Point
  /** since when the pointer is where it is, and where it rested longest on this view */
  #stillSinceMs = 0
  #rests: Pick<Line, 't' | 'target' | 'x' | 'y' | 'rx' | 'ry' | 'ms'>[] = []
  #shownSinceMs = 0
  /** on this view, by their numbers in the snapshot */
  #seen = new Set<number>()
  #serial = 0
  #stayedMs = 0

  constructor(
    private readonly layouts: Layouts,
    readonly visitor: Visitor,
    private readonly sessionKey: string,
    readonly dice: Dice,
    public nowMs: number,
    private readonly arrival: Arrival,
    private readonly returning: boolean,
    /** false leaves the recording away; everything else stays as it is */
    private readonly recorded = true,
    /** how long they stay at most, time away not counted */
    private readonly staysMs = Infinity,
  ) {
    const { width, height } = this.#viewport
    this.#pointer = { x: width / 2, y: height / 2 }
  }

  get #viewport() {
    return VIEWPORTS[this.visitor.device]
  }

  /**
   * Opens a page: a new document.
   *
   * @param address  path; with a query where one address shows several pages
   */
  open(address: string, how: { loadMs?: number; results?: number } = {}): void {
    if (this.path) this.leave()
    const first = this.path === ''
    const layout = `${this.visitor.device} ${address}`
    const page = this.layouts.pages[layout]
    if (!page) throw new RangeError(`the layouts have no page "${layout}"`)
    const [path, asked] = address.split('?') as [string, string?]
    this.path = path
    this.#page = page
    this.#elements = page.elements
    this.#height = page.height
    this.#top = 0
    this.#deepest = 0
    this.#rests = []
    this.#stillSinceMs = Infinity
    const loadMs =
      this.dice.time('load', this.visitor.device === 'mobile' ? 900 : 480, 0.4) + (how.loadMs ?? 0)
    this.#document = {
      document: `${this.sessionKey}-${this.documents.length}`.padEnd(8, '0'),
      startMs: this.nowMs,
      layout,
      items: [],
    }
    this.documents.push(this.#document)
    this.#shownSinceMs = this.nowMs
    // Of what is asked for only the name leaves the page, as in the capture script.
    const query =
      first && this.arrival.campaign
        ? `?${new URLSearchParams(this.arrival.campaign).toString()}`
        : asked?.startsWith('q=')
          ? '?q='
          : ''
    this.#line('page', {
      url: `${ORIGIN}${path}${query}`,
      title: page.snapshot.title,
      navigation: 'navigate',
      status: page.snapshot.title.startsWith('Not found') ? 404 : 200,
      load: loadMs,
      height: page.height,
      device: this.#device(),
      country: this.visitor.country,
      ...(how.results !== undefined && { results: how.results }),
      ...(first && this.arrival.referrer && { referrer: this.arrival.referrer }),
      ...(!first && { referrer: `${ORIGIN}/` }),
      ...(this.returning && { returning: true }),
    })
    this.#scrolled()
    this.#seen = new Set()
    this.wait(loadMs)
    this.#look()
  }

  wait(ms: number): void {
    this.nowMs += Math.max(0, Math.round(ms))
    this.#stayedMs += Math.max(0, ms)
    if (this.#stayedMs > this.staysMs) throw new Left()
  }

  /**
   * Reads some of the page from where it stands, scrolling down; how long follows how much text there is.
   *
   * @param share  of the page that is looked at
   * @param pace   1 reads every word, 0.2 skims
   */
  read(share: number, pace: number): void {
    const { height } = this.#viewport
    const wanted = Math.max(0.05, share)
    const steps = Math.max(1, Math.round((wanted * this.#height) / (height * 0.6)))
    const ms = (wanted * this.#page.words * pace * 60_000) / WORDS_PER_MINUTE
    for (let i = 0; i < steps; i++) {
      this.wait(this.dice.time('read', Math.max(350, ms / steps), 0.6))
      this.#wander()
      if (i + 1 < steps) this.scrollTo(this.#top + height * (0.4 + 0.4 * this.dice.roll('scroll')))
    }
  }

  scrollTo(top: number): void {
    const goal = Math.round(Math.max(0, Math.min(top, this.#height - this.#viewport.height)))
    const from = this.#top
    if (Math.abs(goal - from) < 4) return
    this.#rested()
    this.#stillSinceMs = Infinity
    const steps = 5
    for (let i = 1; i <= steps; i++) {
      this.wait(70)
      const y = Math.round(from + (goal - from) * Math.sin(((i / steps) * Math.PI) / 2))
      this.#item({ k: 'scroll', id: 0, x: 0, y })
    }
    this.#top = goal
    this.#scrolled()
    this.#look()
  }

  /** An element of the page. @throws RangeError where the page has none: the layouts are stale */
  element(selector: string | ((element: MeasuredElement) => boolean), nth = 0): MeasuredElement {
    const test =
      typeof selector === 'string' ? (element: MeasuredElement) => element.selector === selector : selector
    const found = this.#elements.filter(test)[nth]
    if (!found) throw new RangeError(`no such element on ${this.path}: ${String(selector)}`)
    return found
  }

  /** The elements of the page that pass, in its order. */
  all(test: (element: MeasuredElement) => boolean): MeasuredElement[] {
    return this.#elements.filter(test)
  }

  /** The first link to an address. @throws RangeError where the page has none */
  link(href: string): MeasuredElement {
    return this.element((element) => element.href === href)
  }

  /** True where the element is on screen without scrolling. */
  inView(element: MeasuredElement): boolean {
    return element.y + element.h <= this.#top + this.#viewport.height && element.y >= this.#top
  }

  /** Brings the element on screen and moves the hand onto it; returns where in it, as shares. */
  aim(element: MeasuredElement): { rx: number; ry: number } {
    const { height } = this.#viewport
    if (element.y < this.#top + 20 || element.y + element.h > this.#top + height - 20)
      this.scrollTo(element.y - height * (0.3 + 0.3 * this.dice.roll('place')))
    const spread = (decision: string) =>
      Math.min(0.95, Math.max(0.05, 0.5 + 0.16 * this.dice.normal(decision)))
    const at = { rx: spread('aim-x'), ry: spread('aim-y') }
    this.#moveTo({ x: element.x + at.rx * element.w, y: element.y + at.ry * element.h - this.#top }, element)
    return at
  }

  /** Clicks where the hand is: on an element, with what came of it. */
  click(element: MeasuredElement, at: { rx: number; ry: number }, effect: Effect): void {
    const rx = Math.round(at.rx * 1000) / 1000
    const ry = Math.round(at.ry * 1000) / 1000
    const x = Math.round(element.x + rx * element.w)
    const y = Math.round(element.y + ry * element.h)
    this.#item({
      k: 'click',
      id: element.id,
      x,
      y: Math.round(y - this.#top),
      ...(this.visitor.device !== 'desktop' && { touch: true as const }),
    })
    this.#line('click', { target: targetOf(element), x, y, rx, ry, effect })
  }

  /** Aims at an element and clicks it. */
  press(element: MeasuredElement, effect: Effect): void {
    this.click(element, this.aim(element), effect)
    this.wait(this.dice.time('after-click', 180, 0.3))
  }

  /**
   * Plays a change of the page that was measured: what the page does when one does this to it.
   *
   * @param texts  what stands there instead of what stood there while it was measured, in the order of the change
   */
  play(move: string, texts?: readonly string[]): void {
    const measured = this.#page.moves[move]
    if (!measured) throw new RangeError(`${this.#document.layout} was not measured with "${move}"`)
    for (const item of this.recorded ? measured.items : []) {
      const recorded = item.k === 'change' && texts ? { ...item, text: renamed(item.text, texts) } : item
      this.#document.items.push({ ...recorded, at: this.#at() })
    }
    if (measured.elements) this.#elements = measured.elements
    if (measured.height) this.#height = measured.height
    if (measured.elements) this.#look()
  }

  /** Changes an attribute of an element, as the page's script does. */
  change(element: MeasuredElement, attribute: string, value: string): void {
    this.#item({ k: 'change', attr: [[element.id, attribute, value]] })
  }

  /** What the site itself reports, and errors of its scripts. */
  report(kind: 'action' | 'variant' | 'error', more: Partial<Line>): void {
    this.#line(kind, more)
  }

  /** Fills in a field; how long it takes follows how much there is to type. */
  type(selector: string, length: number, corrections: number): void {
    const element = this.element(selector)
    this.press(element, 'change')
    const startMs = this.nowMs
    for (let typed = 1; typed <= length; typed++) {
      this.wait(this.dice.time('key', this.visitor.device === 'mobile' ? 240 : 160, 0.35))
      if (typed % 2 === 0 || typed === length) this.#item({ k: 'input', id: element.id, length: typed })
    }
    this.wait(corrections * 900)
    this.#line('input', {
      target: targetOf(element),
      label: element.text,
      length,
      corrections,
      ms: this.nowMs - startMs,
    })
    this.wait(this.dice.time('next-field', 500, 0.4))
  }

  submit(formSelector: string, button: MeasuredElement, more: Partial<Line> = {}): void {
    const form = this.element(formSelector)
    this.#line('submit', { target: targetOf(form), button: button.selector, ...more })
  }

  /** Looks at something else for a while; never so long that the session would end over it. */
  away(ms: number): void {
    this.#item({ k: 'hide' })
    this.#line('hide', {})
    this.nowMs += Math.round(Math.min(ms, LONGEST_AWAY_MS))
    this.#item({ k: 'show' })
    this.#line('show', {})
  }

  leave(loaded = true): void {
    this.#rested()
    for (const rest of this.#rests.sort((a, b) => a.t - b.t)) this.#line('rest', rest)
    this.#rests = []
    this.#line('leave', { ms: this.nowMs - this.#shownSinceMs, ...(!loaded && { loaded }) })
  }

  /** The pointer moves on, or what lies beneath it does: where it rested for a second or more is kept, the longest few. */
  #rested(): void {
    const ms = Math.min(LONGEST_REST_MS, Math.round(this.nowMs - this.#stillSinceMs))
    if (this.visitor.device !== 'desktop' || ms < LEAST_REST_MS) return
    const { x, y: inWindow } = this.#pointer
    const y = inWindow + this.#top
    const element = this.#elements
      .filter((one) => x >= one.x && x < one.x + one.w && y >= one.y && y < one.y + one.h)
      .sort((a, b) => a.w * a.h - b.w * b.h)[0]
    if (!element) return
    const share = (offset: number, size: number) => Math.round((offset / size) * 1000) / 1000
    this.#rests.push({
      ...{ t: Math.round(this.#stillSinceMs), ms, target: targetOf(element) },
      ...{ x: Math.round(x), y: Math.round(y) },
      ...{ rx: share(x - element.x, element.w), ry: share(y - element.y, element.h) },
    })
    this.#rests = this.#rests.sort((a, b) => b.ms! - a.ms!).slice(0, RESTS)
  }

  #moveTo(to: Point, target: MeasuredElement): void {
    this.#rested()
    const distance = Math.hypot(to.x - this.#pointer.x, to.y - this.#pointer.y)
    const ms =
      fittsMs(distance, Math.min(target.w, target.h)) * (1 + 0.15 * Math.abs(this.dice.normal('speed')))
    if (this.recorded && this.visitor.device === 'desktop') {
      const bow = 0.08 * this.dice.normal('bow')
      const samples = reach(this.#pointer, to, this.#at(), ms, bow)
      for (let i = 0; i < samples.length; i += 12) {
        const p = samples.slice(i, i + 12)
        this.#document.items.push({ at: p[0]![0], k: 'move', p })
      }
    }
    this.wait(ms)
    this.#pointer = to
    this.#stillSinceMs = this.nowMs
  }

  /** The hand follows the eye a little while somebody reads. */
  #wander(): void {
    if (this.visitor.device !== 'desktop' || !this.dice.chance('wander', 0.7)) return
    this.#rested()
    const { width, height } = this.#viewport
    const to = {
      x: Math.min(width - 1, Math.max(1, this.#pointer.x + 140 * this.dice.normal('wander-x'))),
      y: Math.min(height - 1, Math.max(1, this.#pointer.y + 90 * this.dice.normal('wander-y'))),
    }
    if (this.recorded) {
      const p = reach(this.#pointer, to, this.#at(), 500, 0.1).slice(0, 12)
      this.#document.items.push({ at: p[0]![0], k: 'move', p })
    }
    this.#pointer = { x: Math.round(to.x), y: Math.round(to.y) }
    this.wait(500)
    this.#stillSinceMs = this.nowMs
  }

  #scrolled(): void {
    const depth = Math.min(1, (this.#top + this.#viewport.height) / this.#height)
    if (depth - this.#deepest < 0.05 && !(depth === 1 && this.#deepest < 1)) return
    this.#deepest = depth
    this.#line('scroll', { depth: Math.round(depth * 1000) / 1000, top: this.#top })
  }

  /** Tells of what has come into view: half of it, or as much as half the window. */
  #look(): void {
    const { height } = this.#viewport
    for (const element of worthSeeingOf(this.#elements)) {
      const { id, y, h } = element
      const visible = Math.min(y + h, this.#top + height) - Math.max(y, this.#top)
      if (this.#seen.has(id) || h <= 0 || visible < Math.min(h, height) / 2) continue
      this.#seen.add(id)
      this.#line('seen', { target: targetOf(element), y: Math.round(y) })
    }
  }

  /** What fingers do besides tapping. */
  gesture(
    name: 'zoom' | 'swipe',
    element: MeasuredElement,
    { rx, ry }: { rx: number; ry: number },
    props: Record<string, string | number>,
  ): void {
    const [x, y] = [Math.round(element.x + rx * element.w), Math.round(element.y + ry * element.h)]
    this.#line('gesture', { name, target: targetOf(element), x, y, rx, ry, props })
  }

  #device(): Device {
    const { width, height } = this.#viewport
    return { class: this.visitor.device, os: this.visitor.os, browser: this.visitor.browser, width, height }
  }

  #at(): number {
    return Math.max(0, Math.round(this.nowMs - this.#document.startMs))
  }

  #item(item: RecordItem extends infer I ? (I extends RecordItem ? Omit<I, 'at'> : never) : never): void {
    if (this.recorded) this.#document.items.push({ at: this.#at(), ...item })
  }

  #line(kind: Kind, more: Partial<Line>): void {
    const line: Line = {
      visitor: this.visitor.id,
      t: Math.round(this.nowMs),
      kind,
      id: `${this.#document.document}.${this.#serial++}`,
      ...more,
    }
    // What is told later than it happened stands where it happened.
    let at = this.lines.length
    while (at > 0 && this.lines[at - 1]!.t > line.t) at--
    this.lines.splice(at, 0, line)
  }
}

function targetOf(element: MeasuredElement) {
  const { selector, tag, text, interactive, w, h } = element
  return { selector, tag, text, interactive, w, h }
}

function renamed(
  changes: readonly (readonly [number, string])[] | undefined,
  texts: readonly string[],
): [number, string][] {
  return (changes ?? []).map(([id, text], i) => [id, texts[i] ?? text])
}
