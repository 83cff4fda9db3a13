import type { Line } from '../../core/src/index.ts'

/** Numbers from 0 to below 1 that are the same for the same words, whatever else is drawn: so a visitor can live twice. */
export function rolled(...words: (string | number)[]): number {
  let x = 2_166_136_261
  for (const sign of words.join('|')) x = Math.imul(x ^ sign.charCodeAt(0), 16_777_619)
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d)
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b)
  return ((x ^ (x >>> 16)) >>> 0) / 4_294_967_296
}

/** Standard normal (Box and Muller). */
export function normal(...words: (string | number)[]): number {
  const radius = Math.sqrt(-2 * Math.log(rolled(...words, 'radius') + 1e-12))
  return radius * Math.cos(2 * Math.PI * rolled(...words, 'angle'))
}

/** Who visits: traits in standard deviations that no data show. */
export interface Person {
  want: number
  patience: number
  /** looks at more, takes longer */
  curious: number
  mobile: boolean
  /** a low screen */
  small: boolean
  browser: 'Safari' | 'Chrome' | 'Firefox'
}

/** A session while it is lived: what happens, one after another. */
export class Visit {
  readonly lines: Line[] = []
  url = ''
  over = false
  won = false
  consented = false
  #t: number

  /**
   * @param roll      numbers of this session by name
   * @param strength  of faults by name, 0 = there is none
   */
  constructor(
    readonly person: Person,
    readonly roll: (...words: (string | number)[]) => number,
    readonly strength: (fault: string) => number,
    startMs: number,
    /** days since the period began */
    readonly day: number,
    private readonly hazard: number,
  ) {
    this.#t = startMs
  }

  say(kind: Line['kind'], more: Partial<Line> = {}): void {
    this.lines.push({ visitor: '', t: Math.round(this.#t), kind, url: this.url, ...more })
  }
  pass(ms: number): void {
    this.#t += ms
  }
  page(url: string, more: Partial<Line> = {}): void {
    this.url = url
    const { mobile, small, browser } = this.person
    const device = {
      ...{ class: mobile ? ('mobile' as const) : ('desktop' as const), browser },
      ...{ width: mobile ? 390 : 1280, height: small ? 560 : mobile ? 800 : 720 },
    }
    const load = Math.round(600 + 800 * this.roll('load', this.lines.length))
    this.say('page', { load, ...(this.lines.length ? {} : { device }), ...more })
  }
  click(selector: string, effect: 'none' | 'change' | 'navigate', tag = 'button', afterMs = 500): void {
    const interactive = tag !== 'div' && tag !== 'img'
    const rx = 0.2 + 0.6 * this.roll('rx', this.lines.length)
    const place = { x: 200, y: 300, rx, ry: 0.5 }
    this.say('click', { target: { selector, tag, interactive, w: 120, h: 36 }, ...place, effect })
    this.pass(afterMs)
  }
  seen(selector: string, tag = 'a'): void {
    this.say('seen', { target: { selector, tag, interactive: true }, y: 400 })
  }
  fill(selector: string, ms: number, corrections = 0): void {
    this.say('input', { target: { selector, tag: 'input' }, length: 9, corrections, ms })
  }
  /** Stays for about so many seconds, unless they leave meanwhile, which may be at any moment; says whether they stayed. */
  stay(seconds: number, name: string, push = 0): boolean {
    const { want, curious } = this.person
    const wanted = seconds * (0.3 + 1.4 * this.roll('think', name)) * Math.exp(0.2 * curious)
    const gone = -Math.log(1 - this.roll('leave', name)) / (this.hazard * Math.exp(push - 0.5 * want))
    this.pass(1000 * Math.min(wanted, gone))
    if (gone < wanted) this.over = true
    return !this.over
  }
  /** Whether they give up over a trouble of such a weight. */
  quits(weight: number, name: string): boolean {
    const { want, patience } = this.person
    if (this.roll('quit', name) >= Math.min(0.97, weight * Math.exp(-0.4 * want - 0.4 * patience)))
      return false
    this.pass(3000)
    return (this.over = true)
  }
}

/** A kind of site with faults whose cost is known, since the same visitors live there without them as well. */
export interface OtherWorld {
  name: string
  groups: readonly string[]
  goal: `page ${string}` | `action ${string}`
  /** how soon people leave who want nothing in particular, per second */
  hazard: number
  /** by fault the candidates that tell of it: page and what, and a part of the selector where that is not enough; any of these */
  faults: Readonly<Record<string, readonly `${string}: ${string}`[]>>
  live: (visit: Visit) => void
}
