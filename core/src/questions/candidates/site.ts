import type { Found } from './cases.ts'
import type { Outlook } from './outlook.ts'
import type { Stages } from './stages.ts'

/** What pricing works with, made once for all candidates. */
export interface Site {
  stages: Stages
  outlook: Outlook
  found: Found
  viewsOf: ReadonlyMap<number, number[]>
  /** the name of a family, or of elements that are alike; see cases.ts */
  nameOf(family: number): string
  /** steps still to go after carrying on from a page */
  stepsFrom(group: number): number
}
