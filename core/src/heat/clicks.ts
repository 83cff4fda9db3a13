import { FRICTION, KIND } from '../events/loose.ts'
import { rowOf } from '../events/columns.ts'
import type { ClickSort } from '../closeup/selection.ts'
import type { Rate } from '../funnel/funnel.ts'
import { rate } from '../funnel/funnel.ts'
import type { Names } from '../funnel/trace.ts'
import type { Analysis } from '../sets/analysis.ts'
import { addCounts } from '../sets/analysis.ts'

export interface ClickHeatSpec {
  page: string
  which: ClickSort
  names: Names
}

/** Where inside an element clicks fell: cells of a GRID × GRID raster, row by row, as [cell, clicks] pairs. */
export const GRID = 32

interface ElementPartial {
  /** what stands on its members, with how many clicks each */
  texts: Map<string, number>
  clicks: number
  rage: number
  dead: number
  sessions: number
  /** by exact selector, since each member of a family lies elsewhere */
  spots: Map<string, SpotPartial>
}

interface SpotPartial {
  cells: Map<number, number>
  /** clicks whose place inside the element is not known: "x,y" on the page */
  loose: Map<string, number>
}

export interface ClickHeatPartial {
  viewers: number
  clickers: number
  elements: Map<string, ElementPartial>
}

export interface HeatElement {
  /** family of elements */
  selector: string
  /** what stands on it; of a family with several texts the most clicked */
  text: string
  /** how many texts its members have */
  texts: number
  clicks: number
  rage: number
  dead: number
  /** sessions that clicked it, of those that saw the page */
  rate: Rate
  /** the members of the family that were clicked, and where */
  spots: {
    selector: string
    cells: [cell: number, clicks: number][]
    loose: [x: number, y: number, clicks: number][]
  }[]
}

export interface ClickHeatResult {
  viewers: number
  clickers: Rate
  clicks: number
  elements: HeatElement[]
}

/**
 * Clicks on one page by element, with their place inside the element, so that they can be laid over the page at any
 * width. `which` keeps all clicks, those in rage bursts, or those without effect.
 */
export const clickHeat: Analysis<ClickHeatSpec, ClickHeatPartial, ClickHeatResult> = {
  scan(block, sessions, { page: pageName, which, names }) {
    const group = names.groups.find(pageName)
    const { kind, page, target, text, friction, hasPoint, pointsBefore } = block.events
    const { rx, ry, x, y } = block.points
    const partial: ClickHeatPartial = { viewers: 0, clickers: 0, elements: new Map() }
    for (const s of sessions) {
      let saw = false
      const touched = new Set<string>()
      for (let i = block.sessions.firstEvent[s]!; i < block.sessions.firstEvent[s + 1]!; i++) {
        if (names.groups.groupOf[page[i]!] !== group) continue
        if (kind[i] === KIND.page) saw = true
        if (kind[i] !== KIND.click) continue
        saw = true
        if (which !== 'all' && !(friction[i]! & FRICTION[which])) continue
        const selector = names.families.names[names.families.familyOf[target[i]!]!]!
        const element = elementOf(partial.elements, selector)
        addCounts(element.texts, new Map([[names.dictionaries.text.values[text[i]!]!, 1]]))
        element.clicks++
        if (friction[i]! & FRICTION.rage) element.rage++
        if (friction[i]! & FRICTION.dead) element.dead++
        if (!touched.has(selector)) {
          touched.add(selector)
          element.sessions++
        }
        const spot = spotOf(element.spots, names.dictionaries.target.values[target[i]!]!)
        const row = rowOf(hasPoint, pointsBefore, i)
        if (row < 0) continue
        if (Number.isNaN(rx[row]!) || Number.isNaN(ry[row]!)) {
          if (Number.isNaN(x[row]!) || Number.isNaN(y[row]!)) continue
          const place = `${Math.round(x[row]!)},${Math.round(y[row]!)}`
          spot.loose.set(place, (spot.loose.get(place) ?? 0) + 1)
          continue
        }
        const cell = cellOf(ry[row]!) * GRID + cellOf(rx[row]!)
        spot.cells.set(cell, (spot.cells.get(cell) ?? 0) + 1)
      }
      if (saw) partial.viewers++
      if (touched.size) partial.clickers++
    }
    return partial
  },

  merge(a, b) {
    const elements = new Map<string, ElementPartial>()
    for (const [selector, element] of [...a.elements, ...b.elements]) {
      const into = elementOf(elements, selector)
      addCounts(into.texts, element.texts)
      into.clicks += element.clicks
      into.rage += element.rage
      into.dead += element.dead
      into.sessions += element.sessions
      for (const [exact, spot] of element.spots) {
        const target = spotOf(into.spots, exact)
        addCounts(target.cells, spot.cells)
        addCounts(target.loose, spot.loose)
      }
    }
    return { viewers: a.viewers + b.viewers, clickers: a.clickers + b.clickers, elements }
  },

  finish(total) {
    const elements = [...total.elements].map(([selector, element]) => ({
      selector,
      text: [...element.texts].sort(([a, m], [b, n]) => n - m || a.localeCompare(b))[0]?.[0] ?? '',
      texts: element.texts.size,
      clicks: element.clicks,
      rage: element.rage,
      dead: element.dead,
      rate: rate(element.sessions, total.viewers),
      spots: [...element.spots]
        .sort(([a], [b]) => a.localeCompare(b))
        .map(([exact, spot]) => ({
          selector: exact,
          cells: [...spot.cells].sort(([a], [b]) => a - b),
          loose: [...spot.loose].map(([place, n]): [number, number, number] => {
            const [x, y] = place.split(',').map(Number)
            return [x!, y!, n]
          }),
        })),
    }))
    return {
      viewers: total.viewers,
      clickers: rate(total.clickers, total.viewers),
      clicks: elements.reduce((sum, element) => sum + element.clicks, 0),
      elements: elements.sort((a, b) => b.clicks - a.clicks || a.selector.localeCompare(b.selector)),
    }
  },
}

function cellOf(share: number): number {
  return Math.min(GRID - 1, Math.floor(share * GRID))
}

function elementOf(elements: Map<string, ElementPartial>, selector: string): ElementPartial {
  let element = elements.get(selector)
  if (!element) {
    element = { texts: new Map(), clicks: 0, rage: 0, dead: 0, sessions: 0, spots: new Map() }
    elements.set(selector, element)
  }
  return element
}

function spotOf(spots: Map<string, SpotPartial>, selector: string): SpotPartial {
  let spot = spots.get(selector)
  if (!spot) {
    spot = { cells: new Map(), loose: new Map() }
    spots.set(selector, spot)
  }
  return spot
}
