import type { describe } from '../describe.ts'
import type { Page } from '../page.ts'
import { Effects } from './effects/effects.ts'
import { watchFreezes } from './freezes.ts'
import { watchGestures } from './gestures.ts'
import { Seen } from './seen.ts'

/**
 * What is loaded once the page stands: too large for the first script, and needed by nobody before. It holds no text of
 * the page and knows nothing of what was typed: elements are described by the first part alone.
 */
export interface MorePage {
  send: Page['send']
  describe: typeof describe
}

export function watchMore(page: MorePage): { effects: Effects; seen: Seen } {
  watchGestures(page)
  watchFreezes(page)
  return { effects: new Effects(), seen: new Seen(page) }
}
