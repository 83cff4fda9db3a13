import type { Scan } from '../columns/scan.ts'
import type { Names } from '../labels/names.ts'
import type { PathSelection, Selection, VisitorMoments } from './grammar/conditions.ts'
import { placeText } from './grammar/walk.ts'
import { pathStarts } from './path-sessions.ts'
import { selectSessions } from './sessions.ts'
import type { VisitorSteps } from './visitor-walks.ts'
import { eachVisitorPath, joinSteps, VisitorStepsFound } from './visitor-walks.ts'

export interface VisitorPathsSpec {
  selection: PathSelection
  names: Names
}

/** While blocks are read, and once it is handed over. */
interface Found {
  gathering?: VisitorStepsFound
  steps?: VisitorSteps
}

const stepsOf = ({ gathering, steps }: Found) => steps ?? gathering!.steps()

/** The visitors who walked a path over their sessions, each by one session: that in which the path was complete. */
export const visitorPaths: Scan<VisitorPathsSpec, Found, VisitorMoments> = {
  name: 'visitor-paths',
  adds: true,

  scan(block, among, { selection, names }, onto = { gathering: new VisitorStepsFound() }) {
    const select = (from: Selection) => selectSessions(block, among, from, names)
    const { start, walker } = pathStarts(block, among, selection, selection.walk!, names, select)
    onto.gathering!.add(block, among, start, walker)
    return onto
  },
  pack: (found) => ({ steps: stepsOf(found) }),
  merge: (a, b) => ({ steps: joinSteps(stepsOf(a), stepsOf(b)) }),

  finish(found, { selection: { parts, ended, walk, direction } }) {
    const steps = stepsOf(found)
    const codes = new Map(steps.places.map((place, k) => [placeText(place), k]))
    const wanted = parts.map((part) =>
      part === null
        ? -1
        : (codes.get(placeText(typeof part === 'string' ? { kind: 'page', page: part } : part)) ?? -2),
    )
    const base: number[] = []
    const moments: { session: number; event: number }[] = []
    /** of the visitor that is looked at: the session by which it is counted, and where a path of it was complete */
    let session: number | undefined
    let complete: { session: number; event: number } | undefined
    const close = () => {
      if (complete) moments.push(complete)
      if (session !== undefined) base.push(complete?.session ?? session)
      complete = undefined
    }
    const idOf = (index: number) => steps.session[index]!
    eachVisitorPath(steps, walk!, direction, parts.length, (path, isFirst) => {
      if (isFirst) {
        close()
        session = idOf(path.session)
      }
      // One of several paths is enough.
      if (complete) return
      let walked = 0
      let moment = { session: idOf(path.session), event: 0 }
      const goesOn = path.walk((code, at, event) => {
        if (wanted[walked] !== -1 && code !== wanted[walked]) return false
        walked++
        moment = { session: idOf(at), event }
        return true
      })
      if (walked === parts.length && !(ended && goesOn)) complete = moment
    })
    close()
    moments.sort((one, other) => one.session - other.session)
    return {
      sessions: Float64Array.from(moments, (moment) => moment.session),
      events: Uint32Array.from(moments, ({ event }) => event),
      base: Float64Array.from(base).sort(),
    }
  },
}
