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
  /** what troubles have left behind: log odds by which later steps are less likely */
  annoyed: number
  /** gave up and goes on by another way; comes back another day */
  around: boolean
  delayed: boolean
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
export function givesUp(stay: Stay, name: FaultName, strength: number, logOdds: number): boolean {
  const { visit, mind, scenario } = stay
  const { traits, lasting, around, delay } = scenario.causes
  const odds =
    logOdds + Math.log(strength) - 0.5 * mind.skill - 0.6 * mind.patience + (traits ? 0.4 * mind.urgent : 0)
  if (!visit.dice.chance(`gives up: ${name}`, likely(odds))) {
    if (lasting) stay.annoyed += Math.min(1, 0.4 * strength)
    return false
  }
  if (around && visit.dice.chance(`goes around: ${name}`, 0.35)) stay.around = true
  else if (delay && visit.dice.chance(`puts off: ${name}`, 0.35)) stay.delayed = true
  return true
}

/** By how much a step is likelier than for the plain visitor: what they are like, and what has annoyed them. */
export function leaning(
  { mind, scenario, annoyed }: Stay,
  weights: { thorough?: number; urgent?: number; budget?: number },
): number {
  if (!scenario.causes.traits) return -annoyed
  const { thorough = 0, urgent = 0, budget = 0 } = weights
  return thorough * mind.thorough + urgent * mind.urgent + budget * mind.budget - annoyed
}

/** Who can spend little looks elsewhere and comes back, again and again. A decoy. */
export function wavers(stay: Stay): void {
  const { visit, mind, scenario } = stay
  if (!scenario.causes.hesitant || !visit.dice.chance('wavers', likely(-1.5 - 1.2 * mind.budget))) return
  for (let i = visit.dice.whole('times away', 2, 4); i > 0; i--) {
    visit.away(visit.dice.time('looks elsewhere', 15_000, 0.7))
    visit.wait(visit.dice.time('looks again', 2500))
  }
}

/** Who is thorough clicks on what they read and writes things twice. A decoy. */
export function ponders(stay: Stay): boolean {
  const { visit, mind, scenario } = stay
  return scenario.causes.hesitant && visit.dice.chance('ponders over', likely(-1.6 + 1.1 * mind.thorough))
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
  const about = mind.habit + (stay.scenario.causes.hesitant ? 0.7 * mind.thorough - 0.5 * mind.budget : 0)
  if (!visit.dice.chance('clicks text', Math.min(0.9, often * likely(-1.9 + 0.9 * about)))) return
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
