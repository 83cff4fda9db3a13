import { on } from '../listen.ts'
import { Effects } from './effects/effects.ts'
import { watchForms } from './forms.ts'
import { watchFreezes } from './freezes.ts'
import { watchGestures } from './gestures.ts'
import type { MorePage } from './more-page.ts'
import { Seen } from './seen.ts'
import { Styles } from './styles.ts'

const LAYER = 'data-trail-layer'

/** What is loaded once the page stands: too large for the first script, and needed by nobody before. */
export function watchMore(page: MorePage): { effects: Effects; seen: Seen; styles: Styles } {
  watchGestures(page)
  watchFreezes(page)
  const effects = new Effects()
  watchForms(page, effects)
  on(document, 'toggle' as never, ({ target }: Event) => {
    const id = target instanceof Element && page.recorder.idOf(target)
    if (id) page.recorder.change({ attr: [[id, LAYER, page.layerOf(target)]] })
  })
  return { effects, seen: new Seen(page), styles: new Styles(page) }
}
