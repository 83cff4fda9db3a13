/** How many sessions took each step where, whatever they had done before: a table of page groups, step by step. */
export interface StepCounts {
  groups: number
  /** by step, the place before (0: the moment, else its page group plus 1) and the place */
  links: Uint32Array
  /** by number of steps and the last place, as before: sessions with nothing further */
  ended: Uint32Array
}

/** Larger tables are not worth their room: few of their places would be met. */
const MOST = 2 ** 21

/** Nothing counted yet; undefined where there are so many page groups that a table would be too large. */
export function noSteps(groups: number, depth: number): StepCounts | undefined {
  const links = depth * (groups + 1) * groups
  if (links > MOST) return undefined
  return { groups, links: new Uint32Array(links), ended: new Uint32Array((depth + 1) * (groups + 1)) }
}

export function mergeSteps(a: StepCounts, b: StepCounts): StepCounts {
  if (a.groups !== b.groups) throw new RangeError('steps of different page groups cannot be merged')
  const sum = (one: Uint32Array, other: Uint32Array) => one.map((count, k) => count + other[k]!)
  return { groups: a.groups, links: sum(a.links, b.links), ended: sum(a.ended, b.ended) }
}

/** What was seen in one step. */
export interface StepLevel {
  /** by code */
  places: Map<number, { sessions: number; ended: number }>
  /** before 0 is the moment, else a code of the step before plus 1 */
  links: { before: number; code: number; sessions: number }[]
}

/** The steps that were taken by anyone. */
export function levelsOf({ groups, links, ended }: StepCounts): StepLevel[] {
  const depth = ended.length / (groups + 1) - 1
  const levels = Array.from({ length: depth }, (_, step): StepLevel => {
    const level: StepLevel = { places: new Map(), links: [] }
    let k = step * (groups + 1) * groups
    for (let before = 0; before <= groups; before++)
      for (let code = 0; code < groups; code++) {
        const sessions = links[k++]!
        if (sessions === 0) continue
        level.links.push({ before, code, sessions })
        const place = level.places.get(code)
        if (place) place.sessions += sessions
        else level.places.set(code, { sessions, ended: ended[(step + 1) * (groups + 1) + code + 1]! })
      }
    return level
  })
  return levels.filter(({ places }) => places.size > 0)
}
