import type { Dictionaries } from '../columns/dictionaries.ts'
import type { ElementFamilies } from './element-families.ts'
import type { EventCondition } from './event-condition.ts'
import type { Money } from './money.ts'
import type { PageGroups } from './page-groups.ts'
import type { StrainWeights } from './strain-weights.ts'

/** What the codes of a block mean: needed to turn names in a question into codes. */
export interface Names {
  dictionaries: Dictionaries
  groups: PageGroups
  families: ElementFamilies
  /** actions that the site has named, and what events they are */
  actions?: ReadonlyMap<string, EventCondition> | undefined
  /** those of them that are signals of the site's own: they count as friction */
  ownSignals?: readonly string[] | undefined
  /** the currency that amounts are counted in, and what others are worth; where it is missing all count as one */
  money?: Money | undefined
  /** how hard signals are; where it is missing as they are by default */
  strain?: StrainWeights | undefined
}
