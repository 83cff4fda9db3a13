import type { Alike } from './alike.ts'
import type { Found } from './cases.ts'
import type { Outlook } from './outlook.ts'
import type { Stages } from './stages.ts'

/** What pricing works with, made once for all candidates. */
export interface Site extends Pick<Alike, 'kindOf' | 'membersOf' | 'nameOf'> {
  stages: Stages
  outlook: Outlook
  found: Found
  viewsOf: ReadonlyMap<number, number[]>
  /** steps still to go after carrying on from a page */
  stepsFrom(group: number): number
}
