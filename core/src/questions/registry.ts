import * as all from './all.ts'
import type { AnyScan } from '../columns/scan.ts'
import { leakErrors } from '../select/chains/leak-errors.ts'
import { visitorMoments } from '../select/chains/visitor-moments.ts'
import { visitorWays } from '../select/chains/visitor-ways.ts'
import { sessionCount } from '../select/session-count.ts'
import { visitorPaths } from '../select/visitor-paths.ts'
import { worstSpots } from './friction/worst-spots.ts'
import type { AnyQuestion } from './question.ts'

/** Scans that other questions need and nobody asks for by themselves. */
const INNER: AnyScan[] = [leakErrors, sessionCount, visitorMoments, visitorPaths, visitorWays, worstSpots]

/** Questions by name, and the scans that threads run for them. */
export class Registry {
  readonly questions: readonly AnyQuestion[]
  readonly #scans: ReadonlyMap<string, AnyScan>

  /** @throws RangeError where two have the same name */
  constructor(questions: readonly AnyQuestion[], inner: readonly AnyScan[] = INNER) {
    this.questions = questions
    this.#scans = new Map([...questions, ...inner].map((scan) => [scan.name, scan]))
    if (this.#scans.size < questions.length + inner.length)
      throw new RangeError('two questions have the same name')
  }

  /** @throws RangeError where none has this name */
  scan(name: string): AnyScan {
    const scan = this.#scans.get(name)
    if (!scan) throw new RangeError(`there is no scan "${name}"`)
    return scan
  }
}

/** The questions of the product. */
export const registry = new Registry(Object.values(all))
