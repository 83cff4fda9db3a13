import type { describe } from '../describe.ts'
import type { Page } from '../page.ts'
import type { safeCss } from '../privacy/attributes.ts'
import type { hasRules, layerOf } from '../serialise.ts'

/** What this part has of the first one: it knows nothing itself of what was typed and what may be seen. */
export interface MorePage extends Pick<Page, 'send' | 'causes' | 'recorder'> {
  describe: typeof describe
  hasRules: typeof hasRules
  layerOf: typeof layerOf
  safeCss: typeof safeCss
}
