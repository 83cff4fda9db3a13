import type { Block } from '../columns/block.ts'
import type { SessionSet } from '../columns/session-set.ts'
import type { Names } from '../labels/names.ts'
import type { Selection } from './grammar/conditions.ts'
import type { SelectedSessions } from './selected-sessions.ts'
import { empty } from './selected-sessions.ts'

/** Pages that are gone through again and again in the same order: from two, which is a shuttle, up to so many. */
export const MOST_IN_LOOP = 5

/** A stretch of views that goes round the same pages at least twice. */
export interface Loop {
  /** index of its first view and of its last one, views of one page after another being one */
  first: number
  last: number
  /** how many pages one round has */
  pages: number
}

/**
 * The stretches of a sequence, no two neighbours of which are equal, that go round the same places at least twice: all
 * maximal repetitions with a shortest period from 2 to MOST_IN_LOOP. In order of where they begin, then of their period.
 * Complexity: length × MOST_IN_LOOP.
 *
 * @see Kolpakov, Kucherov (1999), maximal repetitions in words (from memory); periods are few here, so each is tried
 */
export function findLoops(sequence: ArrayLike<number>): Loop[] {
  const loops: Loop[] = []
  for (let pages = 2; pages <= MOST_IN_LOOP; pages++) {
    let run = 0
    for (let i = pages; i <= sequence.length; i++) {
      if (i < sequence.length && sequence[i] === sequence[i - pages]) {
        run++
        continue
      }
      const first = i - run - pages
      if (run >= pages && isShortest(sequence, first, pages)) loops.push({ first, last: i - 1, pages })
      run = 0
    }
  }
  return loops.sort((a, b) => a.first - b.first || a.pages - b.pages)
}

/** Whether a round is not itself made of shorter rounds. */
function isShortest(sequence: ArrayLike<number>, first: number, pages: number): boolean {
  for (let shorter = 1; shorter <= pages / 2; shorter++) {
    if (pages % shorter) continue
    let same = true
    for (let i = first + shorter; i < first + pages && same; i++) same = sequence[i] === sequence[i - shorter]
    if (same) return false
  }
  return true
}

/** The same round wherever it is entered: the one of its turns that comes first, number by number. */
export function turned(sequence: ArrayLike<number>, { first, pages }: Loop): number[] {
  const round = Array.from({ length: pages }, (_, k) => sequence[first + k]!)
  const turns = round.map((_, k) => [...round.slice(k), ...round.slice(0, k)])
  return turns.sort((a, b) => {
    const at = a.findIndex((one, k) => one !== b[k])
    return at < 0 ? 0 : a[at]! - b[at]!
  })[0]!
}

/** The page groups that a session viewed one after the other, views of one after another being one, and where each began. */
export class FoldedViews {
  readonly groups: number[] = []
  /** index of the view */
  readonly views: number[] = []

  read({ sessions, views }: Block, s: number, groupOf: Uint32Array): void {
    this.groups.length = 0
    this.views.length = 0
    for (let v = sessions.firstView[s]!; v < sessions.firstView[s + 1]!; v++) {
      const group = groupOf[views.page[v]!]!
      if (group === this.groups[this.groups.length - 1]) continue
      this.groups.push(group)
      this.views.push(v)
    }
  }
}

/** Sessions that went round these pages at least twice; the moment is the view with which the second round begins. */
export function selectLoop(
  block: Block,
  among: SessionSet,
  { pages }: Extract<Selection, { type: 'loop' }>,
  { groups }: Names,
): SelectedSessions {
  const chosen = empty(block)
  chosen.base = among
  const codes = pages.map((page) => groups.find(page))
  if (codes.includes(-1)) return chosen
  const wanted = turned(codes, { first: 0, last: 0, pages: codes.length }).join()
  const folded = new FoldedViews()
  for (const s of among) {
    folded.read(block, s, groups.groupOf)
    const loop = findLoops(folded.groups).find(
      (one) => one.pages === codes.length && turned(folded.groups, one).join() === wanted,
    )
    if (!loop) continue
    chosen.sessions.add(s)
    chosen.event[s] = block.views.event[folded.views[loop.first + loop.pages]!]!
  }
  return chosen
}
