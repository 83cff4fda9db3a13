import type { MeasuredElement } from '../layout.ts'
import type { Intent, Mind } from './population.ts'
import type { DecoyName, FaultName, Scenario } from './scenario.ts'
import type { Conversion, Visit } from './visit.ts'

/** One session as its visitor lives it: what they are like, what they came for, and what the site does to them. */
export interface Stay {
  visit: Visit
  mind: Mind
  intent: Intent
  scenario: Scenario
  /** share of the period that has passed when the session begins */
  when: number
  channel: string
  campaign: string | undefined
  nightsSeen: number
  itemsSeen: number
  articlesSeen: number
  searched: boolean
  guests: { adults: number; children: number }
  converted: Conversion | null
}

/** Where a visitor goes from a page: an address; undefined where they leave. */
export type Next = string | undefined

/** How strongly a fault troubles this visitor at this place; 0 where it does not. */
export function trouble({ visit, scenario, when, channel }: Stay, name: FaultName, spot: string): number {
  const { on, spot: planted, strength, scope } = scenario.faults[name]
  const { device, browser } = visit.visitor
  const hit =
    on &&
    planted === spot &&
    (scope.devices?.includes(device) ?? true) &&
    (scope.browsers?.includes(browser) ?? true) &&
    (scope.channels?.includes(channel) ?? true) &&
    when >= (scope.from ?? 0) &&
    when < (scope.to ?? 1.01)
  return hit ? strength : 0
}

/** Whether a visitor gives up over a fault: by its strength, and the less patient and able the sooner. */
export function givesUp({ visit, mind }: Stay, name: FaultName, strength: number, logOdds: number): boolean {
  const odds = logOdds + Math.log(strength) - 0.5 * mind.skill - 0.6 * mind.patience
  return visit.dice.chance(`gives up: ${name}`, likely(odds))
}

/** How often a decoy comes up, against the design's; 0 where it is switched off. */
export function decoy({ scenario }: Stay, name: DecoyName): number {
  const { on, often } = scenario.decoys[name]
  return on ? often : 0
}

/** Presses something that does nothing, once or many times over. */
export function pressInVain(
  { visit, mind }: Stay,
  decision: string,
  element: MeasuredElement,
  at = visit.aim(element),
): void {
  const { dice } = visit
  const most = mind.patience < -0.5 ? 1.6 : 1
  const times = dice.pick(`${decision}: presses`, [
    [1, 42],
    [2, 22],
    [3, 18 * most],
    [4, 12 * most],
    [6, 6 * most],
  ])
  for (let i = 0; i < times; i++) {
    visit.click(element, at, 'none')
    visit.wait(dice.time(`${decision}: again`, times > 2 ? 240 : 1400, 0.25))
  }
  visit.wait(dice.time(`${decision}: puzzled`, 1600))
}

/** Follows a link of the page. */
export function follow(visit: Visit, href: string): Next {
  visit.press(visit.link(href), 'navigate')
  return href
}

/** Clicks on text while reading, as those do who follow the words with the pointer. A decoy. */
export function clickText(stay: Stay): void {
  const { visit, mind } = stay
  const often = decoy(stay, 'textClicks')
  if (!visit.dice.chance('clicks text', Math.min(0.9, often * likely(-1.9 + 0.9 * mind.habit)))) return
  const texts = visit.all(
    ({ tag, selector, w, h }) => tag === 'p' && /main/.test(selector) && w > 60 && h > 20,
  )
  if (!texts.length || !often) return
  visit.met.add('textClicks')
  const text = texts[Math.floor(visit.dice.roll('which text') * texts.length)]!
  const at = visit.aim(text)
  for (let i = visit.dice.whole('text presses', 1, 3); i > 0; i--) {
    visit.click(text, at, 'none')
    visit.wait(visit.dice.time('text again', 900, 0.6))
  }
}

/** The weather box fails in one browser and harms nobody. A decoy. */
export function weatherBox(stay: Stay): void {
  const { visit } = stay
  if (visit.visitor.browser !== 'Safari') return
  if (!visit.dice.chance('widget fails', Math.min(0.95, 0.7 * decoy(stay, 'widgetError')))) return
  visit.met.add('widgetError')
  visit.report('error', {
    message: "TypeError: undefined is not an object (evaluating 'forecast.wind')",
    source: 'http://127.0.0.1:4181/widget/weather.js',
    line: 3,
    column: 47,
  })
}

/** Probability from log-odds. */
export function likely(logOdds: number): number {
  return 1 / (1 + Math.exp(-logOdds))
}

/** A place within an element, as a share, never on its very edge. */
export function within(share: number): number {
  return Math.min(0.99, Math.max(0.01, share))
}
