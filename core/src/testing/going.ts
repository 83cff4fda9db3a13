import type { Line } from '../events/line.ts'
import { dice } from './dice.ts'

const DAY = 86_400_000

/** A session while it is made up: what happens on it, one after another. */
export class Going {
  readonly lines: Line[] = []
  constructor(
    readonly roll: () => number,
    private t: number,
    private readonly phone: boolean,
  ) {}

  add(kind: Line['kind'], more: Partial<Line> = {}): void {
    this.t += 800 + Math.floor(this.roll() * 2400)
    this.lines.push({ visitor: 'v', t: this.t, kind, ...more })
  }
  /** What is there as soon as what came before it. */
  atOnce(kind: Line['kind'], more: Partial<Line> = {}): void {
    this.t += 1
    this.lines.push({ visitor: 'v', t: this.t, kind, ...more })
  }
  page(url: string, more: Partial<Line> = {}): void {
    this.add('page', { url, device: { class: this.phone ? 'mobile' : 'desktop' }, load: 600, ...more })
  }
  click(selector: string, effect: 'none' | 'change' | 'navigate'): void {
    this.add('click', { target: { selector, tag: 'a', interactive: true }, effect })
  }
  fill(selector: string): void {
    this.add('input', { target: { selector, tag: 'input' }, length: 5, ms: 1000 })
  }
  leave(): Line[] {
    this.add('leave', { ms: 1000 })
    return this.lines
  }
}

/** Sessions over sixty days, two of five on phones. */
export function world(
  count: number,
  seed: number,
  live: (going: Going, day: number, phone: boolean) => Line[],
): Line[][] {
  const roll = dice(seed)
  return Array.from({ length: count }, (_, i) => {
    const day = Math.floor((60 * i) / count)
    const phone = roll() < 0.4
    return live(new Going(roll, day * DAY + (i % 1000) * 60_000, phone), day, phone)
  })
}

/** From the product on: three of four go through, whatever happened before. */
export function buy(going: Going): Line[] {
  going.page('/basket')
  if (going.roll() < 0.25) return going.leave()
  going.click('a.pay', 'navigate')
  going.page('/done')
  return going.leave()
}

/** From the product on: to the basket, and through where they pay. */
export function buyIf(going: Going, pays: boolean): Line[] {
  going.page('/basket')
  if (pays) going.page('/done')
  return going.leave()
}
